"""Old film: the ways ranked as a hand-written table says; refusals; own results; not knowing never helps."""

from __future__ import annotations

import copy
import json
from dataclasses import dataclass, replace
from itertools import product

import pytest

from elumbra.core.glass import GlassType, WindowKind
from elumbra.core.removal import (
    Advice,
    Case,
    GlueWay,
    OldLook,
    OwnResult,
    RemovalError,
    Tool,
    Way,
    advise,
    chance_of,
    glue_facts,
    parse_removal_table,
)
from tests.catalogue.panes import starting
from tests.catalogue.steps import DATA, REMOVAL
from tests.effort import sample

DOOR = Case(kind=WindowKind.FRAMED_DOOR, glass=GlassType.TEMPERED, years=4, celsius=24)
BACK = Case(kind=WindowKind.BACK_GLASS, glass=GlassType.TEMPERED, years=4, celsius=24, lines=True)
ALL = frozenset(Tool)
BRITTLE, PURPLE, BUBBLED = (frozenset({one}) for one in (OldLook.BRITTLE, OldLook.PURPLE, OldLook.BUBBLED))


def advice(case: Case, own: list[OwnResult] | None = None) -> Advice:
    return advise(case, REMOVAL, own=own or [], starting=starting())


@dataclass(frozen=True)
class Row:
    name: str
    case: Case
    first: Way | None
    clean: str
    glue: GlueWay
    refused: frozenset[Way]


def _r(name: str, case: Case, first: str, clean: str, glue: str, refused: str) -> Row:
    return Row(
        name, case, Way(first) if first else None, clean, GlueWay(glue), frozenset(Way(one) for one in refused.split())
    )


SUN = {"sun": True}
TABLE = (
    # name, case, first choice, clean peel, glue by, refused
    _r("door, four years, no sun", DOOR, "heat", "uncertain", "razor", "bag soak"),
    _r("door in full sun", replace(DOOR, sun=True), "bag", "likely", "pad", "soak"),
    _r("door in the sun, cold day", replace(DOOR, sun=True, celsius=4), "steam", "likely", "pad", "bag soak"),
    _r("door in the sun, nobody read the temperature", replace(DOOR, sun=True, celsius=None), "heat", "uncertain",
       "pad", "bag soak"),
    _r("door, nine years", replace(DOOR, years=9), "steam", "uncertain", "razor", "bag soak"),
    _r("door, nine years, overnight", replace(DOOR, years=9, night=True), "soak", "likely", "razor", "bag"),
    _r("door, just seven years", replace(DOOR, years=7), "heat", "uncertain", "razor", "bag soak"),
    _r("door, eight years", replace(DOOR, years=8), "steam", "uncertain", "razor", "bag soak"),
    _r("door, age unknown", replace(DOOR, years=None), "steam", "uncertain", "razor", "bag soak"),
    _r("door, purple", replace(DOOR, looks=PURPLE), "steam", "likely", "razor", "bag soak"),
    _r("door, brittle", replace(DOOR, looks=BRITTLE), "steam", "uncertain", "razor", "bag soak"),
    _r("door, chipped", replace(DOOR, chipped=True), "steam", "likely", "razor", "heat bag soak"),
    _r("door, no gun", replace(DOOR, tools=ALL - {Tool.GUN}), "steam", "likely", "razor", "heat bag soak"),
    _r("door, only a gun", replace(DOOR, tools=frozenset({Tool.GUN})), "heat", "uncertain", "pad", "steam bag soak"),
    _r("door, nothing at hand", replace(DOOR, tools=frozenset()), "", "uncertain", "pad", "heat steam bag soak"),
    _r("door, laminated", replace(DOOR, glass=GlassType.LAMINATED), "heat", "uncertain", "pad", "bag soak"),
    _r("door, mark not read", replace(DOOR, glass=GlassType.UNKNOWN), "heat", "uncertain", "pad", "bag soak"),
    _r("door, coated", replace(DOOR, glass=GlassType.COATED), "heat", "uncertain", "pad", "bag soak"),
    _r("door with a printed antenna", replace(DOOR, lines=True), "steam", "likely", "pad", "bag soak"),
    _r("back glass, four years", BACK, "steam", "likely", "pad", "bag soak"),
    _r("back glass in full sun", replace(BACK, sun=True), "bag", "likely", "pad", "soak"),
    _r("back glass in the sun, nine years", replace(BACK, sun=True, years=9), "steam", "uncertain", "pad", "soak"),
    _r("back glass, nine years, overnight", replace(BACK, years=9, night=True), "soak", "likely", "pad", "bag"),
    _r("back glass, brittle, overnight", replace(BACK, years=9, looks=BRITTLE, night=True), "soak", "uncertain", "pad",
       "bag"),
    _r("back glass, brittle, goes today", replace(BACK, years=9, looks=BRITTLE), "steam", "unlikely", "pad",
       "bag soak"),
    _r("back glass, no steamer", replace(BACK, tools=ALL - {Tool.STEAMER}), "heat", "uncertain", "pad",
       "steam bag soak"),
    _r("back glass, two layers", replace(BACK, two_layers=True), "steam", "uncertain", "pad", "bag soak"),
    _r("back glass, nobody looked for lines", replace(BACK, lines=None), "steam", "likely", "pad", "bag soak"),
    _r("back glass without lines", replace(BACK, lines=False), "steam", "likely", "razor", "bag soak"),
    _r("back glass, bubbled", replace(BACK, looks=BUBBLED), "steam", "uncertain", "pad", "bag soak"),
)  # fmt: skip


