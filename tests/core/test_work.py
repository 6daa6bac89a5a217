import pytest

from elumbra.core.errors import CoreError, ReadingError
from elumbra.core.film import Film
from elumbra.core.glass import Curve, GlassType, Position, Side, WindowKind
from elumbra.core.law import VehicleClass, VerdictWord, parse_law_book
from elumbra.core.light import Glass, GlassSource
from elumbra.core.measure import Level
from elumbra.core.work import (
    Job,
    Vehicle,
    Window,
    darkest_that_clears,
    measure_windows,
    resolve_same_glass,
    shade_job,
    windows_to_cut,
)
from tests.catalogue.panes import QUADS, SIX, film, readings, starting, true_lengths
from tests.core.test_law import DOCUMENT

START = starting()
LAW = parse_law_book(DOCUMENT)
VEHICLE = Vehicle("Test sedan", VehicleClass.PASSENGER, ("FL",), mirrors_both_sides=True, model_year=2020)
DOOR = {key: true_lengths(QUADS["front door"])[key] for key in SIX}


def window(name: str, **over: object) -> Window:
    given: dict[str, object] = {
        "id": name, "label": name, "position": Position.FRONT_SIDE, "side": Side.DRIVER,
        "kind": WindowKind.FRAMED_DOOR, "bare": Glass(0.75, GlassSource.METERED),
    }  # fmt: skip
    return Window(**(given | over))  # type: ignore[arg-type]


def job(*windows: Window, films: tuple[Film, ...] = (film(),)) -> Job:
    return Job(VEHICLE, windows, {one.id: one for one in films})


def test_other_side_of_the_car_is_the_mirror_image() -> None:
    pair = job(
        window("df", readings=readings(DOOR), level=Level.SHAPE),
        window("pf", side=Side.PASSENGER, same_as="df", same_as_mirrored=True),
    )
    measured = measure_windows(pair, starting=START)
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
    assert resolve_same_glass(chain)["c"].same_as_mirrored is False
    assert resolve_same_glass(chain)["b"].same_as_mirrored is True


def test_a_circle_of_same_glass_is_refused() -> None:
    with pytest.raises(CoreError, match="refers to itself"):
        resolve_same_glass((window("a", same_as="b"), window("b", same_as="a")))
    with pytest.raises(CoreError, match="not in this job"):
        resolve_same_glass((window("a", same_as="gone"),))


def test_impossible_reading_names_its_window() -> None:
    with pytest.raises(ReadingError, match=r"^Left door: "):
        measure_windows(job(window("x", label="Left door", readings=readings({"width": -1.0}))), starting=START)


def test_shade_has_one_verdict_a_state_and_none_without_film() -> None:
    several = Job(
        Vehicle("v", VehicleClass.PASSENGER, ("TX", "FL", "NH")), (window("a", film_id="f"), window("b")), {"f": film()}
    )
    shades = shade_job(several, LAW, starting=START)
    assert [v.jurisdiction for v in shades["a"].verdicts] == ["TX", "FL", "NH"]
    assert shades["a"].worst is not None
    assert shades["a"].worst.word is VerdictWord.NOT_ALLOWED
    assert shades["b"].verdicts == ()
    assert shades["b"].combined is not None
    assert shades["b"].combined.vlt == 0.75


def test_darkest_that_clears_skips_close_and_dark() -> None:
    """Florida front 28: 35 on 75 gives 29.2 (close), 50 gives 41.7 (clears), 70 clears and is lighter."""
    stock = [film(v, id=str(v), reflectance=0.05) for v in (0.70, 0.20, 0.50, 0.35)]
    found = darkest_that_clears(window("a"), stock, VEHICLE, LAW, starting=START)
    assert found is not None
    assert found.id == "0.5"
    assert darkest_that_clears(window("a", bare=None), stock, VEHICLE, LAW, starting=START) is None


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
        window("bk", readings=size, film_id="g", curve=Curve.STRONG),
        window("bare", readings=size),
        films=(film(), film(id="g")),
    )
    by_film, held = windows_to_cut(car, measure_windows(car, starting=START), starting=START)
    assert {name: [b.id for b in group.blanks] for name, group in by_film.items()} == {"f": ["df", "pf"], "g": ["bk"]}
    assert by_film["f"].panes["df"].pair == by_film["f"].panes["pf"].pair == "df"
    assert set(held) == {"soft", "new", "ws"}
    assert "Plastic takes no film" in held["soft"]
    assert "Not measured" in held["new"]
    assert "How deep is the strip" in held["ws"]
