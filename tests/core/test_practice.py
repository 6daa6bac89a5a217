"""The practice glass: warmth and shrink against closed forms, what each slip must give, and who passes."""

from __future__ import annotations

import hashlib
import json
import subprocess
import sys
from collections.abc import Callable, Sequence
from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elumbra.core.errors import CoreError
from elumbra.core.glass import Curve
from elumbra.core.practice import (
    BY_NAME,
    MOST_STEPS,
    RULES,
    Board,
    Contact,
    Damage,
    Do,
    Eyes,
    Lesson,
    Looks,
    Run,
    School,
    Stroke,
    StrokeError,
    begin,
    carried_out,
    day_of,
    gives,
    mistake,
    next_hint,
    parse_lessons,
    played,
    read_strokes,
    ridges,
    ruined,
    score_of,
    screen_of,
    shown,
    shrunk_after,
    stepped,
)
from elumbra.core.practice.film import Sheet, bare
from elumbra.core.shrink import Bears, ShrinkWord, Unrolled
from elumbra.documents.shelf import parse_shelf_file
from elumbra.storage.data_files import read_bytes, read_data
from tests.catalogue.practice import (
    LESSONS,
    POOR_HANDS,
    READY,
    Move,
    PoorHand,
    acted,
    barrel_part,
    board_of_part,
    bowl,
    calm,
    lesson_board,
    values,
)
from tests.effort import effort, examples, sample

V = values()
FLAT = V["lies_flat_most"]  # 0.10 points
BOWL = calm(bowl())
DEEP = calm(bowl(0.02))
POOR = calm(bowl(0.02, limit=0.012))
LEVEL = calm(bowl(0.0))
WET: tuple[Move, ...] = (("wet",), ("lay", "across"), ("h", "across"))


def test_what_film_gives_is_the_stated_curve() -> None:
    """Half of the limit at 118 °C, one e-fold of odds for 8 K, double the rate for 10 K, never over 20 a second."""
    most, rate = gives(np.array([118.0, 126.0, 130.0, 140.0, 500.0, -200.0]), limit=0.03, values=V)
    assert most[0] == pytest.approx(0.015)
    assert most[1] / (0.03 - most[1]) == pytest.approx(np.e)
    assert rate[2:5].tolist() == pytest.approx([1.0, 2.0, 20.0])
    assert most[4] == pytest.approx(0.03)
    assert most[5] == pytest.approx(0.0, abs=1e-12)


def _after(shrunk: float, film_c: float, required: float, seconds: float, *, limit: float = 0.03) -> float:
    cells = (np.array([one]) for one in (shrunk, film_c, required))
    return float(shrunk_after(*cells, limit=limit, values=V, seconds=seconds)[0])


def test_slack_film_follows_its_closed_form_and_taut_film_comes_to_rest_where_pull_and_shrink_balance() -> None:
    at_130 = 0.03 / (1 + np.exp(-1.5))
    assert _after(0.0, 130, 0.03, 0.7) == pytest.approx(at_130 * (1 - np.exp(-0.7)))
    assert _after(0.0, 130, 0.004, 60.0) == pytest.approx((at_130 + 20 * 0.004) / 21)
    assert _after(0.02, 80, 0.01, 1e5) == pytest.approx(0.01), "taut film lets go down to where it is just slack"
    assert _after(0.01, 80, 0.02, 1e5) == 0.01, "slack film never grows again"


@given(
    st.floats(0, 0.03), st.floats(60, 240), st.floats(0, 0.03), st.floats(0.001, 3), st.integers(2, 9)
)  # fmt: skip
def test_shrinking_in_parts_is_shrinking_at_once(
    shrunk: float, film_c: float, required: float, seconds: float, parts: int
) -> None:
    """Each piece is solved exactly, across the place where film becomes taut: so parts do not matter."""
    at = shrunk
    for _ in range(parts):
        at = _after(at, film_c, required, seconds / parts)
    assert at == pytest.approx(_after(shrunk, film_c, required, seconds), abs=1e-9)


@given(st.floats(0, 0.03), st.floats(60, 230), st.floats(0, 60), st.floats(0.01, 2))
def test_hotter_slack_film_never_shrinks_less(shrunk: float, film_c: float, more: float, seconds: float) -> None:
    required = 0.2  # slack whatever it gives
    assert _after(shrunk, film_c + more, required, seconds) >= _after(shrunk, film_c, required, seconds) - 1e-15


