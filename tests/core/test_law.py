"""Verdicts against a table written by hand from the records' own figures."""

import json
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elumbra.core.errors import LawError
from elumbra.core.glass import Position
from elumbra.core.law import PaneFacts, VehicleClass, Verdict, VerdictWord, judge, parse_law_book, worst
from elumbra.core.light import Glass, GlassSource, combine
from tests.catalogue.panes import DATA, INCH, film, starting

START = starting()
DOCUMENT = json.loads((DATA / "law" / "us_states.json").read_text(encoding="utf-8"))
LAW = parse_law_book(DOCUMENT)
ORDER = list(VerdictWord)


def facts(position: str, net: float | None, vehicle_class: str = "passenger", **over: object) -> PaneFacts:
    """A pane whose glass and film pass ``net`` percent together, spreads as metered."""
    given: dict[str, object] = {
        "vehicle_class": VehicleClass(vehicle_class),
        "position": Position(position),
        "film": film((net or 30) / 100),
        "combined": None
        if net is None
        else combine(Glass(0.90, GlassSource.METERED), film(net / 100, reflectance=0.05), starting=START),
        "mirrors_both_sides": True,
        "model_year": 2020,
    }
    return PaneFacts(**(given | over))  # type: ignore[arg-type]


def verdict(state: str, position: str, net: float | None, vehicle_class: str = "passenger", **over: object) -> Verdict:
    return judge(LAW.of(state), facts(position, net, vehicle_class, **over), starting=START)


@pytest.mark.parametrize(
    ("state", "vehicle_class", "position", "net", "word"),
    [
        # Texas: front 25; behind free with mirrors.
        ("TX", "passenger", "front_side", 24, "Too dark"),
        ("TX", "passenger", "front_side", 25, "Close"),
        ("TX", "passenger", "front_side", 26, "Close"),
        ("TX", "passenger", "front_side", 29, "Clears"),
        ("TX", "passenger", "rear_side", 5, "Clears"),
        ("TX", "multipurpose", "rear_window", 5, "Clears"),
        # Florida: 28 / 15 / 15, multipurpose 28 / 6 / 6.
        ("FL", "passenger", "front_side", 27, "Too dark"),
        ("FL", "passenger", "front_side", 28, "Close"),
        ("FL", "passenger", "front_side", 33, "Clears"),
        ("FL", "passenger", "rear_side", 14, "Too dark"),
        ("FL", "passenger", "rear_side", 20, "Clears"),
        ("FL", "multipurpose", "rear_side", 14, "Clears"),
        ("FL", "multipurpose", "rear_window", 5, "Too dark"),
        # Tolerance is shown, never used: Alabama 32 with 3 points.
        ("AL", "passenger", "front_side", 31, "Too dark"),
        ("AL", "multipurpose", "rear_window", 3, "Clears"),
        # No film at all on the fronts.
        ("NH", "passenger", "front_side", 80, "Not allowed"),
        ("VT", "multipurpose", "front_side", 80, "Not allowed"),
        ("NH", "passenger", "rear_side", 34, "Too dark"),
        # Idaho's trap: the rear side may be darker than the rear window.
        ("ID", "passenger", "rear_side", 25, "Clears"),
        ("ID", "passenger", "rear_window", 25, "Too dark"),
        # Linked rules leave open what they could change.
        ("IL", "passenger", "front_side", 60, "Cannot tell"),
        ("IL", "passenger", "rear_side", 10, "Cannot tell"),
        ("CO", "passenger", "rear_side", 20, "Cannot tell"),
        ("CO", "passenger", "rear_side", 40, "Clears"),
        ("CO", "passenger", "front_side", 20, "Too dark"),
        ("CA", "passenger", "front_side", 80, "Cannot tell"),
        ("CA", "passenger", "front_side", 60, "Too dark"),
        ("OR", "passenger", "rear_side", 45, "Cannot tell"),
        ("OR", "passenger", "rear_side", 20, "Too dark"),
        ("NY", "passenger", "rear_side", 40, "Cannot tell"),
        ("NY", "passenger", "rear_side", 80, "Clears"),
        ("NY", "multipurpose", "rear_side", 40, "Cannot tell"),
        ("MN", "multipurpose", "rear_side", 20, "Cannot tell"),
        # Windshield below the strip.
        ("TX", "passenger", "windshield", 75, "Not allowed"),
        ("NY", "passenger", "windshield", 60, "Too dark"),
        ("NY", "passenger", "windshield", 76, "Clears"),
        # Nothing on file for roof glass.
        ("TX", "passenger", "roof", 20, "No rule on file"),
    ],
)  # fmt: skip
def test_verdict_by_hand(state: str, vehicle_class: str, position: str, net: float, word: str) -> None:
    assert verdict(state, position, net, vehicle_class).word == word


