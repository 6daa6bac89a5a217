"""Flaws: causes as a hand-written table says, decisions by the standard, what a run records, what papers may say."""

from __future__ import annotations

import copy
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elumbra.core.bay import Event, Happened, blank_situation, make_run, progress_of
from elumbra.core.bay.situation import Hands
from elumbra.core.errors import CoreError
from elumbra.core.film import Colour, Construction, Film, Warranty
from elumbra.core.glass import Outline, Position, WindowKind, rectangle_outline
from elumbra.core.inspection import (
    MOST_QUESTIONS,
    Bears,
    Call,
    Decision,
    Fitted,
    FlawTableError,
    Outcome,
    Part,
    RunRecord,
    Seen,
    Standard,
    StandardRule,
    Told,
    Unit,
    Wetness,
    Wording,
    Zone,
    advise_call,
    certify,
    evidence_of,
    judge_flaws,
    parse_flaw_book,
    parse_standard,
    place_of,
    rank_causes,
    verdicts_on_reading,
)
from elumbra.core.law import RegisteredAs, VehicleClass, VerdictWord
from elumbra.core.light import GlassSource
from elumbra.core.survey import CAR_FINDINGS, WINDOW_FINDINGS
from elumbra.core.work import Car, Job, Vehicle, Window, look_over
from tests.catalogue.flaws import BOOK, DATA, TABLE, FlawCase
from tests.catalogue.law import LAW
from tests.catalogue.panes import starting
from tests.catalogue.steps import BOOK as STEPS
from tests.effort import examples, sample

OURS = BOOK.standard


def judged(*flaws: Seen, standard: Standard = OURS) -> dict[str, Decision]:
    return {name: one.decision for name, one in judge_flaws(BOOK, flaws, standard, starting=starting()).items()}


def speck(name: str, x: float = 0.0, *, size: float | None = 0.8, window: str = "w", **over: Any) -> Seen:
    return Seen(name, window, "speck", over.pop("zone", Zone.VIEW), Wetness.SET, size, x_mm=x, **over)


# --- causes and decisions


def test_the_table_is_large_and_names_every_kind() -> None:
    assert len(TABLE) >= 60
    assert {one.kind for one in TABLE} == set(BOOK.flaws)
    assert {one.first for one in TABLE} >= set(BOOK.causes) - {
        "trapped_air",
        "worn_card",
        "cold_tack",
        "fingers_sideways",
    }


@pytest.mark.parametrize("case", TABLE, ids=lambda case: case.id)
def test_the_first_cause_and_the_decision_are_the_trades(case: FlawCase) -> None:
    ranked = rank_causes(BOOK, case.kind, case.facts, starting=starting()).ranked
    assert ranked[0].cause.id == case.first, [(one.cause.id, round(one.share, 2)) for one in ranked]
    seen = Seen("a", "w", case.kind, Zone(case.zone), Wetness(case.state), case.size_mm, case.count)
    assert judged(seen)["a"] is Decision(case.decision)


# One fact less, and another cause comes first: the record is what tells them apart.
REMOVED = (
    ("finger", "+shrunk -pressed_again -sides_pressed", "shrunk", "not_pressed"),
    ("dots", "+seals_cleaned +at_side", "seals_cleaned", "dirty_seal"),
    ("lint", "-towel_at_glass +at_top -fluff_away", "at_top", "headliner"),
    ("lint", "-towel_at_glass +fluff_away +wind +waited", "wind", "waited_dust"),
    ("speck", "+old_film_was +glue_found", "glue_found", "glue_left"),
    ("speck", "+touched_panel +at_foot -old_film_was", "touched_panel", "dirt"),
    ("crease", "+retucked +at_foot", "retucked", "kinked_tuck"),
    ("light_gap", "+slid_late -twin_same", "slid_late", "shifted"),
    ("overhang", "+twin_same +at_top", "twin_same", "sits_high"),
    ("peeling", "+edges_sealed -corners_rounded +at_corner", "edges_sealed", "sharp_corner"),
    ("peeling", "+corners_rounded +lowered_early", "lowered_early", "not_sealed"),
    ("scratches", "+squeegee_clean +rubbed -fresh", "rubbed", "rubbed"),
    ("nick", "+at_top -nicks_out +twin_same", "twin_same", "fresh_edge"),
    ("faded", "+lot_repeats", "lot_repeats", "poor_film"),
)