@given(st.floats(0, 0.01), st.floats(60, 230), st.floats(0.005, 0.03), st.floats(0, 0.02), st.floats(0.01, 2))
def test_a_film_that_gives_less_never_leaves_less_standing(
    shrunk: float, film_c: float, limit: float, more: float, seconds: float
) -> None:
    required = 0.2
    poor = _after(shrunk, film_c, required, seconds, limit=limit)
    assert poor <= _after(shrunk, film_c, required, seconds, limit=limit + more) + 1e-15


@given(st.floats(0, 0.03), st.floats(20, 240), st.floats(0, 0.03), st.floats(0, 5))
def test_nothing_but_the_limit_caps_what_film_shrinks(
    shrunk: float, film_c: float, required: float, seconds: float
) -> None:
    """What must go enters only as a difference: film goes past it, up to where its pull holds it."""
    after = _after(shrunk, film_c, required, seconds)
    assert 0 <= after <= max(shrunk, 0.03) + 1e-12
    if film_c > 150 and required < 0.025 and seconds > 2:
        assert after > required, "hot film shrinks past what must go"


def _alone(contact: Contact, *, film_c: float = 22.0) -> Sheet:
    sheet = bare(day_of(0, LEVEL))
    return replace(sheet, contact=np.full_like(sheet.contact, int(contact)), film=np.full_like(sheet.film, film_c))


def test_film_afloat_warms_as_its_closed_form_says() -> None:
    """Right under the jet on flat film: 100 of the gun, 10 of the air and 156 of the gap against 62 J/m²K."""
    lie, day = LEVEL.lies[Unrolled.ACROSS], day_of(0, LEVEL)
    u, v = (float(one[np.argmin(np.abs(one))]) for one in (lie.u, lie.v))
    gun = Stroke(0, Do.GUN, u, v)
    after, _ = stepped(_alone(Contact.AFLOAT), lie, gun, day, values=LEVEL.values, seconds=0.002)
    row, column = int(np.argmin(np.abs(lie.v))), int(np.argmin(np.abs(lie.u)))
    total = 100.0 + 10.0 + 156.0
    goal = (100.0 * 300 + 10.0 * 22 + 156.0 * 22) / total
    expected = goal + (22 - goal) * np.exp(-total * 0.002 / 62)
    assert after.film[row, column] == pytest.approx(expected, rel=1e-6)
    assert after.film[row, column] > after.film[0, 0]


def _stored(sheet: Sheet, board: Board) -> np.ndarray:
    film = 0.0 if not sheet.is_laid else 62.0 * sheet.film
    return film + 5250.0 * (sheet.outer + sheet.inner)


@pytest.mark.parametrize("contact", [Contact.AFLOAT, Contact.WET, Contact.PRESSED, Contact.BARE])
def test_the_books_of_heat_close(contact: Contact) -> None:
    """What the gun gave is in film and glass, or went to the air, to a millionth; over ten seconds of wandering."""
    board = BOWL
    lie, day = board.lies[Unrolled.ACROSS], day_of(3, board)
    sheet = _alone(contact)
    before = _stored(sheet, board)
    gun, air = np.zeros_like(before), np.zeros_like(before)
    for k in range(100):
        at = Stroke(k, Do.GUN, 250 * np.cos(k / 9), 150 * np.sin(k / 7), high=k % 3 > 0, near=0.6)
        sheet, went = stepped(sheet, lie, at, day, values=board.values, seconds=0.1)
        gun += went.gun
        air += went.air
    left = (_stored(sheet, board) - before + air - gun)[lie.on_glass]
    assert gun[lie.on_glass].sum() > 1e5
    assert np.abs(left).max() < 1e-6 * gun.max()


def test_wet_film_stays_far_under_boiling_until_its_water_is_out() -> None:
    run = acted(calm(bowl(0.02)), (*WET, ("gun", 0, 150, 1, 100, 150)))
    glass = run.lie.on_glass
    assert run.hottest_film < 80
    assert run.trace is not None
    assert (run.sheet.contact[glass] == Contact.WET).any()
    assert run.sheet.shrunk[glass].max() < FLAT


def _smooth(parts: float, board: Board, *, steps: int = 120) -> Run:
    strokes = [
        Stroke(0, Do.SHEET), Stroke(12, Do.LAY), Stroke(13, Do.H),
        *(Stroke(20 + k, Do.GUN, -200 + 3.2 * k, 110 + 40 * np.sin(k / 25), high=False, near=0.9) for k in range(steps)),
    ]  # fmt: skip
    return played(begin(board, seed=5), strokes, until=20 + steps + 30, step_s=parts)