def test_number_limit_margin_and_citation_stand_in_the_answer() -> None:
    found = verdict("FL", "front_side", 25)
    assert found.limit == 0.28
    assert found.margin_points == pytest.approx(-3)
    assert found.sentence == "25 % is 3.0 points under Florida's 28 % at the front side."
    assert "316.295" in found.citation
    assert found.risk is not None
    assert found.risk > 0.9


def test_close_says_how_likely_a_ticket_is() -> None:
    found = verdict("TX", "front_side", 26)
    assert found.word is VerdictWord.CLOSE
    assert found.sentence.endswith("chances in 100.")


def test_tolerance_is_said_beside() -> None:
    found = verdict("AL", "front_side", 31)
    assert found.word is VerdictWord.TOO_DARK
    assert any("3 points of meter tolerance" in note for note in found.notes)


def test_unconfirmed_fields_are_named() -> None:
    found = verdict("AK", "rear_side", 60, "multipurpose")
    assert "multipurpose.rear_side" in found.unconfirmed
    assert "basis" in found.unconfirmed


def test_unmetered_glass_cannot_be_told() -> None:
    found = verdict("FL", "front_side", None)
    assert found.word is VerdictWord.CANNOT_TELL
    assert found.questions == ("What does the bare glass pass?",)


def test_missing_reflectance_is_asked_where_a_figure_is_set() -> None:
    unstated = film(0.6, reflectance=None)
    found = verdict("FL", "front_side", 60, film=unstated)
    assert found.word is VerdictWord.CANNOT_TELL
    assert "How much does Test film reflect? At most 25 % is allowed." in found.questions
    assert verdict("TX", "front_side", 20, film=unstated).word is VerdictWord.TOO_DARK, "known bad stays bad"


@pytest.mark.parametrize(
    ("state", "over", "says"),
    [
        ("FL", {"reflectance": 0.40}, "Reflects 40 %; Florida allows at most 25 %."),
        ("AK", {"mirror_finish": True}, "Alaska allows no mirror finish."),
        ("AK", {"colour": "red"}, "Alaska bans red film."),
    ],
)
def test_colour_and_mirror_bans_stand_however_light_the_film(state: str, over: dict[str, object], says: str) -> None:
    found = verdict(state, "front_side", 80, film=film(0.8, **({"reflectance": 0.05} | over)))
    assert found.word is VerdictWord.NOT_ALLOWED
    assert found.sentence == says


@pytest.mark.parametrize(("mirrors", "word"), [(True, "Clears"), (False, "Not allowed"), (None, "Cannot tell")])
def test_dark_rear_window_needs_both_mirrors(mirrors: bool | None, word: str) -> None:
    assert verdict("TX", "rear_window", 20, mirrors_both_sides=mirrors).word == word


@pytest.mark.parametrize(("year", "word"), [(2005, "Clears"), (1990, "Cannot tell"), (None, "Cannot tell")])
def test_model_year_settles_the_section(year: int | None, word: str) -> None:
    assert verdict("AR", "front_side", 40, model_year=year).word == word


@pytest.mark.parametrize(
    ("state", "depth_in", "as1_in", "word"),
    [
        ("AL", 6, None, "Clears"),  # 6 in
        ("AL", 6.5, None, "Not allowed"),
        ("FL", 5, 5.5, "Clears"),  # the AS-1 line
        ("FL", 6, 5.5, "Not allowed"),
        ("FL", 5, None, "Cannot tell"),
        ("MD", 4, 4.5, "Clears"),  # AS-1 or 5 in, which governs is not on file
        ("MD", 6, 4.5, "Not allowed"),
        ("MD", 4.8, 4.5, "Cannot tell"),
        ("MN", 3, 5, "Not allowed"),  # no strip
        ("AZ", 4, 5, "Cannot tell"),  # measured from the seat
        ("AL", None, None, "Cannot tell"),
        ("NC", 4, 6, "Clears"),  # clear-film rule is not about strips
    ],
)
def test_strip_by_rule(state: str, depth_in: float | None, as1_in: float | None, word: str) -> None:
    found = verdict(
        state, "windshield", 20, is_strip=True,
        strip_depth=None if depth_in is None else depth_in * INCH,
        as1_depth=None if as1_in is None else as1_in * INCH,
    )  # fmt: skip
    assert found.word == word