@pytest.mark.parametrize(("kind", "facts", "without", "then"), REMOVED)
def test_removing_one_fact_changes_the_order_as_tabled(kind: str, facts: str, without: str, then: str) -> None:
    known = {one[1:]: Told.YES if one[0] == "+" else Told.NO for one in facts.split()}
    before = rank_causes(BOOK, kind, known, starting=starting()).ranked
    known.pop(without)
    after = rank_causes(BOOK, kind, known, starting=starting()).ranked
    assert after[0].cause.id == then, [(one.cause.id, round(one.share, 2)) for one in after]
    assert [round(one.share, 6) for one in before] != [round(one.share, 6) for one in after]


FACTS = sorted(BOOK.evidence)


@examples(200, deadline=None)
@given(
    kind=st.sampled_from(sorted(BOOK.flaws)),
    known=st.dictionaries(st.sampled_from(FACTS), st.sampled_from([Told.YES, Told.NO]), max_size=20),
)
def test_shares_add_up_reasons_are_true_and_questions_are_few(kind: str, known: dict[str, Told]) -> None:
    found = rank_causes(BOOK, kind, known, starting=starting())
    shares = [one.share for one in found.ranked]
    assert sum(shares) == pytest.approx(1)
    assert shares == sorted(shares, reverse=True)
    assert len(found.questions) <= MOST_QUESTIONS
    for one in found.ranked:
        assert all(known[said.fact] is said.told for said in (*one.speaks_for, *one.against))
        assert all(said.fact not in known and said.told is Told.UNKNOWN for said in one.unknown)
    for question in found.questions:
        assert question.fact not in known
        told = rank_causes(BOOK, kind, {**known, question.fact: Told.YES}, starting=starting())
        other = rank_causes(BOOK, kind, {**known, question.fact: Told.NO}, starting=starting())
        shares = [{one.cause.id: one.share for one in each.ranked} for each in (told, other)]
        assert shares[0] != pytest.approx(shares[1]), "the answer would change nothing"


def test_no_cause_and_no_fact_is_a_person() -> None:
    words = [one.words for one in (*BOOK.causes.values(), *BOOK.evidence.values())]
    for said in words:
        assert not {"learner", "installer", "lead", "careless", "who"} & set(said.lower().split()), said


def test_every_fact_is_told_from_what_there_is() -> None:
    """Steps, mishaps, findings and situations that the table names are there; a typing slip would be a fact for ever unknown."""
    findings = WINDOW_FINDINGS | CAR_FINDINGS
    for fact in BOOK.evidence.values():
        if fact.source in ("steps", "skipped"):
            assert set(fact.argument) <= set(STEPS.steps), fact.name
        if fact.source == "order":
            assert set(fact.argument["first"] + fact.argument["then"]) <= set(STEPS.steps), fact.name
        if fact.source == "wrong":
            assert set(fact.argument) <= set(STEPS.wrongs), fact.name
        if fact.source in ("situation", "day"):
            for name, values in fact.argument.items():
                assert set(values) <= set(STEPS.known[name]), fact.name
        if fact.source == "finding":
            for name, values in fact.argument.items():
                assert set(values) <= set(findings[name].options), fact.name
        if fact.source == "finding_read":
            assert set(fact.argument) <= set(findings), fact.name
    assert {one.wrong for one in BOOK.flaws.values()} <= set(STEPS.wrongs)


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda d: d["flaws"][0]["causes"].update(not_shrunkk=1), "“not_shrunkk” is no cause; the nearest known one is “not_shrunk”"),
        (lambda d: d["causes"][0]["facts"].update(shrunkk=[1, 1]), "“shrunkk” is no fact; the nearest known one is “shrunk”"),
        (lambda d: d["causes"][0]["facts"].update(shrunk=[0, 1]), "cannot weigh nothing"),
        (lambda d: d["flaws"].append(d["flaws"][0]), "stands twice"),
        (lambda d: d["flaws"][0].update(wet="redoo"), "“redoo” is no decision; the nearest known one is “redo”"),
        (lambda d: d["evidence"][0].update({"from": {"step": []}}), "“step” is no way of telling; the nearest known one is “steps”"),
        (lambda d: d["causes"].append({"id": "moon", "words": "", "section": "", "facts": {}}), "“moon” is the cause of no flaw"),
        (lambda d: d["standard"]["rules"].append(d["standard"]["rules"][0]), "speaks twice"),
    ],
)  # fmt: skip
def test_a_table_with_a_slip_is_refused_with_the_place(change: Any, says: str) -> None:
    document = copy.deepcopy(DATA)
    change(document)
    with pytest.raises(FlawTableError) as refusal:
        parse_flaw_book(document)
    assert says in refusal.value.message


