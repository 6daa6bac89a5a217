from dataclasses import replace
from typing import Any

import pytest

from elumbra.core.errors import CoreError, ReadingError
from elumbra.core.film import Film
from elumbra.core.glass import Curve, GlassType, Position, Side, WindowKind
from elumbra.core.law import RegisteredAs, VehicleClass, VerdictWord
from elumbra.core.light import Glass, GlassSource
from elumbra.core.measure import Level, MeasuredPane, Measures
from elumbra.core.work import (
    Coverage,
    Job,
    ProposalKind,
    Reason,
    ReasonKind,
    Tried,
    Vehicle,
    Window,
    WindowShade,
    check_reason,
    darkest_that_clears,
    look_over,
    measure_window,
    nearest_match,
    pane_facts,
    propose,
    resolve_same_glass,
    shade_car,
    shades_by_film,
)
from tests.catalogue.law import LAW
from tests.catalogue.panes import QUADS, SIX, film, readings, starting, true_lengths
from tests.effort import sample

START = starting()
VEHICLE = Vehicle(
    label="Test sedan", vehicle_class=VehicleClass.PASSENGER, states=("FL",), mirrors_both_sides=True, model_year=2020
)
DOOR = {key: true_lengths(QUADS["front door"])[key] for key in SIX}


def window(name: str, **over: object) -> Window:
    """A door window; ``bare``, ``is_strip`` and readings may be given as the core's own values."""
    given: dict[str, object] = {
        "id": name, "label": name, "position": Position.FRONT_SIDE, "side": Side.DRIVER, "kind": WindowKind.FRAMED_DOOR,
    }  # fmt: skip
    measured = {key: over.pop(key) for key in ("level", "figure", "curve", "readings") if key in over}
    glass = over.pop("bare", Glass(0.75, GlassSource.METERED))
    if over.pop("is_strip", False):
        given["coverage"] = Coverage.STRIP
    if isinstance(glass, Glass):
        given |= {
            "bare_vlt_percent": round(100 * glass.vlt, 9), "bare_vlt_source": glass.source,
            "bare_vlt_through_old_film": glass.through_old_film,
        }  # fmt: skip
    return Window(**(given | over), measures=Measures(**measured))  # type: ignore[arg-type]


def vehicle(*states: str, **over: object) -> Vehicle:
    given: dict[str, object] = {"label": "v", "vehicle_class": VehicleClass.PASSENGER, "states": states}
    return Vehicle(**(given | over))  # type: ignore[arg-type]


def panes_of(plan: Job) -> dict[str, MeasuredPane]:
    """Every pane of a car, as it is looked over."""
    return dict(look_over(plan, LAW, starting=START).panes)


def shades_of(plan: Job) -> dict[str, WindowShade]:
    """Every window's shade, as the car is looked over."""
    return dict(look_over(plan, LAW, starting=START).shades)


def job(*windows: Window, films: tuple[Film, ...] = (film(),)) -> Job:
    return Job(VEHICLE, windows, {one.id: one for one in films})


def test_other_side_of_the_car_is_the_mirror_image() -> None:
    pair = job(
        window("df", readings=readings(DOOR), level=Level.SHAPE),
        window("pf", side=Side.PASSENGER, same_as="df", same_as_mirrored=True),
    )
    measured = panes_of(pair)
    driver, passenger = measured["df"].outline, measured["pf"].outline
    assert driver is not None
    assert passenger is not None
    assert passenger.area == pytest.approx(driver.area)
    highest = {
        name: outline.ring[outline.ring[:, 1].argmax(), 0] for name, outline in (("d", driver), ("p", passenger))
    }
    assert highest["d"] == pytest.approx(driver.width - highest["p"], abs=0.01)


def test_same_glass_twice_removed_is_turned_twice() -> None:
    chain = (
        window("a", readings=readings(DOOR), level=Level.SHAPE),
        window("b", same_as="a", same_as_mirrored=True),
        window("c", same_as="b", same_as_mirrored=True),
    )
    once = resolve_same_glass(chain)
    assert [once[name].mirrored for name in "abc"] == [False, True, False]
    assert resolve_same_glass(tuple(once.values())) == once, "resolving again changes nothing"


