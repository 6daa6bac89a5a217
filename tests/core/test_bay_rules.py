"""The step file: its closed vocabulary, its order, and the hard rules, proven for everything at once."""

from __future__ import annotations

import copy
from functools import cache
from itertools import combinations, product
from random import Random
from typing import Any

import numpy as np
import pytest

from elumbra.core.bay import (
    FIGURES,
    LONGEST_SENTENCE,
    RULES,
    Mishap,
    Rule,
    Run,
    StepBook,
    StepFileError,
    broken,
    figures_in,
    filled,
    make_run,
    of_book,
    parse_step_book,
    with_mishap,
)
from elumbra.core.bay.prove import counterexample
from tests.catalogue.run_judge import judge
from tests.catalogue.run_order import ORDER
from tests.catalogue.situations import SITUATIONS, Wanted
from tests.catalogue.steps import BOOK, DOCUMENT, LONGEST, keys, random_situation, run_of, situation
from tests.effort import effort

SAMPLES = effort(2_000, 10_000)


@cache
def drawn() -> list[dict[str, str]]:
    """Situations by chance, made when they are first asked for."""
    chance = Random(11)
    return [random_situation(chance) for _ in range(SAMPLES)]


@cache
def runs() -> list[Run]:
    """The runs of those."""
    return [make_run(BOOK, told, LONGEST) for told in drawn()]


# ---- proofs


@pytest.mark.parametrize("rule", RULES, ids=lambda rule: rule.name)
def test_no_combination_of_facts_can_break_a_hard_rule(rule: Rule) -> None:
    found = counterexample(rule, of_book(BOOK), BOOK.known)
    assert found is None, f"{found.words}: {found.situation}"


def spoilt(step: str, **changes: Any) -> StepBook:
    """The shipped file with one step changed, or taken out of every group."""
    document = copy.deepcopy(DOCUMENT)
    for row in document["steps"]:
        if row["id"] == step:
            row |= changes
    return parse_step_book(document)


FAULTS: dict[str, StepBook] = {
    "razor": spoilt("razor_pass", **{"if": {"glass": ["tempered", "laminated"]}}),
    "solvent": spoilt("so_glue_degrease", **{"if": {"glass": "tempered"}}),
    "rinse": spoilt("door_foot_rinse", does=["wet:foot"]),
    "cloth": spoilt("cloth_first", **{"if": {"s_cloth": "low_lint"}}),
    "heat": spoilt("frameless_soak", does=["wet:foot"]),
    "heat warned": spoilt("warn_heat", **{"if": {"condition_chipped": "yes"}}),
    "brake light": spoilt("lamp_box", **{"if": {"kind": "hatch", "brake_light": "shines"}}),
    "camera": spoilt("camera_free", does=[]),
    "glass up and down": spoilt("lower_top", does=[]),
    "spindle": spoilt("spindle_rusted", does=[]),
    "put back": spoilt("wiper_back", **{"if": {"kind": "back_glass", "wiper": "off"}}),
    "residue": spoilt("outside_clean", does=[]),
    "unfit glass": spoilt("rag_ready", **{"if": {"condition_pitted": "yes"}}),
}


@pytest.mark.parametrize("name", sorted(FAULTS))
def test_a_fault_in_the_file_is_found_with_a_situation_that_shows_it(name: str) -> None:
    rule = next(one for one in RULES if one.name == name)
    found = counterexample(rule, of_book(FAULTS[name]), FAULTS[name].known)
    assert found is not None
    assert found.words.startswith(f"{name}: ")
    run = make_run(FAULTS[name], found.situation, LONGEST)
    assert any(one.startswith(f"{name}: ") for one in broken(run, found.situation)), "the situation really shows it"