def test_half_the_step_gives_the_same_film() -> None:
    """Under one fixed log the field converges: a halved step moves it by little, halved again by less."""
    runs = [_smooth(step, calm(bowl(0.006))) for step in (0.1, 0.05, 0.025)]
    glass = runs[0].lie.on_glass
    first, second = (float(np.abs(a.sheet.shrunk - b.sheet.shrunk)[glass].max()) for a, b in pairwise(runs))
    assert runs[0].sheet.shrunk[glass].max() > 0.002, "something was shrunk"
    assert first < 0.0002, "a fiftieth of a point"
    assert second < 0.75 * first
    warm = [np.abs(a.sheet.film - b.sheet.film)[glass].max() for a, b in pairwise(runs)]
    assert warm[0] < 3.0
    assert warm[1] < warm[0]


_AGAIN = """
import hashlib, sys
from tests.catalogue.practice import LESSONS, lesson_board
from elumbra.core.practice import shown
run = shown(lesson_board(LESSONS[0]), seed=11, school=LESSONS[0].school).run
print(hashlib.sha256(run.sheet.shrunk.tobytes() + run.sheet.film.tobytes() + run.marks.tobytes()).hexdigest(), run.step)
"""


def test_the_same_seed_and_strokes_give_the_same_end_in_another_process() -> None:
    told = [
        subprocess.run(
            [sys.executable, "-c", _AGAIN], capture_output=True, text=True, check=True, timeout=300,
            env={"PYTHONPATH": "src:.", "PYTHONHASHSEED": seed, "OPENBLAS_NUM_THREADS": threads},
        ).stdout
        for seed, threads in effort((("2", "2"),), (("1", "1"), ("2", "2")))
    ]  # fmt: skip
    assert len(set(told)) == 1
    done = shown(lesson_board(LESSONS[0]), seed=11, school=LESSONS[0].school)
    content = done.run.sheet.shrunk.tobytes() + done.run.sheet.film.tobytes() + done.run.marks.tobytes()
    assert told[0].split()[0] == hashlib.sha256(content).hexdigest()
    rows = json.loads(json.dumps([one.row() for one in done.strokes]))
    again = played(begin(done.run.board, seed=11), read_strokes(rows), until=done.run.step)
    assert np.array_equal(again.sheet.shrunk, done.run.sheet.shrunk), "played from its log, in one go"
    half = [one for one in done.strokes if one.step < 200]
    rest = [one for one in done.strokes if one.step >= 200]
    parted = played(played(begin(done.run.board, seed=11), half, until=200), rest, until=done.run.step)
    assert np.array_equal(parted.sheet.shrunk, done.run.sheet.shrunk), "or in two"
    assert parted.events == done.run.events


def test_another_seed_is_another_lot_and_another_day() -> None:
    days = [day_of(seed, BOWL_AS_SHIPPED) for seed in range(200)]
    limits = np.array([day.limit for day in days]) / 0.03
    assert abs(limits.mean() - 1) < 0.01
    assert 0.01 < limits.std() < 0.03
    assert len(set(days)) == 200


BOWL_AS_SHIPPED = bowl()

