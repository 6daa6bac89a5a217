"""A window's film on its glass: what holds the knife, which way round, strips, true patterns, from readings as taped."""

from __future__ import annotations

import random
import re
from collections import Counter
from dataclasses import replace
from itertools import product

import numpy as np
import pytest
from hypothesis import Phase, given
from hypothesis import strategies as st
from shapely import Point, Polygon

from elumbra.core.cut import CutMethod, pattern_for
from elumbra.core.errors import CoreError, ReadingError
from elumbra.core.glass import Barrel, Curve, GraphFace, Position, WindowKind
from elumbra.core.law import VehicleClass
from elumbra.core.measure import (
    FIT_KEYS,
    QUARTER_KEYS,
    Figure,
    Level,
    Measures,
    Reading,
    glass_face,
    known_keys,
    measure_pane,
)
from elumbra.core.measure.mirror import mirrored_readings
from elumbra.core.shrink import OPTIONS, Ask, Piece, ShrinkError, ShrinkWord, Unrolled, school_of
from elumbra.core.starting import StartingValues
from elumbra.core.work import (
    Coverage,
    Job,
    Station,
    Vehicle,
    Window,
    heat_view,
    look_over,
    percent,
    pieces_of,
    shrinking,
    window_shrinking,
    window_view,
)
from elumbra.core.work.in_strips import defroster_lines
from elumbra.core.work.laid import lay, most_needed, within
from tests.catalogue.barrels import BACK, CROWNS, bowl_of, chart_of, crown_readings, tape_readings
from tests.catalogue.law import LAW
from tests.catalogue.panes import INCH, film, starting, true_lengths
from tests.effort import effort, examples

START = starting()
POOR = film(id="poor", shrink_limit_percent=1.5)
GOOD = film(id="good", shrink_limit_percent=3.0)


def taped(name: str, *, level: Level = Level.CURVE, curve: Curve = Curve.STRONG) -> Measures:
    """A back glass as a tape and a straightedge read it, worked out apart from the code under test."""
    bowl = bowl_of(BACK, *CROWNS[name])
    chart = chart_of(BACK, bowl)
    lengths = {**tape_readings(chart, bowl), **crown_readings(bowl, BACK)}
    return Measures(level=level, curve=curve, readings={key: Reading(f"{mm} mm", mm) for key, mm in lengths.items()})


def back(name: str = "100/35", **over: object) -> Window:
    given: dict[str, object] = {
        "id": "bk", "label": "Back glass", "kind": WindowKind.BACK_GLASS, "position": Position.REAR_WINDOW,
        "measures": taped(name), "film_id": "good", "bare_vlt_percent": 75.0,
    }  # fmt: skip
    return Window(**(given | over))  # type: ignore[arg-type]


def car(*windows: Window, starting: StartingValues = START):  # type: ignore[no-untyped-def]
    vehicle = Vehicle(label="v", vehicle_class=VehicleClass.PASSENGER, states=("TX",))
    films = {one.id: one for one in (GOOD, POOR)}
    return look_over(Job(vehicle, windows, films), LAW, starting=starting, judged=False)


def test_what_will_not_shrink_is_held_at_heat_with_its_ways_out() -> None:
    held = car(back("100/35", film_id="poor")).held["bk"]
    assert held.station is Station.HEAT
    assert re.fullmatch(
        r"Will not shrink in one piece: 1\.8 % \(1\.\d to \d\.\d\), this film takes 1\.5 %\. "
        r"At Heat: another film, the other way round, or strips\.",
        held.reason,
    )
    assert car(back("100/35", film_id="good")).held.get("bk") is None
    assert car(back("100/35", film_id="poor", in_strips=True)).held.get("bk") is None
    assert (
        car(
            back("100/35", film_id="poor", one_piece_because="Done on this model before", one_piece_film="poor")
        ).held.get("bk")
        is None
    )
    turned = car(back("100/35", film_id="good", film_turned=True)).held["bk"]
    assert turned.station is Station.HEAT