def test_the_hatch_is_lowered_only_when_the_car_is_closed() -> None:
    document = copy.deepcopy(DOCUMENT)
    document["groups"]["put_back"].append("hatch_down")
    document["groups"]["end"].remove("hatch_down")
    moved = parse_step_book(document)
    rule = next(one for one in RULES if one.name == "hatch")
    assert counterexample(rule, of_book(moved), moved.known) is not None
    assert set(FAULTS) | {"hatch"} == {rule.name for rule in RULES}, "every rule is shown to be able to fail"


# ---- samples: a judge of its own


def test_ten_thousand_runs_stand_before_a_judge_that_knows_no_rule_of_ours() -> None:
    for told, run in zip(drawn(), runs(), strict=True):
        assert judge(run, told) == [], told
    names = [(name, value) for name, values in BOOK.known.items() if name != "part" for value in values]
    table = np.array([[told[name] == value for name, value in names] for told in drawn()], dtype=np.int32)
    together = table.T @ table
    missing = [
        (one, other)
        for (i, one), (k, other) in combinations(list(enumerate(names)), 2)
        if one[0] != other[0] and together[i, k] == 0
    ]
    rare = {f"condition_{one}" for one in ("cracked", "scratched", "etched", "frosted", "drilled", "leaded")}
    seldom = [pair for pair in missing if not {pair[0][0], pair[1][0]} <= rare]
    assert len(seldom) <= effort(0.01 * len(names) ** 2, 0), "every pair of values is drawn"


def test_the_judge_and_the_rules_agree_where_a_run_is_spoilt() -> None:
    chance = Random(3)
    caught = 0
    for told, run in zip(drawn()[:400], runs()[:400], strict=True):
        places = [i for i, one in enumerate(run.steps) if any(e.does == "rinse" for e in one.step.effects)]
        if not places:
            continue
        gone = chance.choice(places)
        spoilt_run = type(run)(run.steps[:gone] + run.steps[gone + 1 :])
        by_rules = any(one.startswith("rinse") for one in broken(spoilt_run, told))
        assert by_rules == any("not rinsed" in one for one in judge(spoilt_run, told)), told
        caught += by_rules
    assert caught > 20


def test_whatever_goes_wrong_wherever_the_mended_run_keeps_every_rule() -> None:
    chance = Random(5)
    for told, run in list(zip(drawn(), runs(), strict=True))[: effort(150, 700)]:
        if not run.steps:
            continue
        for what in BOOK.wrongs:
            mishap = Mishap("a1b2c3d4e5f6a7b8", what, chance.choice(run.steps).key, chance.random() < 0.5)
            mended = with_mishap(BOOK, run, mishap, LONGEST)
            assert judge(mended, told) == [], (what, mishap, told)
            assert len(set(keys(mended))) == len(mended.steps) > len(run.steps)
            again = with_mishap(BOOK, mended, Mishap("ffff000011112222", "torn", mishap.at, True), LONGEST)
            assert judge(again, told) == [], ("twice", mishap, told)


# ---- full products over the facts that one rule's steps read


def holds(step: str, **told: str) -> bool:
    return BOOK.steps[step].when.holds(situation(**told))


def test_a_razor_meets_only_plain_tempered_glass_in_every_combination() -> None:
    razors = [one.id for one in BOOK.steps.values() if any(e.does == "razor" for e in one.effects)]
    assert set(razors) == {"razor_pass", "sticker_off", "so_glue_razor"}
    read = ("glass", "defroster", "antenna", "kind", "s_prep", "age", "sticker")
    for values in product(*(BOOK.known[name] for name in read)):
        told = dict(zip(read, values, strict=True))
        plain = told["glass"] == "tempered" and told["defroster"] != "yes" and told["antenna"] != "yes"
        looked = told["kind"] in ("framed_door", "frameless_door") or told["antenna"] == "no"
        if any(holds(step, **told, glue_by="razor") for step in razors):
            assert plain, told
            assert looked, told