def test_a_circle_of_same_glass_is_refused() -> None:
    with pytest.raises(CoreError, match="refers to itself"):
        resolve_same_glass((window("a", same_as="b"), window("b", same_as="a")))
    with pytest.raises(CoreError, match="not in this job"):
        resolve_same_glass((window("a", same_as="gone"),))


def test_impossible_reading_names_its_window() -> None:
    with pytest.raises(ReadingError, match=r"^Left door: "):
        measure_window(window("x", label="Left door", readings=readings({"width": -1.0})), starting=START)


def test_shade_has_one_verdict_a_state_and_none_without_film() -> None:
    several = Job(vehicle("TX", "FL", "NH"), (window("a", film_id="f"), window("b")), {"f": film()})
    shades = shades_of(several)
    assert [v.jurisdiction for v in shades["a"].verdicts] == ["TX", "FL", "NH"]
    assert shades["a"].worst is not None
    assert shades["a"].worst.word is VerdictWord.NOT_ALLOWED
    assert shades["b"].verdicts == ()
    assert shades["b"].combined is not None
    assert shades["b"].combined.vlt == 0.75


def tried(car: Job, window_id: str, films: list[Film]) -> list[Tried]:
    return shades_by_film(shade_car(car, starting=START), window_id, films, LAW, starting=START)


def test_darkest_that_clears_skips_close_and_dark() -> None:
    """Florida front 28: 35 on 75 gives 29.2 (close), 50 gives 41.7 (clears), 70 clears and is lighter."""
    stock = [film(v, id=str(v), reflectance=0.05) for v in (0.70, 0.20, 0.50, 0.35)]
    found = darkest_that_clears(tried(job(window("a")), "a", stock))
    assert found is not None
    assert found.id == "0.5"
    assert darkest_that_clears(tried(job(window("a", bare=None)), "a", stock)) is None


def test_nearest_match_is_the_nearest_that_clears() -> None:
    """Wanted 20: 35 gives 29.2 but is close; 50 (41.7) is the nearest that clears."""
    stock = [film(v, id=str(v), reflectance=0.05) for v in (0.70, 0.20, 0.50, 0.35)]
    found = nearest_match(tried(job(window("a")), "a", stock), 0.20)
    assert found is not None
    assert found.id == "0.5"


def test_a_film_that_makes_another_window_unlawful_does_not_clear() -> None:
    """Colorado: the rear at 20 is lawful by fronts at 70; film on a front takes that away."""
    rear = window("rear", position=Position.REAR_SIDE, film_id="dark")
    car = Job(
        vehicle("CO", mirrors_both_sides=True),
        (window("front", bare=Glass(0.78, GlassSource.METERED)), rear, ws := window("ws", position=Position.WINDSHIELD, bare=Glass(0.78, GlassSource.METERED))),
        {"dark": film(0.2, id="dark", reflectance=0.05)},
    )  # fmt: skip
    found = tried(car, "front", [film(0.5, id="50", reflectance=0.05)])
    assert found[0].shade.worst is not None
    assert found[0].shade.worst.word is VerdictWord.CLEARS
    assert found[0].spoils == ("rear",)
    assert not found[0].clears
    assert ws.film_id is None


@pytest.mark.parametrize(
    ("over", "known", "sheets"),
    [
        ({}, 0.75, 1),
        ({"old_film": True}, 0.75, 1),  # it comes off; the reading is of bare glass
        ({"old_film": True, "bare": Glass(0.3, GlassSource.METERED, through_old_film=True)}, None, 1),
        ({"old_film": True, "old_film_stays": True}, None, 2),
        ({"old_film": True, "old_film_stays": True, "bare": Glass(0.3, GlassSource.METERED, through_old_film=True)}, 0.3, 2),
        ({"old_film": True, "old_film_stays": True, "layers": ("old",)}, 0.75, 2),
        ({"bare": None}, None, 1),
    ],
)  # fmt: skip
def test_old_film_counts_by_what_was_read_and_whether_it_stays(
    over: dict[str, object], known: float | None, sheets: int
) -> None:
    films = {"f": film(0.5), "old": film(0.6, id="old")}
    pane = pane_facts(window("a", **over), films["f"], films, starting=START)
    assert pane.layers == sheets
    if known is None:
        assert pane.combined is None
        return
    assert pane.combined is not None
    under = known * 0.6 / 0.9 if over.get("layers") else known
    assert pane.combined.vlt == pytest.approx(under * 0.5 / 0.9)