# What a hand does, the slip that must come of it first, and near where.
SLIPS: Sequence[tuple[str, Board, tuple[Move, ...], str, tuple[float, float]]] = (
    ("card on a cold finger", BOWL, (*READY, ("card", 0, 75)), "cold_crease", (0, 78)),
    ("glove on a cold finger", BOWL, (*READY, ("glove", 0, 60)), "cold_crease", (0, 78)),
    ("warmed for a moment, not yet soft", BOWL, (*READY, ("gun", 0, 75, 1, 40, 2), ("card", 0, 75)), "cold_crease", (0, 78)),
    ("heated long ago and cold again", DEEP, (*READY, ("gun", 0, 55, 1, 40, 2), ("wait", 60), ("card", 0, 55)), "cold_crease", (0, 62)),
    ("pressed below what was heated", BOWL, (*READY, ("gun", 0, 60, 1, 100, 3), ("wait", 30), ("card", 0, 115)), "below_heat", (0, 115)),
    ("the same above the line's other side", BOWL, (*READY, ("gun", 90, -60, 1, 100, 3), ("wait", 30), ("card", 90, -115)), "below_heat", (90, -115)),
    ("soft, much of it still standing", DEEP, (*READY, ("gun", 0, 85, 1, 100, 3), ("card", 0, 85)), "early_crease", (0, 86)),
    ("pressed at the edge first", BOWL, (*READY, ("card", 0, 150)), "shut_in", (0, 150)),
    ("the edge heated and pressed, the middle left", DEEP, (*READY, ("gun", 0, 190, 1, 70, 12), ("wait", 9), ("card", 0, 185)), "shut_in", (0, 185)),
    ("the foot first", BOWL, (*READY, ("card", -120, -170)), "shut_in", (-120, -170)),
    ("no dryer sheet", BOWL, (("lay", "across"), ("h", "across"), ("card", 0, 75)), "clinging", (0, 78)),
    ("the sheet half-dry", BOWL, (("sheet",), ("wait", 3), ("lay", "across"), ("h", "across"), ("card", 0, 75)), "clinging", (0, 78)),
    ("half-dry film, heated all the same", DEEP, (("lay", "across"), ("h", "across"), ("gun", 0, 150, 1, 100, 6), ("card", 0, 75)), "clinging", (0, 78)),
    ("pressed too hot", POOR, (*READY, ("gun", 0, 150, 1, 100, 6), ("card", 0, 150)), "hot_pinch", (0, 150)),
    ("shrunk too far, pressed soft", LEVEL, (*READY, ("gun", 100, 20, 1, 100, 15), ("card", 100, 20)), "late_pinch", (100, 20)),
    ("heated past the side line", BOWL, (*READY, ("gun", 260, 150, 1, 100, 6)), "dragged", (264, 150)),
    ("past the other side line, at the foot", BOWL, (*READY, ("gun", -262, -150, 1, 100, 6)), "dragged", (-264, -150)),
    ("a poor film held under the jet", POOR, (*READY, ("gun", 0, 150, 1, 100, 7)), "haze", (0, 156)),
    ("fingers along the roll take no end of heat", BOWL, (*READY[:2], ("lay", "up"), ("h", "across"), ("gun", 0, 150, 1, 100, 9)), "haze", (0, 150)),
    ("the jet stands on film that is down", LEVEL, (*READY, *((("card", x, y)) for x in range(40, 161, 40) for y in (-40, -20, 20, 40)), ("gun", 100, 0, 1, 100, 100)), "glass_hot", (100, 0)),
    ("the jet on bare glass", LEVEL, (("gun", 100, 50, 1, 100, 90),), "glass_hot", (100, 50)),
    ("heated hard with water under it", BOWL, (*WET, ("gun", 0, 150, 1, 100, 80)), "trails", (0, 150)),
    ("water got under floating film", BOWL, (*READY, ("mist", 0, 150), ("gun", 0, 150, 1, 100, 80)), "trails", (0, 150)),
    ("cut before the edge had shrunk", BOWL, (*READY, ("trim",)), "trimmed_early", (0, 0)),
    ("no H", BOWL, (*READY[:3], ("gun", 0, 150, 1, 100, 6)), "askew", (0, 150)),
    ("H lifted, then heated", BOWL, (*READY, ("lift",), ("gun", 0, 150, 1, 100, 6)), "askew", (0, 150)),
)  # fmt: skip


@pytest.mark.parametrize(("about", "board", "moves", "rule", "place"), SLIPS, ids=[one[0] for one in SLIPS])
def test_each_slip_gives_its_damage_at_its_place_with_its_hint(
    about: str, board: Board, moves: tuple[Move, ...], rule: str, place: tuple[float, float]
) -> None:
    run = acted(board, moves)
    assert [event.rule for event in run.events][:1] == [rule], about
    first = run.events[0]
    assert np.hypot(first.x - place[0], first.y - place[1]) < 25
    assert (run.marks[run.lie.on_glass] & int(BY_NAME[rule].damage)).any()
    assert ruined(run)
    hint = mistake(first)
    assert hint.words == f"{BY_NAME[rule].words} {BY_NAME[rule].instead}"
    assert hint.at == (first.x, first.y)
    assert not score_of(run).passed


def test_every_rule_has_a_slip_a_source_and_its_own_words() -> None:
    shown_by = {one[3] for one in SLIPS} | {"burn", "hole"}
    assert shown_by == {rule.name for rule in RULES}
    assert len({rule.words for rule in RULES}) == len(RULES)
    assert all(rule.source.startswith(("handbook, section", "our assumption")) for rule in RULES)
    assert sum(Damage) == sum({rule.damage for rule in RULES}), "every damage can happen"


def test_a_finger_that_never_draws_in_hazes_then_burns_then_holes_in_that_order() -> None:
    run = acted(POOR, (*READY, ("gun", 0, 195, 1, 100, 60)))
    first = {rule: next(event.step for event in run.events if event.rule == rule) for rule in ("haze", "burn", "hole")}
    assert first["haze"] < first["burn"] < first["hole"]
    assert run.hottest_film > 250