# --- the standard


def test_counts_hold_by_window_or_by_car() -> None:
    two_each = [speck("a", 0), speck("b", 200), speck("c", 0, window="v"), speck("d", 200, window="v")]
    assert set(judged(*two_each).values()) == {Decision.KEEP}
    by_car = replace(OURS, unit=Unit.CAR)
    assert set(judged(*two_each, standard=by_car).values()) == {Decision.REDO}


def test_a_clump_may_not_stay_however_small() -> None:
    assert set(judged(speck("a", 0), speck("b", 20)).values()) == {Decision.REDO}
    assert set(judged(speck("a", 0), speck("b", 80)).values()) == {Decision.KEEP}


def test_touch_ups_run_out() -> None:
    finger = Seen("a", "w", "finger", Zone.EDGE, Wetness.WET, 5.0)
    tries = [judged(replace(finger, tries=tried))["a"] for tried in range(4)]
    assert tries == [Decision.TOUCH_UP, Decision.TOUCH_UP, Decision.REDO, Decision.REDO]


BADNESS = {Decision.KEEP: 0, Decision.TOUCH_UP: 1, Decision.REDO: 2}


@examples(300, deadline=None)
@given(
    kind=st.sampled_from(sorted(BOOK.flaws)),
    zone=st.sampled_from(list(Zone)),
    state=st.sampled_from(list(Wetness)),
    size=st.floats(0.1, 50),
    count=st.integers(1, 12),
    more=st.integers(1, 4),
)
def test_not_knowing_and_more_flaws_never_make_it_better(
    kind: str, zone: Zone, state: Wetness, size: float, count: int, more: int
) -> None:
    one = Seen("a", "w", kind, zone, state, size, count)
    known = BADNESS[judged(one)["a"]]
    assert BADNESS[judged(replace(one, size_mm=None))["a"]] >= known
    assert BADNESS[judged(replace(one, size_mm=size * 2))["a"]] >= known
    assert BADNESS[judged(replace(one, count=count + more))["a"]] >= known
    others = [replace(one, id=f"o{i}", x_mm=300.0 * (i + 1)) for i in range(more)]
    assert BADNESS[judged(one, *others)["a"]] >= known


def test_a_standard_that_lets_nothing_stay_and_one_that_is_none() -> None:
    bare = Standard(Unit.WINDOW, ())
    assert judged(speck("a"), standard=bare)["a"] is Decision.REDO
    with pytest.raises(FlawTableError):
        parse_standard(
            {"unit": "window", "rules": [{"kind": "speck", "zone": "view", "most": -1, "mm": 1}]}, BOOK.flaws
        )
    own = parse_standard({"unit": "car", "rules": []}, BOOK.flaws, own=True)
    assert own.rule("speck", Zone.VIEW) == StandardRule("speck", Zone.VIEW, 0, 0.0)


# --- places


TRAPEZOID = Outline(
    ring=np.array([[0.0, 0.0], [900.0, 0.0], [820.0, 400.0], [300.0, 400.0]]),
    corners=np.array([[0.0, 0.0], [900.0, 0.0], [820.0, 400.0], [300.0, 400.0]]),
    measured=True,
)


@pytest.mark.parametrize(
    ("x", "y", "zone", "parts"),
    [
        (0.5, 0.5, "view", {"middle"}),
        (0.5, 0.01, "hidden", {"foot"}),
        (0.5, 0.04, "edge", {"foot"}),
        (0.6, 0.97, "edge", {"top"}),
        (0.19, 0.5, "edge", {"side"}),  # the slanted pillar
        (0.94, 0.5, "edge", {"side"}),
        (0.97, 0.03, "edge", {"corner", "foot", "side"}),
        (0.36, 0.97, "edge", {"corner", "top", "side"}),
    ],
)
def test_where_a_mark_lies(x: float, y: float, zone: str, parts: set[str]) -> None:
    place = place_of(TRAPEZOID, x, y, starting=starting())
    assert (place.zone.value, {part.value for part in place.parts}) == (zone, parts)