def test_a_word_for_one_piece_holds_for_the_film_it_was_given_for() -> None:
    given = {"one_piece_because": "Done on this model before", "one_piece_film": "good"}
    assert car(back("150/50", film_id="good", **given)).held.get("bk") is None
    assert car(back("150/50", film_id="poor", **given)).held["bk"].station is Station.HEAT


def test_a_sun_strip_is_held_too_where_it_will_not_shrink() -> None:
    """Called a strip, a piece that covers nearly all the glass is weighed as what it is."""
    depths = {}
    for depth in ("6", "24"):
        strip = {**taped("150/50").readings, "strip_depth": Reading(depth, float(depth) * INCH)}
        measures = replace(taped("150/50"), readings=strip)
        window = back(
            measures=measures, film_id="good", position=Position.WINDSHIELD, kind=WindowKind.WINDSHIELD,
            coverage=Coverage.STRIP,
        )  # fmt: skip
        held = car(window).held.get("bk")
        depths[depth] = None if held is None else held.station
    assert depths == {"6": None, "24": Station.HEAT}


def sized(curve: Curve, width: float, height: float, **gaps: float) -> Measures:
    """A pane of two sizes [mm], with the gaps of a straightedge laid over all of it where they were read."""
    lengths = {"width": width, "height": height, **gaps}
    return Measures(Level.CURVE, Figure.FOUR, curve, {key: Reading("", mm) for key, mm in lengths.items()})


def gap(radius: float, chord: float) -> float | None:
    """Sagitta of a chord on a circle; None where it is over a quarter of the chord, which is no car glass."""
    if chord > 2 * radius:
        return None
    sagitta = radius - (radius**2 - chord**2 / 4) ** 0.5
    return sagitta if sagitta <= chord / 4 else None


WORDS = list(ShrinkWord)
RADII = {  # of the classes, as the starting values give them: across, up [mm]
    Curve.ONE_WAY: ((20_000, 1_000_000), (1_200, 8_000)),
    Curve.BOTH_WAYS: ((2_500, 15_000), (1_200, 8_000)),
    Curve.STRONG: ((1_100, 3_500), (500, 2_500)),
}


def word_of(measures: Measures, limit: float, *, turned: bool) -> ShrinkWord:
    """What one piece of such a film takes; what no film lies on is as bad as what will not shrink."""
    of_it = film(id="good", shrink_limit_percent=100 * limit)
    try:
        pane = measure_pane(measures, starting=START)
        found = shrinking(back(measures=measures, film_turned=turned), pane, of_it, starting=START)
        assert found is not None
        return found.verdict.word
    except CoreError:
        return ShrinkWord.WILL_NOT


def test_the_strongly_curved_pane_of_1200_by_360_mm_will_not_shrink_unread() -> None:
    """Its class ends at radii of 1100 and 500 mm, and 1 - cos(180 / √(1100 × 500)) is 2.9 %: a 3 % film cannot be sure."""
    assert 1 - np.cos(180 / np.sqrt(1100 * 500)) == pytest.approx(0.0293, abs=0.0002)
    assert word_of(sized(Curve.STRONG, 1200, 360), 0.03, turned=False) is ShrinkWord.WILL_NOT
    held = car(back(measures=sized(Curve.STRONG, 1200, 360), film_id="good")).held["bk"]
    assert held.station is Station.HEAT
    assert "would settle it" in held.reason