@pytest.mark.parametrize(
    ("vlt", "source", "told", "factory"),
    [
        (0.20, GlassSource.METERED, None, True),
        (0.75, GlassSource.METERED, None, False),
        (0.55, GlassSource.METERED, None, None),
        (0.20, GlassSource.ASSUMED, None, None),
        (0.20, GlassSource.ASSUMED, True, True),
        (0.20, GlassSource.METERED, False, False),
    ],
)
def test_factory_glass_is_told_or_read_off_the_meter(
    vlt: float, source: GlassSource, told: bool | None, factory: bool | None
) -> None:
    pane = pane_facts(window("a", bare=Glass(vlt, source), factory_glass=told), None, {}, starting=START)
    assert pane.factory_glass is factory


def reason(kind: ReasonKind, **over: Any) -> Reason:
    return Reason(kind, **({"film_id": "f", "wish": "Dusk on front: Too dark"} | over))


def exempt(**over: Any) -> Reason:
    given = {"document": "M-1", "state": "FL", "issued_on": "2026-01-05", "expires_on": "2027-01-01", **over}
    return reason(ReasonKind.MEDICAL_EXEMPTION, **given)


@pytest.mark.parametrize(
    ("given", "word", "field"),
    [
        (exempt(), VerdictWord.TOO_DARK, None),
        (exempt(document=""), VerdictWord.TOO_DARK, "document"),
        (exempt(expires_on=""), VerdictWord.TOO_DARK, "expires_on"),
        (exempt(expires_on="", no_expiry=True), VerdictWord.TOO_DARK, None),
        (exempt(expires_on="2026-11-23"), VerdictWord.TOO_DARK, "expires_on"),
        (exempt(expires_on="2026-11-24"), VerdictWord.TOO_DARK, None),
        (exempt(expires_on="2025-12-31"), VerdictWord.TOO_DARK, "expires_on"),
        (exempt(issued_on=""), VerdictWord.TOO_DARK, "issued_on"),
        (exempt(issued_on="2026-11-25"), VerdictWord.TOO_DARK, "issued_on"),
        (exempt(state=""), VerdictWord.TOO_DARK, "state"),
        (exempt(), VerdictWord.CLEARS, "kind"),
        (reason(ReasonKind.OFF_ROAD_OR_SHOW, document="folder 3"), VerdictWord.TOO_DARK, None),
        (reason(ReasonKind.OFF_ROAD_OR_SHOW), VerdictWord.TOO_DARK, "document"),
        (reason(ReasonKind.DECLINED_FILM_CHANGED), VerdictWord.CLEARS, None),
        (reason(ReasonKind.DECLINED_FILM_CHANGED), VerdictWord.TOO_DARK, "kind"),
        (reason(ReasonKind.RULE_LOOKED_UP, document="code, p. 4"), VerdictWord.NO_RULE, None),
        (reason(ReasonKind.RULE_LOOKED_UP), VerdictWord.NO_RULE, "document"),
        (reason(ReasonKind.RULE_LOOKED_UP, document="code, p. 4"), VerdictWord.TOO_DARK, "kind"),
        (reason(ReasonKind.RULE_LOOKED_UP, document="code, p. 4"), VerdictWord.CANNOT_TELL, "kind"),
        (reason(ReasonKind.OFF_ROAD_OR_SHOW, document="folder 3"), VerdictWord.NO_RULE, None),
        (reason(ReasonKind.OFF_ROAD_OR_SHOW, document="folder 3"), VerdictWord.WITHIN_TOLERANCE, None),
    ],
)
def test_a_reason_holds_or_says_what_is_missing(given: Reason, word: VerdictWord, field: str | None) -> None:
    if field is None:
        check_reason(given, today="2026-11-24", words=[word])
        return
    with pytest.raises(CoreError) as refusal:
        check_reason(given, today="2026-11-24", words=[word])
    assert field in refusal.value.fields