def test_a_border_hides_as_far_as_it_was_read() -> None:
    pane = rectangle_outline(width=1000, height=400)
    assert place_of(pane, 0.5, 0.96, starting=starting()).zone is Zone.EDGE
    assert place_of(pane, 0.5, 0.96, starting=starting(), hidden={Part.TOP: 40.0}).zone is Zone.HIDDEN
    assert place_of(pane, 0.5, 0.04, starting=starting(), hidden={Part.TOP: 40.0}).zone is Zone.EDGE


@pytest.mark.parametrize(("x", "y"), [(0.0, 1.0), (-0.1, 0.5), (0.5, 1.5), (1.0, 1.0)])
def test_beside_the_glass_is_refused(x: float, y: float) -> None:
    with pytest.raises(CoreError, match="beside the glass"):
        place_of(TRAPEZOID, x, y, starting=starting())


def test_a_pane_without_outline_counts_as_looked_through() -> None:
    assert place_of(None, 0.5, 0.01, starting=starting()).zone is Zone.VIEW


# --- what a run records


def door_run(ticked: Any = None, *, phase: bool = False) -> tuple[Any, Any]:
    situation = blank_situation(STEPS, Hands()) | {
        "part": "window", "kind": "framed_door", "glass": "tempered", "covers": "full", "method": "bulk",
    }  # fmt: skip
    run = make_run(STEPS, situation, _Figures())
    keys = [one.key for one in run.steps if ticked is None or ticked(one)]
    events = [
        Event(f"e{i}", Happened.TICK, 1000.0 + 60 * i, "p", "P", "w", {"steps": [key], "level": "already" if phase else "step"})
        for i, key in enumerate(keys)
    ]  # fmt: skip
    return progress_of(STEPS, run, events, figures=_Figures()), events


class _Figures(dict[str, str]):
    def __missing__(self, key: str) -> str:
        return "1 in"


def told(record: RunRecord) -> dict[str, Told]:
    return evidence_of(BOOK, record, starting=starting())


def test_steps_that_were_passed_over_are_known_to_be_undone() -> None:
    whole, events = door_run()
    assert told(RunRecord(progress=whole, events=events))["seals_cleaned"] is Told.YES
    skipped, events = door_run(lambda one: not one.step.id.startswith("seals_"))
    assert told(RunRecord(progress=skipped, events=events))["seals_cleaned"] is Told.NO
    early, events = door_run(lambda one: one.phase.value in ("protect", "outside_prep"))
    assert told(RunRecord(progress=early, events=events))["seals_cleaned"] is Told.UNKNOWN
    already, events = door_run(phase=True)
    assert told(RunRecord(progress=already, events=events))["seals_cleaned"] is Told.UNKNOWN


def test_nothing_on_record_is_unknown_all_over() -> None:
    assert set(told(RunRecord()).values()) == {Told.UNKNOWN}


def test_each_way_of_telling() -> None:
    whole, events = door_run()
    pause = Event("x", Happened.PAUSE, events[-8].at, "p", "P", "w")
    wrong = Event("y", Happened.WRONG, 5.0, "p", "P", "w", {"what": "touched_panel"})
    back = Event("z", Happened.UNDO, 6.0, "p", "P", "w", {"event": "y"})
    record = RunRecord(
        progress=whole, events=[*events, wrong], situation={"how": "card", "temp": "cold", "wind": "no"},
        findings={"side_seals": "worn", "rain_guard": "2"}, day_said=True, film_off=True, glue="yes",
        film=Film(id="f", name="F", construction=Construction.DYED, vlt_percent=20, shrink_limit_percent=1.0),
        readings_doubted=False, twin_same=True, lot_repeats=False, days=2.0, cure_days=3.0,
        parts=frozenset({Part.SIDE}), answers={"retucked": Told.YES, "seals_cleaned": Told.NO},
    )  # fmt: skip
    found = told(record)
    yes = {"seals_poor", "rain_guard", "touched_panel", "much_to_shrink", "cold", "old_film_was", "glue_found", "film_dyed",
           "film_sheet_poor", "twin_same", "fresh", "at_side", "retucked", "seals_cleaned", "rinsed"}  # fmt: skip
    no = {
        "wind",
        "dropped",
        "readings_doubted",
        "lot_repeats",
        "years",
        "at_top",
        "hot",
        "door_shut_wet",
        "changed_hands",
    }
    assert {name for name in yes if found[name] is not Told.YES} == set()
    assert {name for name in no if found[name] is not Told.NO} == set()
    assert told(replace(record, day_said=False))["cold"] is Told.UNKNOWN
    assert told(replace(record, events=[*events, wrong, back]))["touched_panel"] is Told.NO
    assert told(replace(record, events=[*events, pause]))["paused_wet"] is Told.YES
    outside = replace(pause, at=0.0)
    assert told(replace(record, events=[*events, outside]))["paused_wet"] is Told.NO
    assert told(replace(record, days=400.0))["years"] is Told.YES