def test_no_crown_of_a_class_makes_a_harder_word_than_reading_none() -> None:
    """Panes, films and ways drawn: every corner of the class's box, and crowns drawn inside it, read with a tape."""
    rng = random.Random(27)
    words = Counter[ShrinkWord]()
    for _ in range(effort(6, 2000)):
        curve, limit, turned = rng.choice(list(RADII)), rng.choice([0.015, 0.02, 0.03, 0.04]), rng.random() < 0.5
        width, height = rng.uniform(200, 1700), rng.uniform(150, 950)
        unread = word_of(sized(curve, width, height), limit, turned=turned)
        words[unread] += 1
        if unread is ShrinkWord.WILL_NOT:
            continue  # no word is harder
        (least_x, most_x), (least_y, most_y) = RADII[curve]
        drawn = [
            (1 / rng.uniform(1 / most_x, 1 / least_x), 1 / rng.uniform(1 / most_y, 1 / least_y))
            for _ in range(effort(2, 20))
        ]
        for across, up in [*product((least_x, most_x), (least_y, most_y)), *drawn]:
            gaps = {"crown_across": gap(across, width), "crown_up": gap(up, height)}
            known = [{key: mm for key, mm in gaps.items() if mm is not None and key != left} for left in ("", *gaps)]
            for some in known:
                read = word_of(sized(curve, width, height, **some), limit, turned=turned)
                told = (curve, width, height, limit, turned, across, up, tuple(some))
                assert WORDS.index(read) <= WORDS.index(unread), told
    assert len(words) >= 3  # the sweep met soft and hard ones


@pytest.mark.parametrize("kind", [WindowKind.FRAMED_DOOR, WindowKind.FRAMELESS_DOOR])
def test_a_door_s_bottom_edge_is_snapped_until_its_crowns_are_read_and_flat(kind: WindowKind) -> None:
    """Unread, called flat, or bowed one way: its mildest answer is the snap of the bottom edge."""
    for measures in (
        replace(sized(Curve.FLAT, 900, 450), level=Level.SIZE),
        sized(Curve.FLAT, 900, 450),
        sized(Curve.ONE_WAY, 300, 150),
        sized(Curve.ONE_WAY, 300, 150, crown_across=0.0),
    ):
        looked = car(back(measures=measures, kind=kind, position=Position.FRONT_SIDE))
        seen = window_view(looked, "bk")
        assert seen.verdict.word is ShrinkWord.SNAP
        assert "snap-shrink the bottom edge" in seen.sentence
        assert {one.ask: one.answer for one in seen.school}[Ask.HOW] == "snap"
        assert [step for step in seen.steps if "bottom edge" in step]
        assert seen.plan.minutes > 0
        fixed = car(back(measures=measures, kind=WindowKind.QUARTER))
        assert window_view(fixed, "bk").verdict.word in (ShrinkWord.FLAT, ShrinkWord.SNAP)
    read = sized(Curve.ONE_WAY, 300, 150, crown_across=0.0, crown_up=0.0)
    flat = window_view(car(back(measures=read, kind=kind)), "bk")
    assert flat.verdict.word is ShrinkWord.FLAT
    assert flat.sentence == "One piece, lies flat: nothing to shrink."


def test_not_reading_the_crowns_never_releases() -> None:
    """Class defaults leave the decision open: held, with the reading that would settle it."""
    guessed = Measures(
        level=Level.SIZE,
        curve=Curve.STRONG,
        readings={"width": Reading("48", 48 * INCH), "height": Reading("26", 26 * INCH)},
    )
    held = car(back(measures=guessed)).held["bk"]
    assert held.station is Station.HEAT
    assert "would settle it" in held.reason
    looked = car(back(measures=guessed))
    assert window_shrinking(looked, "bk").settled_by in ("crown_up", "crown_across")
    # Read, and shallow: released.
    shallow = {
        **guessed.readings, "crown_across": Reading("1/4", 6.35), "crown_across_chord": Reading("40", 40 * INCH),
        "crown_up": Reading("1/8", 3.2), "crown_up_chord": Reading("20", 20 * INCH),
    }  # fmt: skip
    assert car(back(measures=replace(guessed, readings=shallow))).held.get("bk") is None