# What a hand does, and what the tutor says next, with the school.
NEXT: Sequence[tuple[str, Board, tuple[Move, ...], School, str]] = (
    ("nothing", BOWL, (), School.DRY, "sheet"),
    ("nothing, on slip", BOWL, (), School.WET, "wet"),
    ("the sheet is wiped on", BOWL, READY[:1], School.DRY, "wait"),
    ("it has dried", BOWL, READY[:2], School.DRY, "lay"),
    ("slip is on", BOWL, WET[:1], School.SNAP, "lay"),
    ("film is on", BOWL, READY[:3], School.DRY, "h"),
    ("the H is pressed", BOWL, READY, School.DRY, "heat"),
    ("laid wet", BOWL, WET, School.WET, "water"),
    ("laid half-dry", BOWL, READY[:1] + READY[2:], School.DRY, "clings"),
    ("lifted and wiped", BOWL, (*READY[:1], *READY[2:], ("lift",)), School.DRY, "h"),
    ("H the wrong way", BOWL, (*READY[:2], ("lay", "up"), ("h", "across")), School.DRY, "sideways"),
    ("far too hot", POOR, (*READY, ("gun", 0, 150, 1, 100, 6)), School.DRY, "too_hot"),
    ("shrunk too far", LEVEL, (*READY, ("gun", 100, 20, 1, 100, 15)), School.DRY, "drum"),
    ("a finger drew in", DEEP, (*READY, ("gun", 0, 70, 1, 70, 5)), School.DRY, "press"),
    ("nothing stands anywhere", LEVEL, READY, School.DRY, "press"),
    ("one spot on thick glass too long", BOWL, (*READY, ("gun", 100, 0, 1, 100, 38)), School.DRY, "glass_uneven"),
    ("laminated glass says so sooner", calm(bowl(laminated=True)), (*READY, ("gun", 100, 0, 1, 100, 22)), School.DRY, "glass_uneven"),
)  # fmt: skip


@pytest.mark.parametrize(("about", "board", "moves", "school", "hint"), NEXT, ids=[one[0] for one in NEXT])
def test_the_tutor_says_the_one_thing_to_do_now(
    about: str, board: Board, moves: tuple[Move, ...], school: School, hint: str
) -> None:
    run = acted(board, moves)
    told = next_hint(screen_of(run), school=school, values=board.values, laminated=board.laminated)
    assert told.about == hint, about
    assert told.words.endswith(".")
    assert not run.events


def test_a_cold_drum_line_will_not_lie_down_and_gentle_heat_lets_it_go() -> None:
    """Shrunk by 0.15 points too far and cold: it stays, and is not pressed; at some 105 °C it stretches back."""
    ready = acted(LEVEL, READY)
    taut = replace(ready, sheet=replace(ready.sheet, shrunk=np.full_like(ready.sheet.shrunk, 0.0015)))
    assert (screen_of(taut).looks[taut.lie.on_glass & taut.sheet.loose] == Looks.DRUM).all()
    step = taut.step
    cold = played(taut, [Stroke(step, Do.CARD, 100, 20)], until=step + 20)
    assert not cold.events
    assert not (cold.sheet.contact == Contact.PRESSED).any()
    spot = (int(np.argmin(np.abs(taut.lie.v - 20))), int(np.argmin(np.abs(taut.lie.u - 100))))
    assert screen_of(cold).looks[spot] == Looks.DRUM
    gentle = [Stroke(step + k, Do.GUN, 100, 20, high=False) for k in range(30)]
    healed = played(taut, gentle, until=step + 30)
    assert screen_of(healed).looks[spot] == Looks.FLOATS
    assert not healed.events


def test_strokes_off_the_glass_do_nothing() -> None:
    off = acted(BOWL, (*READY, ("gun", 900, 900, 1, 100, 20), ("card", -4000, 0), ("glove", 0, 900)))
    assert not off.events
    assert off.hottest_film < 25


def test_a_card_takes_down_what_a_glove_does_not() -> None:
    board = calm(bowl(0.0075))
    warm = (*READY, ("gun", 0, 90, 1, 100, 3))
    assert not acted(board, (*warm, ("card", 0, 75))).events
    assert acted(board, (*warm, ("glove", 0, 75))).events


def test_water_is_pressed_out_before_anything_lies_down_and_that_ruins_nothing() -> None:
    run = acted(BOWL, (*WET, ("card", 0, 150), ("card", 0, 30)))
    assert not run.events
    contact = run.sheet.contact[run.lie.on_glass]
    assert (contact == Contact.AFLOAT).any(), "what stands has only lost its water"
    assert (contact == Contact.PRESSED).any(), "what lies flat is down"