@pytest.mark.parametrize("row", TABLE, ids=lambda row: row.name)
def test_the_first_choice_and_the_refusals_are_those_of_the_hand_written_table(row: Row) -> None:
    found = advice(row.case)
    assert (found.first.way if found.first else None) == row.first
    assert {one.way for one in found.ranked if one.refused} == row.refused
    if row.first:
        assert found.ranked[0].clean_words == row.clean
    assert found.glue.way is row.glue
    assert len(found.ranked) == len(Way)
    refused = [bool(one.refused) for one in found.ranked]
    assert refused == sorted(refused), "refused ones stand last"


def test_the_table_is_long_enough() -> None:
    assert len(TABLE) >= 25


@pytest.mark.parametrize(
    ("case", "glue", "words"),
    [
        (BACK, "degreaser, then razor", "A razor ends defroster lines for good."),
        (replace(DOOR, glass=GlassType.LAMINATED), "degreaser, then razor", "takes no razor"),
        (replace(DOOR, sun=True), "degreaser, then razor", "shade first"),
        (replace(BACK, lines=None), "degreaser and pad", "Nobody has looked"),
        (replace(DOOR, tools=ALL - {Tool.RAZOR}), "degreaser, then razor", "Not at hand: razor."),
    ],
)
def test_refusals_with_glue_are_told_as_refusals(case: Case, glue: str, words: str) -> None:
    refused = dict(glue_facts(case, REMOVAL, starting=starting()).refused)
    assert words in refused[glue]


@pytest.mark.parametrize(
    ("case", "words"),
    [
        (DOOR, "With sun on the pane: bag and sun."),
        (replace(DOOR, sun=True), "Over 7 years: steam."),
        (BACK, "With sun on the pane: bag and sun."),
        (BACK, "Without the steamer: heat and peel."),
        (replace(BACK, years=9), "If it may stay overnight: soak overnight, then steam."),
        (replace(BACK, tools=ALL - {Tool.STEAMER}), "With a steamer at hand: steam."),
        (replace(DOOR, years=None), "Under 7 years: heat and peel."),
    ],
)
def test_what_would_change_the_ranking_is_told_and_true(case: Case, words: str) -> None:
    assert words in advice(case).changes


CASES = [
    Case(kind=kind, glass=glass, years=years, two_layers=layers, looks=looks, lines=lines, celsius=celsius, sun=sun)
    for kind, glass, years, layers, looks, lines, celsius, sun in product(
        (WindowKind.FRAMED_DOOR, WindowKind.HATCH, WindowKind.QUARTER), (GlassType.TEMPERED, GlassType.LAMINATED),
        (2, 7, 8, 15), (False, True), (frozenset(), PURPLE, BRITTLE), (True, False), (5.0, 25.0), (False, True),
    )
]  # fmt: skip