@pytest.mark.parametrize("curve", list(Curve))
def test_a_wider_class_or_a_missing_reading_never_gives_a_softer_word(curve: Curve) -> None:
    exact = replace(taped("40/15"), curve=curve) if curve is not Curve.FLAT else taped("40/15")
    read = shrinking(back(measures=exact), measure_pane(exact, starting=START), GOOD, starting=START)
    assert read is not None
    words = list(ShrinkWord)
    known = words.index(read.laid.verdict(read.bears).word)
    for key in ("crown_up", "crown_across"):
        left = {name: one for name, one in exact.readings.items() if not name.startswith(key)}
        fewer = replace(exact, readings=left, curve=Curve.STRONG)
        pane = measure_pane(fewer, starting=START)
        unread = shrinking(back(measures=fewer), pane, GOOD, starting=START)
        assert unread is not None
        assert words.index(unread.laid.verdict(unread.bears).word) >= known


@pytest.mark.parametrize("name", list(CROWNS))
def test_the_quick_bound_is_never_under_what_is_needed(name: str) -> None:
    measures = taped(name)
    found = shrinking(back(name), measure_pane(measures, starting=START), GOOD, starting=START)
    assert found is not None
    for way in Unrolled:
        needed = lay(found.on, way).shrink.high
        assert most_needed(found.on, way) >= needed - 1e-9
        for limit in (0.001, 0.0105, 0.015, 0.021, 0.03, needed - 1e-6, needed + 1e-6):
            assert within(found.on, way, limit) == (needed <= limit)


def test_the_film_is_turned_where_what_it_then_needs_stays_within_the_safe_share() -> None:
    ways = {}
    for name in CROWNS:
        measures = taped(name)
        found = shrinking(back(name), measure_pane(measures, starting=START), GOOD, starting=START)
        assert found is not None
        needed = lay(found.on, Unrolled.UP).shrink.high
        ways[name] = Unrolled.UP in found.unrolled()
        if ways[name]:
            assert needed <= found.bears.card
    assert ways["22/8"]
    assert not ways["150/50"]
    turned = shrinking(
        back("22/8", film_turned=True), measure_pane(taped("22/8"), starting=START), GOOD, starting=START
    )
    assert turned is not None
    assert turned.unrolled() == {Unrolled.UP}
    # A door that is turned loses the factory edge at its foot.
    door = back("22/8", kind=WindowKind.FRAMED_DOOR, film_turned=True, cut_method=CutMethod.BULK)
    (blank,) = car(door).to_cut["good"].blanks
    assert [option.extra_minutes for option in blank.turns] == [START["bottom_cut_minutes"]]


def test_a_mirrored_window_has_the_mirrored_pattern() -> None:
    one = back("70/25", id="a", cut_method=CutMethod.PLOTTER)
    other = Window(
        id="b", label="Other", kind=one.kind, position=one.position, same_as="a", same_as_mirrored=True, film_id="good",
        bare_vlt_percent=75.0, cut_method=CutMethod.PLOTTER,
    )  # fmt: skip
    found = car(one, other).to_cut["good"]
    ring, mirror = (Polygon(found.lines[name].ring) for name in ("a", "b"))
    turned = Polygon(np.asarray(mirror.exterior.coords) * [-1, 1])
    assert ring.symmetric_difference(turned).area < 0.002 * ring.area
    assert all(line.true for line in found.lines.values())


def test_allowances_are_laid_off_on_the_glass() -> None:
    """The cut line's distance from the glass's edge, measured by an independent tape, is what was asked for."""
    window = back("150/50", film_id="good", one_piece_because="x", one_piece_film="good", cut_method=CutMethod.PLOTTER,
                  findings={"edge": "gasket"})  # fmt: skip
    looked = car(window)
    pane = looked.panes["bk"]
    shrunk = window_shrinking(looked, "bk")
    (piece,) = pieces_of(looked.window("bk"), pane, shrunk, "", CutMethod.PLOTTER)
    line = pattern_for(piece, starting=START)[1]
    glass, cut = Polygon(line.glass), line.ring
    off = np.array([glass.exterior.distance(Point(point)) for point in cut])
    straight = off[[not glass.contains(Point(point)) for point in cut]]
    assert np.median(straight) == pytest.approx(START["gasket_tuck_mm"], abs=0.2)
    bowl = bowl_of(BACK, *CROWNS["150/50"])
    assert pane.outline is not None
    outline = pane.outline.ring
    below = outline.copy()
    below[:, 1] -= START["gasket_tuck_mm"]
    on = shrunk.on.found
    at = int(np.argmin(outline[:, 1]))
    tape = bowl.tape(on.charted(outline[at : at + 1])[0], on.charted(below[at : at + 1])[0])
    assert tape == pytest.approx(START["gasket_tuck_mm"], abs=0.15)