def test_what_lies_across_the_roll_is_never_taken_by_heat() -> None:
    """Roll along the car, H across it: the excess along the cross line stays, whatever the heat."""
    moves = (*READY[:2], ("lay", "up"), ("h", "across"), ("gun", 0, 150, 1, 60, 40), ("gun", 90, -120, 0, 100, 40))
    run = acted(BOWL, moves)
    assert not run.sheet.along
    assert np.array_equal(run.sheet.standing(run.lie), run.lie.required)
    assert run.sheet.shrunk.max() > FLAT, "it shrank the other way, to no use"


def test_fingers_stand_where_too_much_is_left_as_high_as_the_formula_says() -> None:
    """Evenly too long by 1 %: as many as wave lengths fit, evenly spread, each (2λ/π)·√0.01 high."""
    board = calm(bowl(0.0))
    lie = replace(board.lies[Unrolled.ACROSS], required=np.full((40, 60), 0.01))
    sheet = _alone(Contact.AFLOAT)
    found = [one for one in ridges(sheet, lie, values=board.values) if one.row == 20]
    span = lie.on_glass[20].sum() * lie.cell[0]
    count = round(span / 120)
    assert len(found) == count
    wave = span / count
    assert [one.high for one in found] == pytest.approx([2 * wave / np.pi * 0.1] * count)
    assert np.diff([one.u for one in found]) == pytest.approx([wave] * (count - 1))
    assert not any(one.soft for one in found)
    warm = replace(sheet, film=np.full((40, 60), 130.0))
    assert all(one.soft for one in ridges(warm, lie, values=board.values))
    pinned = replace(sheet, contact=np.where(lie.over_u < 0, Contact.PRESSED, Contact.AFLOAT).astype(np.uint8))
    assert all(one.u > 0 for one in ridges(pinned, lie, values=board.values)), "none where film is held"
    assert not ridges(_alone(Contact.AFLOAT), board.lies[Unrolled.ACROSS], values=board.values), "none on flat glass"


BAD_ROWS: Sequence[tuple[list[list[object]], str]] = (
    ([[3, "gum", 1, 1]], "Stroke 1: “gum” is nothing that a hand does here."),
    ([[3, "gun", 1, 1]], "Stroke 1: “gun” takes 4 more, not 2."),
    ([[3, "gun", 1, 1, 2, 50]], "Stroke 1: the gun is low (0) or high (1), and near by 10 to 100 percent."),
    ([[3, "gun", 1, 1, 1, 500]], "Stroke 1: the gun is low (0) or high (1), and near by 10 to 100 percent."),
    ([[3, "card", float("nan"), 1]], "Stroke 1: “card” takes numbers."),
    ([[3, "card", "1", 1]], "Stroke 1: “card” takes numbers."),
    ([[3, "card", True, 1]], "Stroke 1: “card” takes numbers."),
    ([[3, "card", 1e9, 1]], "Stroke 1 is more than 5 m off the glass."),
    ([[3, "lay", "down"]], "Stroke 1: “down” is no way; across or up."),
    ([[3, "look", 1]], "Stroke 1: “look” takes 0 more, not 1."),
    ([[3]], f"Stroke 1 does not begin with a step from 0 to {MOST_STEPS - 1}: a run is a quarter of an hour."),
    (
        [["3", "look"]],
        f"Stroke 1 does not begin with a step from 0 to {MOST_STEPS - 1}: a run is a quarter of an hour.",
    ),
    ([[-1, "look"]], f"Stroke 1 does not begin with a step from 0 to {MOST_STEPS - 1}: a run is a quarter of an hour."),
    (
        [[10**9, "look"]],
        f"Stroke 1 does not begin with a step from 0 to {MOST_STEPS - 1}: a run is a quarter of an hour.",
    ),
    (
        [[5, "look"], [4, "look"]],
        "Stroke 2 is of step 4, and step 5 is past. Strokes come in order; take up the run from where it stands.",
    ),
    ([[7, "card", 1, 1]] * 9, "Step 7 has more than 8 strokes: two hands do no more in a tenth."),
)


@pytest.mark.parametrize(("rows", "words"), BAD_ROWS)
def test_strokes_that_no_hand_makes_are_refused_in_words(rows: list[list[object]], words: str) -> None:
    with pytest.raises(StrokeError) as refused:
        read_strokes(rows)
    assert refused.value.message == words


def test_a_run_that_nobody_ends_is_over_after_a_quarter_of_an_hour() -> None:
    late = replace(begin(LEVEL, seed=0), step=MOST_STEPS - 2)
    assert not played(late, (), until=MOST_STEPS - 1).over
    assert played(late, (), until=MOST_STEPS).over