def test_two_people_and_long_minutes_are_seen_between_rinse_and_press() -> None:
    whole, events = door_run()
    shared = [replace(one, person="Q" if i % 2 else "P") for i, one in enumerate(events)]
    progress = progress_of(STEPS, whole.run, shared, figures=_Figures())
    assert told(RunRecord(progress=progress, events=shared))["changed_hands"] is Told.YES
    slow = [replace(one, at=1000.0 + 600 * i) for i, one in enumerate(events)]
    progress = progress_of(STEPS, whole.run, slow, figures=_Figures())
    assert told(RunRecord(progress=progress, events=slow))["waited"] is Told.YES


def frameless_run(*steps: tuple[str, float]) -> RunRecord:
    """A frameless door on which only these steps were ticked, at these times."""
    situation = blank_situation(STEPS, Hands()) | {
        "part": "window", "kind": "frameless_door", "glass": "tempered", "covers": "full", "method": "bulk",
    }  # fmt: skip
    run = make_run(STEPS, situation, _Figures())
    keys = {one.step.id: one.key for one in run.steps}
    events = [
        Event(f"e{i}", Happened.TICK, at, "p", "P", "w", {"steps": [keys[step]], "level": "step"})
        for i, (step, at) in enumerate(steps)
    ]
    return RunRecord(progress=progress_of(STEPS, run, events, figures=_Figures()), events=events)


@pytest.mark.parametrize(
    ("steps", "said"),
    [
        # Any heat before the last stroke pressed on water that was still there; heat after it did not.
        ([("frameless_heat", 10.0), ("door_press_sides", 20.0)], Told.YES),
        ([("door_press_sides", 10.0), ("frameless_heat", 20.0)], Told.NO),
        ([("frameless_heat", 10.0), ("door_press_sides", 20.0), ("frameless_foot_heat", 30.0)], Told.YES),
        ([("door_press_sides", 20.0), ("frameless_heat", 30.0), ("frameless_foot_heat", 40.0)], Told.NO),
        ([("frameless_heat", 20.0), ("door_press_sides", 20.0)], Told.NO),
        ([("frameless_heat", 10.0)], Told.UNKNOWN),
        ([("door_press_sides", 10.0)], Told.UNKNOWN),
        ([], Told.UNKNOWN),
    ],
)
def test_the_order_of_two_steps_speaks(steps: list[tuple[str, float]], said: Told) -> None:
    assert told(frameless_run(*steps))["heat_on_wet"] is said


# --- the reading and the papers


def fitted_car(states: tuple[str, ...]) -> Car:
    """A sedan metered all round, with one film on every window."""
    known = Film(id="f", name="F", construction=Construction.CARBON, vlt_percent=35, reflectance_percent=6,
                 mirror_finish=False, colours=(Colour.GREY,))  # fmt: skip
    places = {"df": Position.FRONT_SIDE, "dr": Position.REAR_SIDE, "bk": Position.REAR_WINDOW}
    windows = tuple(
        Window(
            id=name, label=name, kind=WindowKind.FRAMED_DOOR, position=position, film_id="f",
            bare_readings_percent=(75.0,), bare_vlt_percent=75.0, bare_vlt_source=GlassSource.METERED,
        )
        for name, position in places.items()
    )  # fmt: skip
    vehicle = Vehicle(
        label="sedan", vehicle_class=VehicleClass.PASSENGER, states=states, mirrors_both_sides=True, model_year=2020,
        registered_as=RegisteredAs.SEDAN, persons=5, truck_chassis=False, off_road_parts=False,
    )  # fmt: skip
    return look_over(Job(vehicle, windows, {"f": known}), LAW, starting=starting())