def test_strips_go_to_the_knife_with_an_overlap_on_a_line() -> None:
    lines = {"defroster": "yes", "defroster_first": "3", "defroster_pitch": "1 1/4", "defroster_lines": "18"}
    window = back("150/50", film_id="poor", in_strips=True, findings=lines)
    looked = car(window)
    found = looked.to_cut["poor"]
    labels = [pane.label for pane in found.panes.values()]
    several = len(labels)
    assert labels == [f"Back glass, strip {k} of {several}" for k in range(1, several + 1)]
    assert several >= 2
    heights = defroster_lines(window, looked.panes["bk"])
    shrunk = window_shrinking(looked, "bk")
    for upper, lower in zip(shrunk.strips, shrunk.strips[1:], strict=False):
        assert upper.on_line
        assert min(abs(lower.high - line) for line in heights) < 1e-6
        assert lower.high - upper.low == pytest.approx(START["strip_overlap_mm"])
    assert all(strip.largest <= 0.015 for strip in shrunk.strips)
    first = pieces_of(looked.window("bk"), looked.panes["bk"], shrunk, "", CutMethod.PLOTTER)[0]
    told = {one.edge: one.name for one in pattern_for(first, starting=START)[1].allowances}
    assert told["bottom"] == "overlap"
    assert told["top"] != "overlap"
    view = window_view(looked, "bk", part=1)
    assert view.sentence.startswith(f"Strip 1 of {several}: one piece")
    with pytest.raises(CoreError, match="There is no strip 6"):
        window_view(looked, "bk", part=6)


# ---- faces from further readings


CROWN_UP = float(taped("70/25").readings["crown_up"].mm)


def gathered(**gaps: float) -> Measures:
    base = taped("70/25")
    return replace(base, readings={**base.readings, **{key: Reading(f"{mm} mm", mm) for key, mm in gaps.items()}})


def test_a_quarter_gap_makes_the_curve_gather_there() -> None:
    plain, more = taped("70/25"), gathered(crown_up_quarter_foot=0.86 * CROWN_UP)
    views = {}
    for name, measures in (("plain", plain), ("gathered", more)):
        looked = car(back(measures=measures))
        views[name] = heat_view(looked, "bk", window_shrinking(looked, "bk"))
    assert isinstance(views["gathered"].laid.on.found.face, GraphFace)
    # More bend at the foot wants the line lower, and the foot takes more than it did with the line where it was.
    assert views["gathered"].placed.middle < views["plain"].placed.middle
    # A quarter gap of an even curve says what the crown said.
    even = gathered(crown_up_quarter_foot=0.75 * CROWN_UP)
    looked = car(back(measures=even))
    same = heat_view(looked, "bk", window_shrinking(looked, "bk"))
    assert same.verdict.shrink.value == pytest.approx(views["plain"].verdict.shrink.value, rel=0.06)


def test_gaps_that_no_glass_leaves_are_told_with_the_mend() -> None:
    for measures, words in (
        (gathered(crown_up_quarter_foot=0.998 * CROWN_UP), f"does not go with {CROWN_UP:.1f} mm at the middle"),
        (gathered(gap_mid_mid=20.0), "9 gaps|nine at least"),
    ):
        looked = car(back(measures=measures))
        held = looked.held["bk"]
        assert held.station is Station.SURVEY, "where it is mended"
        assert any(part in held.reason for part in words.split("|"))
    alone = Measures(
        level=Level.CURVE, curve=Curve.STRONG,
        readings={**{k: v for k, v in taped("70/25").readings.items() if not k.startswith("crown_up")},
                  "crown_up_quarter_foot": Reading("20 mm", 20.0)},
    )  # fmt: skip
    pane = measure_pane(alone, starting=START)
    assert pane.outline is not None
    assert pane.lie is not None
    with pytest.raises(ReadingError, match="says nothing without the gap at the middle"):
        glass_face(alone, pane.crowns, pane.lie, pane.outline.ring, starting=START)