def test_a_run_goes_neither_back_nor_past_its_end() -> None:
    run = played(begin(BOWL, seed=0), (), until=40)
    for strokes, until, words in (
        ((), 30, "The run stands at step 40 and ends at 9000: it cannot go to 30."),
        ((), 9001, "The run stands at step 40 and ends at 9000: it cannot go to 9001."),
        ((Stroke(39, Do.LOOK),), 50, "A stroke of step 39 lies outside of steps 40 to 49."),
        ((Stroke(50, Do.LOOK),), 50, "A stroke of step 50 lies outside of steps 40 to 49."),
    ):
        with pytest.raises(StrokeError) as refused:
            played(run, strokes, until=until)
        assert refused.value.message == words
    over = acted(BOWL, (*READY, ("look",), ("card", 0, 75)))
    assert over.over
    assert not over.events, "nothing is done after the look"
    with pytest.raises(StrokeError):
        begin(replace(BOWL, lies={}), seed=0)


@given(
    st.lists(
        st.lists(st.one_of(st.integers(-5, 9999), st.sampled_from([*Do, "x", None, 0.5, "up"])), max_size=7),
        max_size=30,
    )
)
@examples(60)
def test_whatever_rows_come_they_are_played_or_refused(rows: list[list[object]]) -> None:
    try:
        strokes = read_strokes(rows)
    except StrokeError as error:
        assert error.message
        return
    assert [list(one.row()) for one in strokes] == [list(one.row()) for one in read_strokes([s.row() for s in strokes])]


@given(st.data())
@examples(15)
def test_whatever_hands_do_the_film_stays_within_what_film_can_be(data: st.DataObject) -> None:
    moves: list[Move] = list(data.draw(st.sampled_from([READY, WET, READY[:3], (), READY[:1] + READY[2:]])))
    place = st.tuples(st.integers(-330, 330), st.integers(-230, 230))
    for _ in range(data.draw(st.integers(1, 12))):
        x, y = data.draw(place)
        kind = data.draw(st.sampled_from(["gun", "card", "glove", "mist", "lift", "h", "trim", "wait"]))
        moves.append(
            ("gun", x, y, data.draw(st.integers(0, 1)), data.draw(st.integers(10, 100)), data.draw(st.integers(1, 25)))
            if kind == "gun" else ("wait", 5) if kind == "wait" else ("h", "up") if kind == "h"
            else (kind, x, y) if kind in ("card", "glove", "mist") else (kind,)
        )  # fmt: skip
    run = acted(BOWL, moves, seed=data.draw(st.integers(0, 9)))
    assert np.isfinite(run.sheet.film).all()
    assert run.sheet.film.min() >= run.day.room - 1e-6
    assert run.sheet.film.max() <= 300
    assert run.sheet.outer.min() >= run.day.room - 1e-6
    assert run.sheet.shrunk.min() >= 0
    assert run.sheet.shrunk.max() <= run.day.limit + 1e-9
    assert 0 <= score_of(run).points <= 100
    screen = screen_of(run)
    assert screen.looks.max() <= max(Looks)
    assert not (ruined(run) and score_of(run).passed)


# ---- Panes that can be done, and hands that cannot.


def _ends_right(run: Run) -> None:
    """All of it down, within 0.10 points of what must go, nothing ruined; the H's own lines apart."""
    glass = run.lie.on_glass
    off = np.abs(run.lie.required - run.sheet.shrunk)
    free = glass & (run.sheet.contact != Contact.HELD)
    assert not run.events
    assert off[free].max() <= FLAT + 1e-9
    assert (run.sheet.contact[free] == Contact.PRESSED).all()
    score = score_of(run)
    assert score.passed
    assert score.headline == "Passed: it lies flat and nothing was ruined."
    assert score.points >= 90
    assert run.hottest_glass < 55


@pytest.mark.parametrize("lesson", sample(LESSONS, 2), ids=lambda one: one.key)
def test_the_planned_strokes_pass_every_lesson(lesson: Lesson) -> None:
    done = shown(lesson_board(lesson), seed=7, school=lesson.school)
    _ends_right(done.run)
    assert len(json.dumps([one.row() for one in done.strokes])) < 200_000


def test_lessons_rise_from_a_snap_to_a_hard_one_with_good_film_and_poor() -> None:
    words = [lesson_board(one).word for one in LESSONS]
    assert words == [
        ShrinkWord.SNAP, ShrinkWord.CARD, ShrinkWord.CARD, ShrinkWord.CARD, ShrinkWord.HARD, ShrinkWord.HARD
    ]  # fmt: skip
    assert {one.school for one in LESSONS} == set(School)
    assert sorted({one.limit for one in LESSONS}) == [0.015, 0.03]
    assert all(one.pane["made_up"] for one in LESSONS)
    twice = {"lessons": [*read_data("lessons.json")["lessons"]] * 2}
    with pytest.raises(CoreError) as refused:
        parse_lessons(twice)
    assert refused.value.message == "Lesson “door” stands twice."