@pytest.mark.parametrize("state", sorted(LAW.records))
@pytest.mark.parametrize("vehicle_class", ["passenger", "multipurpose"])
@pytest.mark.parametrize("position", ["front_side", "rear_side", "rear_window"])
def test_floor_limit_and_either_side_of_it(state: str, vehicle_class: str, position: str) -> None:
    """One point under the file's figure never passes; twelve over it is never Too dark or Close."""
    row = next(row for row in DOCUMENT["records"] if row["code"] == state)
    tag = row[vehicle_class][position]
    if tag["kind"] == "floor":
        under = verdict(state, position, tag["value"] - 1, vehicle_class)
        assert under.word in (VerdictWord.TOO_DARK, VerdictWord.CANNOT_TELL)
        over = verdict(state, position, min(tag["value"] + 12, 90), vehicle_class)
        assert over.word in (VerdictWord.CLEARS, VerdictWord.CANNOT_TELL)
        assert under.limit == pytest.approx(tag["value"] / 100)
    elif tag["kind"] == "none_allowed":
        assert verdict(state, position, 85, vehicle_class).word in (VerdictWord.NOT_ALLOWED, VerdictWord.CANNOT_TELL)
    else:
        assert verdict(state, position, 3, vehicle_class).word in (VerdictWord.CLEARS, VerdictWord.CANNOT_TELL)


@given(
    state=st.sampled_from(sorted(LAW.records)),
    vehicle_class=st.sampled_from(["passenger", "multipurpose"]),
    position=st.sampled_from(["front_side", "rear_side", "rear_window", "windshield"]),
    dark=st.floats(1, 90),
    lighter_by=st.floats(0, 60),
)
def test_lighter_film_never_gets_a_worse_answer_from_the_light(
    state: str, vehicle_class: str, position: str, dark: float, lighter_by: float
) -> None:
    law = replace(LAW.of(state), linked=())
    same_film = film(0.3, reflectance=0.05)

    def rank(net: float) -> int:
        return ORDER.index(judge(law, facts(position, net, vehicle_class, film=same_film), starting=START).word)

    assert rank(min(90, dark + lighter_by)) >= rank(dark)


@given(
    state=st.sampled_from(sorted(LAW.records)), vehicle_class=st.sampled_from(["passenger", "multipurpose"]),
    position=st.sampled_from(["front_side", "rear_side", "rear_window"]),
)  # fmt: skip
def test_unknown_glass_never_clears_where_a_floor_is_set(state: str, vehicle_class: str, position: str) -> None:
    floor = LAW.of(state).floors[VehicleClass(vehicle_class), Position(position)]
    found = verdict(state, position, None, vehicle_class)
    if floor.value is not None:
        assert found.word is not VerdictWord.CLEARS


def test_all_51_jurisdictions_are_on_file() -> None:
    assert len(LAW.records) == 51


def test_worst_of_several_states() -> None:
    answers = [verdict("TX", "front_side", 29), verdict("FL", "front_side", 20), verdict("NH", "front_side", 29)]
    found = worst(answers)
    assert found is not None
    assert found.word is VerdictWord.NOT_ALLOWED
    assert worst([]) is None


def test_unknown_state_gets_the_nearest() -> None:
    with pytest.raises(LawError, match="There is no state “TZ”"):
        LAW.of("TZ")


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"format": "other"}, "not an Elumbra law file"),
        ({"format_version": 9}, "format version 9; this program reads 1"),
        ({"records": DOCUMENT["records"][:1] * 2}, "AK stands twice"),
    ],
)
def test_foreign_law_files_are_refused(change: dict[str, object], says: str) -> None:
    with pytest.raises(LawError, match=says):
        parse_law_book(DOCUMENT | change)


def test_value_outside_the_vocabulary_names_its_record() -> None:
    broken = json.loads(json.dumps(DOCUMENT["records"][0]))
    broken["passenger"]["front_side"] = {"kind": "floor", "value": 700}
    with pytest.raises(LawError, match="Law record AK cannot be used: a floor of 700 %"):
        parse_law_book(DOCUMENT | {"records": [broken]})