def test_an_unlawful_film_is_cut_only_by_a_reason_for_that_film() -> None:
    size = readings({"width": 900.0, "height": 450.0})
    cited = exempt(citation="§ 3 of the made-up rules")
    for given, cut in ((None, False), (cited, True), (exempt(), False), (replace(cited, film_id="other"), False)):
        car = job(window("df", readings=size, film_id="f", reason=given), films=(film(0.05, reflectance=0.05),))
        found = look_over(car, LAW, starting=START)
        assert bool(found.to_cut) is cut
        assert ("df" in found.held) is not cut
        worst = found.shades["df"].worst
        assert worst is not None
        assert worst.word is VerdictWord.TOO_DARK, "the verdict stays"


def test_windows_to_cut_groups_by_film_pairs_mirrors_and_says_what_is_held() -> None:
    size = readings({"width": 900.0, "height": 450.0})
    car = job(
        window("df", readings=size, film_id="f"),
        window("pf", same_as="df", same_as_mirrored=True, film_id="f"),
        window("soft", readings=size, film_id="f", glass_type=GlassType.PLASTIC),
        window("new", film_id="f"),
        window(
            "ws", position=Position.WINDSHIELD, kind=WindowKind.WINDSHIELD, readings=size, is_strip=True, film_id="g"
        ),
        window("bk", readings=size, film_id="g", curve=Curve.BOTH_WAYS),
        window("bare", readings=size),
        films=(film(), film(id="g")),
    )
    found = look_over(car, LAW, starting=START)
    by_film, held = found.to_cut, {name: hold.reason for name, hold in found.held.items()}
    assert {name: [b.id for b in group.blanks] for name, group in by_film.items()} == {"f": ["df", "pf"], "g": ["bk"]}
    assert by_film["f"].panes["df"].pair == by_film["f"].panes["pf"].pair == "df"
    assert set(held) == {"soft", "new", "ws"}
    assert "Plastic takes no film" in held["soft"]
    assert "Not measured" in held["new"]
    assert "How deep is the strip" in held["ws"]


def test_a_strip_of_two_pieces_is_two_blanks_of_one_window() -> None:
    size = readings(
        {
            "width": 1400.0,
            "height": 750.0,
            "strip_depth": 127.0,
            "as1_depth": 140.0,
            "housing_width": 150.0,
            "housing_depth": 100.0,
        }
    )
    ws = window(
        "ws", position=Position.WINDSHIELD, kind=WindowKind.WINDSHIELD, side=Side.CENTRE, readings=size, is_strip=True,
        film_id="f", strip_pieces=2,
    )  # fmt: skip
    car = job(ws)
    found = look_over(car, LAW, starting=START)
    by_film, held = found.to_cut, found.held
    assert held == {}
    assert sorted(by_film["f"].panes) == ["ws:left", "ws:right"]
    # Half of 1400 less the housing's 150 and half an inch either side of it, rounded up to a sixteenth.
    assert by_film["f"].panes["ws:left"].outline.width == pytest.approx((1400 - 150 - 25.4) / 2)
    assert {pane.window_id for pane in by_film["f"].panes.values()} == {"ws"}


# --- whole-car proposals

STOCK = [film(v, id=f"f{round(100 * v)}", reflectance=0.05) for v in (0.05, 0.20, 0.35, 0.50, 0.70)]