def test_a_lamp_gets_its_box_or_a_clear_lens_in_every_combination() -> None:
    read = ("brake_light", "lens_clear", "kind", "method", "in_strips", "covers")
    for values in product(*(BOOK.known[name] for name in read)):
        told = dict(zip(read, values, strict=True))
        run = keys(run_of(**told))
        behind = told["brake_light"] == "before" and told["lens_clear"] == "yes"
        at_back = told["kind"] in ("back_glass", "hatch", "slider") and told["covers"] == "full"
        box = at_back and (told["brake_light"] == "shines" or (told["brake_light"] == "before" and not behind))
        assert ("lamp_box" in run) == box, told
        assert ("back_behind_lamp" in run) <= behind, told
        assert ("lamp_look" in run) == (at_back and told["brake_light"] in ("unsaid", "seen")), told


def test_what_is_taken_apart_for_the_car_is_put_back_when_it_is_closed() -> None:
    chance = Random(9)
    for _ in range(400):
        told = {name: chance.choice(values) for name, values in BOOK.known.items()}
        first, last = (make_run(BOOK, {**told, "part": part}, LONGEST) for part in ("start", "end"))
        taken = {e.on for one in first.steps for e in one.step.effects if e.does == "take"}
        back = {e.on for one in last.steps for e in one.step.effects if e.does == "put"}
        assert taken == back, told


# ---- order


@pytest.mark.parametrize("row", ORDER, ids=lambda row: f"{row[0]} before {row[1]}")
def test_what_must_precede_what_does_in_every_run(row: tuple[str, str, str]) -> None:
    first, then, _ = row
    seen = 0
    for run in runs()[:2500]:
        found = keys(run)
        if first in found and then in found:
            seen += 1
            assert found.index(first) < found.index(then)
    for told in (one.told for one in SITUATIONS):
        found = keys(run_of(**told))
        seen += first in found and then in found
    assert seen, "no run has both: the row says nothing"


# ---- whole situations, written by hand


@pytest.mark.parametrize("wanted", SITUATIONS, ids=lambda one: one.name)
def test_a_situation_has_the_steps_that_it_must_have_in_this_order(wanted: Wanted) -> None:
    found = keys(run_of(**wanted.told))
    missing = [one for one in wanted.must if one not in found]
    assert missing == []
    assert [one for one in found if one in wanted.must] == list(wanted.must)
    assert [one for one in wanted.must_not if one in found] == []


def test_the_table_is_long_and_uses_every_step_and_every_fact() -> None:
    assert len(SITUATIONS) >= 40
    used = {one.step.id for run in runs() for one in run.steps}
    used |= {one.step.id for wanted in SITUATIONS for one in run_of(**wanted.told).steps}
    chance = Random(4)
    for part in ("start", "end", "strip"):
        for _ in range(300):
            told = {name: chance.choice(values) for name, values in BOOK.known.items()} | {"part": part}
            used |= {one.step.id for one in make_run(BOOK, told, LONGEST).steps}
    common = BOOK.corrections
    put_in = {step.id for wrong in BOOK.wrongs.values() for step in (*wrong.always, *wrong.steps)}
    put_in |= {step.id for step in (common.twin, *common.scrap, common.press, common.least)}
    assert set(BOOK.steps) - used == put_in, "steps of no run are put in where something goes wrong"
    read = frozenset[str]().union(*(one.when.facts for one in BOOK.sequence))
    unread = set(BOOK.known) - read
    told_by_figures = {"s_soap", "s_cold", "s_top_edge"}
    assert {name for name in unread if name.startswith("s_")} <= told_by_figures, "a school that changes nothing"


# ---- schools


PROBES = [
    {"kind": kind, "method": method, "how": how, "temp": temp, "spoiler": "yes", "home": home, "panel": panel,
     "age": "few", "antenna": "no", "covers": "full", "part": part, "defroster": "yes" if panel == "leather" else "no"}
    for kind in ("framed_door", "back_glass", "windshield", "quarter")
    for method in ("bulk", "kit")
    for how in ("card", "nothing")
    for home in ("no", "yes")
    for temp, panel in (("cold", "leather"), ("fair", "plain"))
    for part in ("window", "start")
]  # fmt: skip