def fifteen(across: float, up: float) -> dict[str, float]:
    """Fifteen gaps of a bowl z = −κa x²/2 − κu y²/2 over this pane seen square on, straightedges from edge to edge."""
    bowl = bowl_of(BACK, *CROWNS["70/25"])
    chart = chart_of(BACK, bowl)
    plane = Barrel(1 / bowl.across, 1 / bowl.up).points(chart)[:, :2]
    low, high = plane.min(axis=0), plane.max(axis=0)
    half, places = (high - low) / 2, {"left": -0.5, "mid": 0.0, "right": 0.5, "low": -0.5, "high": 0.5}
    found = {}
    foot_half, top_half = plane[1, 0], plane[2, 0]
    for row in ("low", "mid", "high"):
        # Between the corners the side is all but straight seen square on.
        share = 0.5 + places[row] / 2
        reach = foot_half + (top_half - foot_half) * share
        for column in ("left", "mid", "right"):
            x = places[column] * reach
            found[f"gap_{row}_{column}"] = across * (reach**2 - x**2) / 2
    for column in ("left", "mid", "right"):
        for end, at in (("", 0.0), ("_low", -0.5)):
            found[f"rise_{column}{end}"] = up * half[1] ** 2 * (1 - at**2) / 2
    return found


def test_nine_to_fifteen_gaps_are_fitted_and_turn_over_with_the_pane() -> None:
    gaps = fifteen(1 / 3000, 1 / 2200)
    measures = gathered(**gaps)
    window = back(measures=measures)
    looked = car(window)
    view = heat_view(looked, "bk", window_shrinking(looked, "bk"))
    face = view.laid.on.found.face
    assert isinstance(face, GraphFace)
    at = np.array([0.0])
    slopes = face.height.slopes(at, at)
    assert -slopes.xx[0] == pytest.approx(1 / 3000, rel=0.1)
    assert -slopes.yy[0] == pytest.approx(1 / 2200, rel=0.25)
    assert view.verdict.shrink.low < view.verdict.shrink.value < view.verdict.shrink.high
    lopsided = gaps | {"gap_low_left": gaps["gap_low_left"] * 1.12}
    other = mirrored_readings(gathered(**lopsided).readings, Figure.FOUR)
    assert other["gap_low_right"].mm == pytest.approx(lopsided["gap_low_left"])
    assert other["crown_up"].mm == CROWN_UP
    wrong = gathered(**(gaps | {"gap_mid_mid": gaps["gap_mid_mid"] + 25.0}))
    held = car(back(measures=wrong)).held["bk"]
    assert "no smooth glass has" in held.reason
    assert held.station is Station.SURVEY


def twisted(low: float, mid: float, high: float) -> Measures:
    """Much bent across at the head, little at the foot, nearly straight up: bent both ways at its sides."""
    rows = {"low": low, "mid": mid, "high": high}
    across = {
        f"gap_{row}_{column}": gap * (1.0 if column == "mid" else 0.75)
        for row, gap in rows.items()
        for column in ("left", "mid", "right")
    }
    up = {f"rise_{column}{end}": 1.0 for column in ("left", "mid", "right") for end in ("", "_low")}
    return gathered(**across, **up)


def test_where_film_would_have_to_stretch_is_told_and_refused_from_too_much_on() -> None:
    looked = car(back(measures=twisted(8.0, 20.0, 32.0)))
    view = heat_view(looked, "bk", window_shrinking(looked, "bk"))
    assert 0.0005 < view.laid.piece.stretch < START["stretch_most"]
    assert "there it stands off" in view.cautions[0]
    assert any(one.shrink < 0 for one in view.contours)
    strict = START.with_shop_values({"stretch_most": 0.001})
    held = car(back(measures=twisted(8.0, 20.0, 32.0)), starting=strict).held["bk"]
    assert held.station is Station.HEAT
    assert re.match(r"Film would have to stretch by \d+(\.\d+)? % on this glass, which it cannot", held.reason)