def car(state: str, vehicle_class: str, rear: float) -> Job:
    glass = {"front": 0.78, "rear": rear, "back": rear, "ws": 0.78}
    places = {
        "front": Position.FRONT_SIDE, "rear": Position.REAR_SIDE, "back": Position.REAR_WINDOW, "ws": Position.WINDSHIELD,
    }  # fmt: skip
    windows = [
        window(name + side, position=places[name], bare=Glass(vlt, GlassSource.METERED))
        for name, vlt in glass.items()
        for side in (("L", "R") if name in ("front", "rear") else ("",))
    ]
    facts = {"mirrors_both_sides": True, "model_year": 2020, "registered_as": RegisteredAs.SEDAN}
    return Job(vehicle(state, vehicle_class=VehicleClass(vehicle_class), **facts), tuple(windows), {})


@pytest.mark.parametrize("state", sample(sorted(LAW.records), 8, seed=3))
@pytest.mark.parametrize(("vehicle_class", "rear"), [("passenger", 0.75), ("multipurpose", 0.2)])
def test_every_proposal_is_lawful_as_a_whole(state: str, vehicle_class: str, rear: float) -> None:
    """Put on the car and judged anew: every window with film clears."""
    plan = car(state, vehicle_class, rear)
    proposals = propose(plan, STOCK, LAW, starting=START)
    assert 1 <= len(proposals) <= 4
    for proposal in proposals:
        films = {one.id: one for one in STOCK}
        dressed = Job(
            plan.vehicle, tuple(replace(w, film_id=proposal.films.get(w.id)) for w in plan.windows), films
        )  # fmt: skip
        words = {shade.worst.word for shade in shades_of(dressed).values() if shade.worst}
        assert words <= {VerdictWord.CLEARS}
        for one in proposal.windows:
            assert (one.word is None) == (one.film_id is None)


def test_fronts_come_as_near_the_factory_rear_as_is_lawful() -> None:
    """Florida, privacy glass of 20 behind. 35 on 78 gives 30.3 against 28: ±1.7 and the officer's ±2 make 4.3 in 100."""
    matched = next(
        one for one in propose(car("FL", "multipurpose", 0.2), STOCK, LAW, starting=START)
        if ProposalKind.MATCH_REAR in one.kinds
    )  # fmt: skip
    assert matched.films["frontL"] == matched.films["frontR"] == "f35"
    assert matched.films["rearL"] is None
    front = next(one for one in matched.windows if one.window_id == "frontL")
    assert front.vlt == pytest.approx(0.78 * 0.35 / 0.9)
    assert "f70" in front.alternatives
    assert "f20" not in front.alternatives


def test_nothing_is_proposed_without_film_or_glass() -> None:
    assert propose(car("TX", "passenger", 0.75), [], LAW, starting=START) == ()
    assert propose(Job(VEHICLE, (), {}), STOCK, LAW, starting=START) == ()


def test_glass_that_nobody_metered_is_left_open_where_a_limit_holds() -> None:
    plan = car("FL", "passenger", 0.75)
    unread = Job(plan.vehicle, tuple(replace(w, bare_vlt_percent=None) for w in plan.windows), {})
    proposals = propose(unread, STOCK, LAW, starting=START)
    assert all(set(one.films.values()) == {None} for one in proposals)
    assert all("frontL" in one.open_windows for one in proposals)


def test_old_film_that_stays_is_film_for_the_law_too() -> None:
    """Illinois: the rear may be any darkness only if the fronts carry no film, old film included."""
    rear = window("rear", position=Position.REAR_SIDE, film_id="f")
    for stays, word in ((False, VerdictWord.CLEARS), (True, VerdictWord.TOO_DARK)):
        front = window("front", old_film=True, old_film_stays=stays)
        plan = Job(vehicle("IL", mirrors_both_sides=True), (front, rear), {"f": film(0.1, reflectance=0.05)})
        worst = shades_of(plan)["rear"].worst
        assert worst is not None
        assert worst.word is word


def test_a_figure_just_at_its_limit_is_not_under_it_by_rounding() -> None:
    """0.75 x 0.30 / 0.90 is 0.25, whatever the last binary digit says: Texas's 25 is met, and Close."""
    plan = Job(vehicle("TX"), (window("a", film_id="f"),), {"f": film(0.30, reflectance=0.05)})
    worst = shades_of(plan)["a"].worst
    assert worst is not None
    assert worst.word is VerdictWord.CLOSE