@pytest.mark.parametrize("name", [name for name in sorted(BOOK.schools) if name not in ("s_soap", "s_cold")])
def test_each_side_of_each_school_makes_another_run_or_other_figures(name: str) -> None:
    school = BOOK.schools[name]
    assert school.section
    for one, other in combinations(school.options, 2):
        assert any(
            [s.key for s in run_of(**probe, **{name: one}).steps]
            != [s.key for s in run_of(**probe, **{name: other}).steps]
            for probe in PROBES
        ), f"{one} and {other} are the same"


# ---- words


@pytest.mark.parametrize("step", BOOK.steps.values(), ids=lambda step: step.id)
def test_a_sentence_can_be_read_from_afar_with_its_longest_figures(step: Any) -> None:
    said = filled(step.say, LONGEST)
    assert len(said) <= LONGEST_SENTENCE, said
    assert said[0].isupper() or said[0].isdigit()
    assert not said.endswith(".")
    assert step.why.endswith(".")
    assert step.section
    assert figures_in(step) <= set(FIGURES)
    assert 0 <= step.minutes <= 30


def changed(**over: Any) -> dict[str, Any]:
    document = copy.deepcopy(DOCUMENT)
    document["steps"][0] |= over
    return document


@pytest.mark.parametrize(
    ("document", "words"),
    [
        (changed(**{"if": {"kid": "quarter"}}), "dry_car: “kid” is no fact; the nearest known one is “kind”."),
        (
            changed(**{"if": {"kind": "quarters"}}),
            "dry_car: “kind” is never “quarters”; the nearest value is “quarter”.",
        ),
        (changed(phase="protekt"), "dry_car: “protekt” is no phase; the nearest known one is “protect”."),
        (changed(does=["rins:all"]), "dry_car: “rins” is no word for what a step does; the nearest known one is “rinse”."),
        (changed(does=["rinse:fot"]), "dry_car: “fot” is no part of a pane; the nearest is “foot”."),
        (changed(does=["take"]), "dry_car: “take” says what, after a colon."),
        (changed(does=["take:wper"]), "dry_car: “wper” is no thing; the nearest is “wiper”."),
        (changed(say="Lower {lowr}"), "dry_car: “lowr” is no figure; the nearest is “lower”."),
        (changed(at="fot"), "dry_car: “fot” is no part of a pane; the nearest is “foot”."),
        (changed(sy="x"), "dry_car: “sy” is no field; the nearest is “say”."),
        (changed(**{"if": {"any": []}}), "dry_car: “any” needs a list of conditions."),
        (changed(**{"if": ["kind"]}), "dry_car: a condition is a mapping of facts to values, not ['kind']."),
        (changed(id="wash_car"), "wash_car: two steps have this id."),
    ],
)  # fmt: skip
def test_a_step_file_with_unknown_words_is_refused_with_the_nearest_known(document: Any, words: str) -> None:
    with pytest.raises(StepFileError) as refused:
        parse_step_book(document)
    assert refused.value.message == words


def test_a_sequence_of_what_is_not_there_is_refused() -> None:
    for entry, words in (
        ({"group": "protekt"}, "sequence: “protekt” is no group; the nearest is “protect”."),
        ({"step": "warn_het"}, "sequence: “warn_het” is no step; the nearest is “warn_heat”."),
        ({"step": "warn_heat"}, "sequence: “warn_heat” comes twice; a repeat has a name of its own (“round”)."),
    ):
        document = copy.deepcopy(DOCUMENT)
        document["sequence"].append(entry)
        with pytest.raises(StepFileError) as refused:
            parse_step_book(document)
        assert refused.value.message == words
    document = copy.deepcopy(DOCUMENT)
    document["groups"]["start"].remove("dry_car")
    with pytest.raises(StepFileError, match="dry_car: no run can ever have this step"):
        parse_step_book(document)