READINGS = [
    2.0,
    10.0,
    19.0,
    20.0,
    24.0,
    24.9,
    25.0,
    25.1,
    27.0,
    28.0,
    30.0,
    32.0,
    33.0,
    34.9,
    35.0,
    36.0,
    40.0,
    50.0,
    70.0,
]
STATES = sorted(LAW.records)


@pytest.mark.parametrize("state", sample(STATES, 8, seed=4))
def test_no_paper_says_lawful_unless_the_verdict_on_the_reading_does(state: str) -> None:
    """Every state on file, every window of a car, many readings: the word follows the law on the reading, and nothing else."""
    car = fitted_car((state,))
    for window in car.job.windows:
        for percent in READINGS:
            fitted = Fitted(percent / 100)
            verdicts = verdicts_on_reading(car, window.id, fitted)
            found = certify(verdicts, fitted, strip=False)
            (verdict,) = verdicts
            over = verdict.limit is None or percent / 100 >= verdict.limit - 1e-9
            lawful = verdict.word in (VerdictWord.CLEARS, VerdictWord.CLOSE) and over
            assert (found.wording is Wording.LAWFUL) == lawful, (state, window.label, percent, verdict.word)
            assert (found.wording is Wording.WITHIN) == (verdict.word is VerdictWord.WITHIN_TOLERANCE)
            if found.wording is Wording.NONE:
                assert found.why
        nothing = Fitted()
        assert certify(verdicts_on_reading(car, window.id, nothing), nothing, strip=False).wording is Wording.NONE


def test_a_darker_reading_never_makes_a_better_paper() -> None:
    rank = {Wording.LAWFUL: 2, Wording.WITHIN: 1, Wording.NONE: 0}
    for state in STATES:
        car = fitted_car((state,))
        for window in car.job.windows:
            words = []
            for percent in READINGS:
                fitted = Fitted(percent / 100)
                words.append(rank[certify(verdicts_on_reading(car, window.id, fitted), fitted, strip=False).wording])
            assert words == sorted(words), (state, window.label, words)


def test_the_worst_of_several_states_decides() -> None:
    car = fitted_car(("TX", "NM", "VA"))
    window = car.job.windows[0]
    fitted = Fitted(0.33)
    verdicts = verdicts_on_reading(car, window.id, fitted)
    assert len(verdicts) == 3
    assert certify(verdicts, fitted, strip=False).wording is Wording.NONE
    assert certify((), fitted, strip=False).why.startswith("No law was asked")


# --- calls