# ---- odd panes


@st.composite
def odd_windows(draw: st.DrawFn) -> Window:
    """Panes from a postage stamp to a roof, any lean, any crowns, gaps that fit nothing, decisions of all kinds."""
    wide, tall = 10 ** draw(st.floats(1.5, 3.4)), 10 ** draw(st.floats(1.5, 3.2))
    shares = [0.0, 1e-4, 0.01, 0.05, 0.1, 0.24]
    figure = draw(st.sampled_from([Figure.FOUR, Figure.DRAWN]))
    read: dict[str, float] = {"width": wide, "height": tall}
    drawn: tuple[tuple[float, float], ...] = ()
    if figure is Figure.FOUR:
        top, lean = draw(st.floats(0.2, 1.1)), draw(st.floats(-0.4, 0.4)) * wide
        corners = np.array(
            [[0, 0], [wide, 0], [(1 + top) * wide / 2 + lean, tall], [(1 - top) * wide / 2 + lean, tall]]
        )
        read |= true_lengths(corners)
    else:
        turns = sorted(draw(st.lists(st.floats(0, 6.2), min_size=3, max_size=8, unique=True)))
        drawn, read = tuple((wide / 2 * float(np.cos(t)), tall / 2 * float(np.sin(t))) for t in turns), {}
    if read and draw(st.booleans()):
        read |= {"crown_across": wide * draw(st.sampled_from(shares)), "crown_up": tall * draw(st.sampled_from(shares))}
    further = draw(st.sampled_from(["", "", "quarter", "gaps"]))
    keys = {"": (), "quarter": sum(QUARTER_KEYS.values(), ()), "gaps": FIT_KEYS}[further] if read else ()
    read |= {key: draw(st.floats(0, 40)) for key in keys if draw(st.booleans()) or further == "gaps"}
    readings = {key: Reading(f"{mm} mm", mm) for key, mm in read.items() if key in known_keys(figure)}
    return back(
        kind=draw(st.sampled_from(list(WindowKind))),
        measures=Measures(
            draw(st.sampled_from(list(Level))), figure, draw(st.sampled_from(list(Curve))), readings, drawn=drawn
        ),
        film_id=draw(st.sampled_from(["good", "poor"])),
        findings={"defroster": "yes", "defroster_first": "3", "defroster_pitch": draw(st.sampled_from(["1", "20"]))},
        film_turned=draw(st.booleans()),
        in_strips=draw(st.booleans()),
        cross_line_mm=draw(st.none() | st.floats(0, 1.5 * tall)),
        cross_slope=draw(st.floats(-0.5, 0.5)),
        cut_method=draw(st.sampled_from([None, CutMethod.PLOTTER])),
    )


@examples(40, here=6, phases=[Phase.explicit, Phase.reuse, Phase.generate])  # shrinking a pane takes minutes
@given(odd_windows())
def test_an_odd_pane_is_shown_or_told_why_and_takes_nothing_with_it(window: Window) -> None:
    other = Window(
        id="b", label="Other", kind=window.kind, position=window.position, same_as="bk", same_as_mirrored=True,
        film_id="good", bare_vlt_percent=75.0,
    )  # fmt: skip
    sound = back("40/15", id="sound")
    looked = car(window, other, sound)
    assert "sound" not in looked.held
    for name in ("bk", "b"):
        try:
            view = window_view(looked, name)
        except CoreError as error:
            assert error.message.endswith((".", "?"))
            assert name in looked.held
            continue
        shrink = view.verdict.shrink
        assert 0 <= shrink.low <= shrink.value <= shrink.high
        assert np.isfinite(view.outline).all()
        assert np.isfinite(view.line.ring).all()
        # The word at Heat and the hold at Cut never contradict.
        if name not in looked.held and not view.shrunk.strips:
            assert view.verdict.word.releases
        if name in looked.held and looked.held[name].station is Station.HEAT:
            assert not view.verdict.word.releases