def test_not_knowing_never_makes_an_answer_better() -> None:
    for case in sample(CASES, 60):
        known = {one.way: one for one in advise(case, REMOVAL, starting=starting(), further=False).ranked}
        for unsaid in ({"years": None}, {"lines": None}, {"celsius": None}, {"glass": GlassType.UNKNOWN}):
            name, value = next(iter(unsaid.items()))
            worst = replace(
                case, **{name: {"years": 15, "lines": True, "celsius": 5.0, "glass": GlassType.LAMINATED}[name]}
            )
            unknown = advise(replace(case, **unsaid), REMOVAL, starting=starting(), further=False)
            bad = {one.way: one for one in advise(worst, REMOVAL, starting=starting(), further=False).ranked}
            for one in unknown.ranked:
                assert name == "celsius" or one.clean <= known[one.way].clean + 1e-12, (name, value, case)
                if name == "years":
                    assert one.clean == bad[one.way].clean
                if name == "lines" and case.group != "door":
                    assert one.lines_risk == bad[one.way].lines_risk
                assert bool(known[one.way].refused) <= bool(one.refused)
            order = [GlueWay.RAZOR, GlueWay.DEGREASER, GlueWay.PAD]
            if name != "lines" or case.group != "door":
                harsh = order.index(unknown.glue.way)
                assert harsh >= order.index(glue_facts(case, REMOVAL, starting=starting()).way)


def test_no_sign_makes_any_way_cleaner() -> None:
    for base in (DOOR, BACK):
        before = {one.way: one.clean for one in advice(base).ranked}
        for worse in ({"years": 9}, {"looks": PURPLE}, {"looks": BUBBLED}, {"looks": BRITTLE}, {"two_layers": True}):
            for one in advice(replace(base, **worse)).ranked:
                assert one.clean <= before[one.way], worse


def test_own_results_replace_the_words_once_there_are_twenty() -> None:
    results = [OwnResult(Way.HEAT, clean=True, glue=False, minutes=22.0)] * 15
    results += [OwnResult(Way.HEAT, clean=False, glue=True)] * 4
    heat = next(one for one in advice(DOOR, results).ranked if one.way is Way.HEAT)
    assert heat.own is None
    assert heat.basis == "our assumption, until twenty own results are there"
    assert (heat.own_minutes, heat.minutes.low) == (15, 22.0), "own times count from five"
    heat = next(
        one for one in advice(DOOR, [*results, OwnResult(Way.HEAT, clean=False, glue=False)]).ranked
        if one.way is Way.HEAT
    )  # fmt: skip
    assert heat.own is not None
    assert (heat.own.number, heat.own.share) == (20, 0.75)
    assert heat.basis == "own results, n = 20"
    assert heat.own.low < 0.75 < heat.own.high


# Wilson's interval by the closed form in Newcombe 1998, table I (method 3, no continuity correction).
@pytest.mark.parametrize(
    ("hits", "number", "low", "high"),
    [(81, 263, 0.2553, 0.3662), (15, 148, 0.0624, 0.1605), (0, 20, 0.0, 0.1611), (1, 29, 0.0061, 0.1718)],
)
def test_the_interval_is_wilsons(hits: int, number: int, low: float, high: float) -> None:
    found = chance_of(hits, number)
    assert found.low == pytest.approx(low, abs=5e-5)
    assert found.high == pytest.approx(high, abs=5e-5)
    with pytest.raises(ValueError, match="is no share"):
        chance_of(3, 2)


def test_a_table_with_unknown_words_is_refused_with_the_nearest() -> None:
    document = json.loads((DATA / "removal.json").read_text())
    for path, value, words in (
        (("ways", 0, "id"), "heet", "“heet” is no way; the nearest known one is “heat”."),
        (("ways", 0, "tools"), ["gum"], "“gum” is no tool; the nearest known one is “gun”."),
        (("changes", 0, "if"), {"olde": True}, "“olde” is no sign; the nearest known one is “old”."),
        (("refusals", 0, "way"), "bagg", "“bagg” is no way; the nearest known one is “bag”."),
        (("glue", 0, "id"), "rasor", "“rasor” is no way with glue; the nearest known one is “razor”."),
    ):
        broken = copy.deepcopy(document)
        broken[path[0]][path[1]][path[2]] = value
        with pytest.raises(RemovalError) as refused:
            parse_removal_table(broken)
        assert refused.value.message == words
