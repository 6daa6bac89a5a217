"""The table of findings: every one reachable, every answer known, every consequence said; refusals by name."""

from __future__ import annotations

from itertools import product

import pytest
from hypothesis import given

from elumbra.core.glass import GlassType, Position, Side, WindowKind
from elumbra.core.survey import (
    CAR_FINDINGS,
    WINDOW_FINDINGS,
    Field,
    Finding,
    FindingError,
    ReadBy,
    car_follows,
    check_answers,
    lasting_answers,
    length_of,
)
from elumbra.core.work import WindowFacts, findings_asked, follows_of, no_film_reason
from tests.catalogue.facts import answers

PLACES = [
    (WindowKind.FRAMED_DOOR, Position.FRONT_SIDE), (WindowKind.FRAMELESS_DOOR, Position.REAR_SIDE),
    (WindowKind.QUARTER, Position.REAR_SIDE), (WindowKind.FIXED_SIDE, Position.REAR_SIDE),
    (WindowKind.BACK_GLASS, Position.REAR_WINDOW), (WindowKind.HATCH, Position.REAR_WINDOW),
    (WindowKind.SLIDER, Position.REAR_WINDOW), (WindowKind.WINDSHIELD, Position.WINDSHIELD),
    (WindowKind.SUNROOF, Position.ROOF),
]  # fmt: skip
ASKED = {name: one for name, one in WINDOW_FINDINGS.items() if not one.of_fact}


def window(kind: WindowKind, position: Position, **over: object) -> WindowFacts:
    return WindowFacts(kind=kind, position=position, side=Side.CENTRE, **over)  # type: ignore[arg-type]


def an_answer(finding: Finding) -> str | tuple[str, ...]:
    return {
        Field.CHOICE: next(iter(finding.options), ""), Field.SEVERAL: tuple(finding.options)[:1],
        Field.LENGTH: "3 1/2", Field.NUMBER: "9", Field.TEXT: "as told",
    }[finding.how]  # fmt: skip


def raised(finding: Finding, answer: str | tuple[str, ...]) -> WindowFacts:
    """A window that can raise a finding, with what it is asked under, and that answer."""
    for kind, position in PLACES:
        if not finding.asked_of(kind, position):
            continue
        under = finding.under
        facts: dict[str, object] = {}
        found: dict[str, str | tuple[str, ...]] = {finding.name: answer}
        if under is not None and under[0] in ASKED:
            found[under[0]] = under[1][0]
        elif under is not None:
            facts[under[0]] = True
        return window(kind, position, findings=found, **facts)
    raise AssertionError(f"no window can raise {finding.name}")


@pytest.mark.parametrize("name", ASKED)
def test_every_finding_is_asked_of_some_window(name: str) -> None:
    finding = ASKED[name]
    assert name in findings_asked(raised(finding, an_answer(finding)))


CASES = [
    (name, answer)
    for name, one in ASKED.items()
    for answer in (one.options if one.how in (Field.CHOICE, Field.SEVERAL) else [str(an_answer(one))])
]


# Answers that change nothing, listed by hand: all is well, or it is a measure that other stations read.
NOTHING_TO_DO = {
    "condition": {"sound"}, "sticker": {"no"}, "old_glue": {"no"}, "old_film_layers": {"one"}, "old_film_look": {"sound"},
    "defroster": {"no"}, "antenna": {"no"}, "side_seals": {"clean"}, "weather_strip": {"leave"}, "edge": {"border", "bare"},
    "gasket_pulls": {"no"}, "slider_part": {"fixed"}, "room_behind_border": {"free"}, "panel": {"plain"},
    "panel_cover": {"no"}, "brake_light": {"none", "body"}, "lens_clear": {"yes"}, "wiper": {"none"}, "shelf_reach": {"easy"},
    "automatic_hatch": {"no"}, "housing": {"no"},
}  # fmt: skip
MEASURES = {
    "defroster_pitch", "defroster_lines", "border_top", "border_bottom", "border_left", "border_right",
    "brake_light_width", "brake_light_height", "brake_light_from_top", "spindle_from_left", "spindle_from_foot",
}  # fmt: skip


@pytest.mark.parametrize(("name", "answer"), CASES)
def test_every_answer_says_what_it_changes(name: str, answer: str) -> None:
    finding = ASKED[name]
    given_answer = (answer,) if finding.how is Field.SEVERAL else answer
    check_answers({name: given_answer}, WINDOW_FINDINGS)
    said = [one.what for one in follows_of(raised(finding, given_answer)) if one.finding == name]
    silent = name in MEASURES or answer in NOTHING_TO_DO.get(name, ())
    assert len(said) == (0 if silent else 1)
    for what in said:
        assert what.words
        assert what.section
        assert what.read_by in ReadBy
        if finding.how is not Field.NUMBER:
            assert what is finding.follows.get(answer, finding.follows.get(""))


def test_an_age_or_count_is_told_from_its_bound_on() -> None:
    """Film over seven years old is brittle: seven is not over seven (handbook 13)."""
    bounds = {name: one for name, one in ASKED.items() if one.how is Field.NUMBER and one.follows}
    assert bounds, "some number changes the work"
    for name, finding in bounds.items():
        for key, what in finding.follows.items():
            bound = int(key.split()[-1])
            said = {
                answer: [one.what for one in follows_of(raised(finding, str(answer))) if one.finding == name]
                for answer in (bound, bound + 1)
            }
            assert said == {bound: [], bound + 1: [what]}