def test_a_pane_that_film_does_not_lie_on_turned_is_not_held_for_it(monkeypatch: pytest.MonkeyPatch) -> None:
    """A random pane found it: laid across it was fine, and it was held because turned it would have had to stretch."""

    def no_way(*_: object) -> bool:
        raise ShrinkError("Film would have to stretch.")

    looked = car(back("40/15"))
    monkeypatch.setattr("elumbra.core.work.heat.within", no_way)
    shrunk = window_shrinking(looked, "bk")
    assert shrunk.unrolled() == frozenset({Unrolled.ACROSS})
    assert shrunk.unrolled(pattern=True) == frozenset({Unrolled.ACROSS})


# ---- words


def test_the_sentence_is_the_answer() -> None:
    looked = car(back("70/25"))
    view = heat_view(looked, "bk", window_shrinking(looked, "bk"))
    assert re.fullmatch(
        r"One piece, card: 0\.\d\d % \(0\.\d\d to 0\.\d\d\) at foot and head, film takes 3 %\. "
        r"Cross line 12 \d/\d in above the foot\.",
        view.sentence,
    )
    flat = car(back(measures=replace(taped("70/25"), curve=Curve.FLAT)))
    assert heat_view(flat, "bk", window_shrinking(flat, "bk")).sentence == "One piece, lies flat: nothing to shrink."
    turned = car(back("40/15", film_turned=True))
    assert "film turned, its line" in heat_view(turned, "bk", window_shrinking(turned, "bk")).sentence.lower()


def test_a_spoiler_lamination_and_a_chip_are_minded() -> None:
    window = back("70/25", findings={"spoiler": "2", "condition": ("chipped", "pitted")})
    looked = car(window)
    view = heat_view(looked, "bk", window_shrinking(looked, "bk"))
    assert any("Under the spoiler, the top 2 in" in step for step in view.steps)
    assert any("chip" in one.lower() for one in view.cautions)
    assert any(one.answer == "card" and "rag" in one.why for one in view.school)
    assert percent(0.0149) == "1.5"


@pytest.mark.parametrize("word", list(ShrinkWord))
@pytest.mark.parametrize("kind", list(WindowKind))
def test_every_school_has_its_reason_and_the_shop_may_have_its_own(word: ShrinkWord, kind: WindowKind) -> None:
    computed = school_of(Piece(word, kind))
    assert all(one.why and one.section and one.answer in OPTIONS[one.ask] for one in computed)
    assert computed[0].answer == {"lies flat": "nothing", "snap": "snap"}.get(word.value, "card")
    own = school_of(Piece(word, kind), preferred={"water": "wet", "hand": "card", "place": "car"})
    for ours, theirs in zip(computed, own, strict=True):
        assert theirs.computed == ours.answer
        assert theirs.overruled == (theirs.answer != ours.answer)
        if theirs.ask is Ask.WATER:
            assert theirs.answer == "wet"


@pytest.mark.parametrize("turned", [False, True])
@pytest.mark.parametrize("curve", [Curve.FLAT, Curve.ONE_WAY])
def test_the_cut_line_is_drawn_where_the_glass_is(curve: Curve, turned: bool) -> None:
    """A gasket's 1/8 in past a pane all round: outline and cut line have the same middle, also on glass called flat."""
    window = back(measures=sized(curve, 900, 450), kind=WindowKind.QUARTER, film_turned=turned,
                  findings={"edge": "gasket"})  # fmt: skip
    seen = window_view(car(window), "bk")
    low, high = seen.outline.min(axis=0), seen.outline.max(axis=0)
    ring = seen.line.ring
    assert ring.min(axis=0) == pytest.approx(low - 3.175, abs=1.0)
    assert ring.max(axis=0) == pytest.approx(high + 3.175, abs=1.0)