def _demo_panes() -> list[tuple[str, Callable[[], Board]]]:
    """A few panes of the demo shelf that bend both ways and take a good film."""
    found: list[tuple[str, Callable[[], Board]]] = []
    for car in parse_shelf_file(read_bytes("shelf_demo.json")).cars[:25]:
        for pane in car.panes:
            if pane.curve.value in ("both_ways", "strong") and "crown_up" in pane.readings and pane.same_as is None:
                found.append((f"{car.name}, {pane.label}", lambda pane=pane: board_of_part(pane, 0.03)))  # type: ignore[misc]
    return found[::5][:3]


@pytest.mark.parametrize(("name", "board"), _demo_panes(), ids=[one[0] for one in _demo_panes()])
def test_the_planned_strokes_do_panes_of_the_demo_shelf(name: str, board: Callable[[], Board]) -> None:
    made = board()
    if made.word is ShrinkWord.WILL_NOT:
        pytest.fail(f"{name} takes no good film: choose another")
    _ends_right(shown(made, seed=3).run)


def test_the_planned_strokes_do_a_sphere_and_its_map_is_the_closed_form() -> None:
    """Sphere of 2.2 m: 1 − cos(v/R), within what a tape to a sixteenth leaves of R; then down to the last cell."""
    board = board_of_part(barrel_part(across=1 / 2200, up=1 / 2200, curve=Curve.BOTH_WAYS), 0.03)
    lie = board.lies[Unrolled.ACROSS]
    expected = 1 - np.cos(lie.v / 2195.0)  # inside, under 5 mm of glass
    column = int(np.argmin(np.abs(lie.u)))
    inside = lie.on_glass[:, column]
    assert np.abs(lie.required[inside, column] / expected[inside] - 1)[np.abs(lie.v[inside]) > 50].max() < 0.06
    _ends_right(shown(board, seed=4).run)


def test_a_cylinder_needs_no_heat() -> None:
    """Bowed one way: nothing stands, and pressing it cold from the middle outward is all."""
    board = board_of_part(barrel_part(across=0.0, up=1 / 1600, curve=Curve.ONE_WAY), 0.03)
    lie = board.lies[Unrolled.ACROSS]
    assert lie.required[lie.on_glass].max() < 1e-6
    run = shown(board, seed=1).run
    _ends_right(run)
    assert run.hottest_film < 30, "the robot never takes up the gun"


TURNED = [
    pytest.param(LESSONS[0], 0.03, id="a door, turned, good film"),
    pytest.param(LESSONS[0], 0.004, id="a door, turned, a film that hardly gives"),
    pytest.param(LESSONS[5], 0.03, id="a strongly curved back glass, turned"),
]


@pytest.mark.parametrize(("lesson", "limit"), sample(TURNED, 2, seed=2))
def test_film_and_h_turned_together_succeed_exactly_where_heat_allows_it(lesson: Lesson, limit: float) -> None:
    board = lesson_board(lesson, limit=limit)
    lie = board.lies.get(Unrolled.UP)
    needs = 1.0 if lie is None else float(lie.required[lie.on_glass].max())
    allowed = Bears.of(limit, starting=V).word(needs).releases
    if lie is None:
        assert not allowed
        return
    done = carried_out(
        calm(board), lambda eyes: _patient(eyes, lesson.school), seed=2, most=4000
    )  # fmt: skip
    assert score_of(done.run).passed == allowed
    wrong = shown(board, seed=2, school=School.DRY, film=Unrolled.UP, h=Unrolled.ACROSS) if allowed else None
    assert wrong is None or not score_of(wrong.run).passed, "the H across the roll: no heat takes the fingers"


def _patient(eyes: Eyes, school: School):  # type: ignore[no-untyped-def]
    from elumbra.core.practice import by_plan

    return by_plan(eyes, school=school, film=Unrolled.UP, h=Unrolled.UP)


@pytest.mark.parametrize("hand", POOR_HANDS, ids=[one.name for one in POOR_HANDS])
def test_poor_hands_fail_and_for_the_right_reason(hand: PoorHand) -> None:
    board = lesson_board(LESSONS[1])
    failed = 0
    hands = effort(5, 100)
    for seed in range(hands):
        chance = np.random.default_rng(seed)
        run = carried_out(board, lambda eyes, chance=chance: hand(eyes, chance), seed=seed, most=1500).run  # type: ignore[misc]
        score = score_of(run)
        failed += not score.passed and bool({event.rule for event in run.events} & hand.reasons)
    assert failed >= 0.99 * hands