NO_FILM = {"cracked", "scratched", "etched", "frosted", "drilled", "leaded"}


@pytest.mark.parametrize("answer", sorted(ASKED["condition"].options))
def test_what_forbids_film_is_exactly_what_the_handbook_names(answer: str) -> None:
    found = no_film_reason(window(*PLACES[0], findings={"condition": (answer,)}))
    assert bool(found) is (answer in NO_FILM)


def test_plastic_takes_no_film_and_other_glass_does() -> None:
    for glass_type in GlassType:
        found = no_film_reason(window(*PLACES[0], glass_type=glass_type))
        assert bool(found) is (glass_type is GlassType.PLASTIC)


@pytest.mark.parametrize("name", CAR_FINDINGS)
def test_every_finding_of_the_car_says_what_it_changes(name: str) -> None:
    finding = CAR_FINDINGS[name]
    for answer in finding.options or [str(an_answer(finding))]:
        given_answer = (answer,) if finding.how is Field.SEVERAL else answer
        check_answers({name: given_answer}, CAR_FINDINGS)
        said = [one.what for one in car_follows({name: given_answer})]
        expected = finding.follows.get(answer, finding.follows.get(""))
        assert said == ([expected] if expected else [])


def test_doors_are_not_asked_for_wipers_nor_back_glass_for_latches() -> None:
    door, back = (set(findings_asked(window(*PLACES[i]))) for i in (0, 4))
    assert {"latch", "side_seals", "weather_strip"} <= door
    assert {"wiper", "brake_light", "defroster", "spoiler"} <= back
    assert not {"wiper", "brake_light", "defroster", "mirror_mount"} & door
    assert not {"latch", "weather_strip", "panel"} & back
    assert "mirror_mount" in findings_asked(window(*PLACES[7]))


def test_what_hangs_on_another_answer_is_asked_under_it_only() -> None:
    back = PLACES[4]
    assert "defroster_first" not in findings_asked(window(*back))
    assert "defroster_first" in findings_asked(window(*back, findings={"defroster": "yes"}))
    assert "old_film_look" not in findings_asked(window(*back))
    assert "old_film_look" in findings_asked(window(*back, old_film=True))
    # An answer that hangs on another says nothing once that is gone.
    assert not [
        one
        for one in follows_of(window(*back, findings={"old_film_look": ("purple",)}))
        if one.finding == "old_film_look"
    ]


def test_findings_of_this_very_car_do_not_go_to_the_next_one() -> None:
    kept = lasting_answers({name: an_answer(one) for name, one in ASKED.items()})
    assert {"condition", "sticker", "side_seals", "old_film_layers", "rain_guard"}.isdisjoint(kept)
    assert {"border_top", "brake_light", "wiper", "weather_strip", "defroster_first"} <= set(kept)


@pytest.mark.parametrize(
    ("found", "field", "says"),
    [
        ({"side_seal": "worn"}, "side_seal", "Did you mean “side_seals”"),
        ({"side_seals": "torn"}, "side_seals", "not one of"),
        ({"side_seals": ("worn",)}, "side_seals", "One answer"),
        ({"condition": "sound"}, "condition", "list"),
        ({"condition": ("pitted", "pitted")}, "condition", "not one of"),
        ({"border_top": "a bit"}, "border_top", "not a size"),
        ({"border_top": "-1"}, "border_top", "negative"),
        ({"border_top": "30'"}, "border_top", "Longer than any car glass"),
        ({"defroster_lines": "many"}, "defroster_lines", "whole number"),
        ({"defroster_lines": "101"}, "defroster_lines", "0 to 100"),
        ({"old_film": "yes"}, "old_film", "no finding"),
    ],
)
def test_answers_that_cannot_be_are_refused_by_name(
    found: dict[str, str | tuple[str, ...]], field: str, says: str
) -> None:
    with pytest.raises(FindingError) as refusal:
        check_answers(found, WINDOW_FINDINGS)
    assert says.lower() in refusal.value.fields[field].lower()


@given(answers(WINDOW_FINDINGS))
def test_any_answers_go_through_and_none_adds_film_where_none_may_go(found: dict[str, str | tuple[str, ...]]) -> None:
    check_answers(found, WINDOW_FINDINGS)
    for kind, position in PLACES:
        facts = window(kind, position, findings=found)
        told = follows_of(facts)
        assert all(one.what.words and one.found for one in told)
        forbidden = any(one.what.no_film for one in told)
        assert bool(no_film_reason(facts)) is forbidden
        condition = found.get("condition", ())
        assert forbidden is bool(NO_FILM & set(condition))


def test_every_consequence_names_words_section_and_a_station() -> None:
    for finding, answer in product([*WINDOW_FINDINGS.values(), *CAR_FINDINGS.values()], [None]):
        assert answer is None
        for what in finding.follows.values():
            assert what.words
            assert not what.words.endswith(".")
            assert what.section
            assert what.minutes >= 0
            assert what.dollars >= 0
            assert what.read_by in ReadBy


def test_a_length_reads_in_mm_and_what_nobody_read_is_none() -> None:
    assert length_of({"border_top": "1 1/2"}, "border_top") == pytest.approx(38.1)
    assert length_of({}, "border_top") is None