LIFETIME = Film(id="f", name="F", construction=Construction.CERAMIC, vlt_percent=50, warranty=Warranty.LIFETIME)
FIVE_YEARS = replace(LIFETIME, warranty=Warranty.YEARS, warranty_years=5.0)
BASE = Call("haze", 1, 5, LIFETIME, "L1", car_on_record=True)
NO = {"lowered_early": Told.NO, "rubbed": Told.NO, "cleaned_early": Told.NO}
WARRANTY = (
    # what is called about, over what is usual, outcome, who bears it
    (BASE, Outcome.NORMAL, Bears.NOBODY),
    (replace(BASE, days=5), Outcome.NORMAL, Bears.NOBODY),
    (replace(BASE, days=6), Outcome.TOUCH_UP, Bears.SHOP),
    (replace(BASE, days=None), Outcome.SHOW, Bears.UNKNOWN),
    (replace(BASE, kind="water_pocket", days=3), Outcome.NORMAL, Bears.NOBODY),
    (replace(BASE, kind="late_bubble", days=20), Outcome.TOUCH_UP, Bears.SHOP),
    (replace(BASE, kind="late_bubble", days=3), Outcome.NORMAL, Bears.NOBODY),
    (replace(BASE, kind="late_bubble", days=500), Outcome.TOUCH_UP, Bears.OWNER),
    (replace(BASE, kind="dots", days=30), Outcome.TOUCH_UP, Bears.SHOP),
    (replace(BASE, kind="crease", days=2), Outcome.REDO, Bears.SHOP),
    (replace(BASE, kind="light_gap", days=365), Outcome.REDO, Bears.SHOP),
    (replace(BASE, kind="light_gap", days=366), Outcome.REDO, Bears.OWNER),
    (replace(BASE, kind="peeling", days=9), Outcome.TOUCH_UP, Bears.UNKNOWN),
    (replace(BASE, kind="peeling", days=9, answers=NO), Outcome.TOUCH_UP, Bears.SHOP),
    (replace(BASE, kind="peeling", days=9, answers=NO | {"lowered_early": Told.YES}), Outcome.TOUCH_UP, Bears.OWNER),
    (replace(BASE, kind="scratches", days=40, answers=NO), Outcome.REDO, Bears.SHOP),
    (replace(BASE, kind="scratches", days=40, answers=NO | {"rubbed": Told.YES}), Outcome.REDO, Bears.OWNER),
    (replace(BASE, kind="faded", days=3 * 365), Outcome.REDO, Bears.MAKER),
    (replace(BASE, kind="faded", days=3 * 365, film=FIVE_YEARS), Outcome.REDO, Bears.MAKER),
    (replace(BASE, kind="faded", days=6 * 365, film=FIVE_YEARS), Outcome.REDO, Bears.OWNER),
    (replace(BASE, kind="faded", days=900, film=replace(FIVE_YEARS, warranty_years=None)), Outcome.REDO, Bears.UNKNOWN),
    (replace(BASE, kind="faded", days=900, lot=""), Outcome.REDO, Bears.UNKNOWN),
    (replace(BASE, kind="faded", days=900, car_on_record=False), Outcome.REDO, Bears.UNKNOWN),
    (replace(BASE, kind="faded", days=900, film=None), Outcome.REDO, Bears.UNKNOWN),
    (replace(BASE, kind="faded", days=900, film=replace(LIFETIME, warranty=Warranty.NONE)), Outcome.REDO, Bears.OWNER),
    (replace(BASE, kind="faded", days=900, film=replace(LIFETIME, warranty=Warranty.UNKNOWN)), Outcome.REDO, Bears.UNKNOWN),
    (replace(BASE, kind="nick", days=30, accepted_by="R. Alder"), Outcome.SHOW, Bears.OWNER),
    (replace(BASE, kind="score", days=30), Outcome.SHOW, Bears.SHOP),
)  # fmt: skip


@pytest.mark.parametrize(("call", "outcome", "bears"), WARRANTY)
def test_calls_are_answered_as_written_down(call: Call, outcome: Outcome, bears: Bears) -> None:
    found = advise_call(call, BOOK, starting=starting())
    assert (found.outcome, found.bears) == (outcome, bears), found
    assert found.say.endswith(".")
    if bears is Bears.UNKNOWN:
        assert found.missing or found.questions


KINDER = {Bears.NOBODY: 3, Bears.MAKER: 2, Bears.SHOP: 2, Bears.UNKNOWN: 0, Bears.OWNER: 0}


@examples(200, deadline=None)
@given(
    kind=st.sampled_from(sorted(BOOK.flaws)),
    days=st.integers(0, 4000),
    film=st.sampled_from([LIFETIME, FIVE_YEARS]),
    answers=st.dictionaries(st.sampled_from(sorted(NO)), st.sampled_from([Told.YES, Told.NO])),
)
def test_a_missing_fact_never_makes_an_answer_kinder(
    kind: str, days: int, film: Film, answers: dict[str, Told]
) -> None:
    whole = Call(kind, days, 5, film, "L1", car_on_record=True, answers=answers)
    kind_to = KINDER[advise_call(whole, BOOK, starting=starting()).bears]
    for lacking in (replace(whole, days=None), replace(whole, lot=""), replace(whole, car_on_record=False),
                    replace(whole, film=None), replace(whole, answers={})):  # fmt: skip
        assert KINDER[advise_call(lacking, BOOK, starting=starting()).bears] <= max(kind_to, 0) or lacking.answers == {}
    with pytest.raises(CoreError, match="no kind of flaw"):
        advise_call(replace(whole, kind="nothing"), BOOK, starting=starting())
