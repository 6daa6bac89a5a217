"""Medical exemptions: what each state's record covers, what is asked of the lead, and that nothing else is released."""

from __future__ import annotations

from dataclasses import replace
from itertools import product
from typing import Any

import pytest

from elumbra.core.errors import CoreError, LawError
from elumbra.core.film import Colour, Film
from elumbra.core.glass import Position
from elumbra.core.law import FieldWord, VehicleClass, Verdict, VerdictWord
from elumbra.core.work import Reason, ReasonKind, check_covered, is_held, releases_by_itself, uncovered
from tests.catalogue.law import FILE as LAW_FILE
from tests.catalogue.law import LAW
from tests.core.test_gate import PLAIN, Known, Place, answer, film

FS, RS, RW, WS = Position.FRONT_SIDE, Position.REAR_SIDE, Position.REAR_WINDOW, Position.WINDSHIELD
CITED = "§ 3 of the made-up rules"


def verdict(code: str, position: Position = FS, net: float | None = 10, one: Film = PLAIN) -> Verdict:
    return answer(Place(code, VehicleClass.PASSENGER, position, strip=False), one, Known(net=net))


def document(code: str, **over: Any) -> Reason:
    given = {"document": "M-71", "state": code, "issued_on": "2020-01-05", "expires_on": "2099-01-01", **over}
    return Reason(ReasonKind.MEDICAL_EXEMPTION, "f", "wish", **given)


def why(code: str, position: Position = FS, net: float | None = 10, **over: Any) -> str:
    return uncovered(verdict(code, position, net), document(code, **over))


@pytest.mark.parametrize("code", ["CO", "HI", "KS", "KY", "NE", "UT"])
@pytest.mark.parametrize("position", [FS, RS, RW, WS])
def test_a_state_that_grants_none_releases_nothing_by_a_number(code: str, position: Position) -> None:
    assert "grants no medical exemption by the record" in why(code, position, 3, citation=CITED)
    assert is_held(verdict(code, FS, 3), document(code, citation=CITED), "f")


def test_a_lead_changes_the_record_with_a_citation_and_then_it_covers_what_was_said() -> None:
    def word(field: str, value: Any) -> FieldWord:
        return FieldWord("w" + field, "CO", field, value, CITED)

    said = [word("medical_exemption", "yes"), word("exemption.front_side", {"kind": "floor", "value": 8})]
    law = LAW_FILE.on(LAW.day, said).of("CO")
    for net, covered in ((10, True), (7, False)):
        found = verdict("CO", FS, net)._replace(law=law)
        assert (uncovered(found, document("CO")) == "") is covered
    assert "is not on file" in uncovered(verdict("CO", RS)._replace(law=law), document("CO"))
    with pytest.raises(LawError):
        LAW_FILE.on(LAW.day, [word("exemption.front_side", {"kind": "floor", "value": 230})])
    with pytest.raises(LawError):
        LAW_FILE.on(LAW.day, [word("exemption.issued_until", "some day")])


@pytest.mark.parametrize(
    ("code", "position", "net", "over", "says"),
    [
        ("CA", FS, 40, {"citation": CITED}, "removable device"),
        ("DE", FS, 10, {}, "is not on file"),
        ("DE", FS, 10, {"citation": CITED}, ""),
        ("DE", RS, 10, {"citation": CITED}, "does not cover the rear side"),
        ("DE", RW, 10, {"citation": CITED}, "does not cover the rear window"),
        ("NH", FS, 10, {"citation": CITED}, ""),
        ("NH", RS, 10, {"citation": CITED}, "does not cover the rear side"),
        ("ID", FS, 25, {}, ""),
        ("ID", FS, 20, {}, ""),
        ("ID", FS, 19.9, {}, "at least 20 % must be left by Idaho; this is 19.9 %"),
        ("ID", WS, 69, {}, "at least 70 %"),
        ("VA", FS, 36, {}, ""),
        ("VA", FS, 34, {}, "at least 35 %"),
        ("VA", WS, 69, {}, "at least 70 %"),
        ("GA", FS, 24, {}, "is not on file"),
        ("GA", FS, 24, {"citation": CITED}, ""),
        ("GA", FS, 22, {"citation": CITED}, "at least 23 %"),
        ("IA", FS, 20, {"citation": CITED, "issued_on": "2012-07-05"}, "issued until 2012-07-04 only"),
        ("IA", FS, 20, {"citation": CITED, "issued_on": ""}, "issued until 2012-07-04 only"),
        ("IA", FS, 20, {"citation": CITED, "issued_on": "2012-07-04"}, ""),
        ("WI", WS, 10, {"citation": CITED}, "does not cover the windshield"),
        ("FL", FS, 10, {}, "is not on file"),
        ("FL", FS, 10, {"citation": " "}, "is not on file"),
        ("FL", FS, 10, {"citation": CITED}, ""),
        ("FL", FS, 10, {"citation": CITED, "least": 0.15}, "at least 15 % must be left by the document"),
        ("FL", FS, 16, {"citation": CITED, "least": 0.15}, ""),
        ("FL", FS, 10, {"citation": CITED, "state": "GA"}, "is of GA, not of FL"),
        ("FL", FS, 10, {"citation": CITED, "lapsed": True}, "expired on 2099-01-01"),
        ("FL", FS, 10, {"citation": CITED, "expires_on": ""}, "was not read"),
        ("FL", FS, 10, {"citation": CITED, "expires_on": "", "no_expiry": True}, ""),
        ("FL", FS, 10, {"citation": CITED, "document": ""}, "was not read"),
    ],
)
def test_what_a_document_releases(code: str, position: Position, net: float, over: dict[str, Any], says: str) -> None:
    told, found = why(code, position, net, **over), verdict(code, position, net)
    assert (says in told) if says else (told == "")
    assert is_held(found, document(code, **over), "f") is (bool(told) and not releases_by_itself(found))


def test_it_speaks_of_darkness_alone() -> None:
    red = film(colours=(Colour.RED,), reflectance=0.05)
    found = verdict("FL", FS, 40, red)
    assert found.word is VerdictWord.NOT_ALLOWED
    assert "speaks of darkness alone" in uncovered(found, document("FL", citation=CITED))
    assert is_held(found, document("FL", citation=CITED), "f")


def test_glass_that_nobody_knows_is_never_released() -> None:
    found = verdict("FL", FS, None)
    assert found.word is VerdictWord.CANNOT_TELL
    assert is_held(found, document("FL", citation=CITED), "f")


def test_no_document_releases_more_than_the_record_and_its_citation_say() -> None:
    """Every state and position: what is released is granted, cited or recorded, and light enough."""
    released = 0
    for code, position, net, cited in product(sorted(LAW.records), (FS, RS, RW, WS), (2, 18, 30, 50, 69), ("", CITED)):
        found = verdict(code, position, net)
        given = document(code, citation=cited)
        if found.word is VerdictWord.CANNOT_TELL or releases_by_itself(found) or is_held(found, given, "f"):
            continue
        released += 1
        row = LAW.of(code).row
        cover = row.get("exemption", {}).get(position.value, {"kind": "unknown"})
        assert row["medical_exemption"] in ("yes", "limited") or (row["medical_exemption"] == "unknown" and cited)
        assert row.get("exemption", {}).get("means") != "device"
        assert cover["kind"] != "none_allowed"
        assert cited or cover["kind"] in ("floor", "no_floor")
        assert net >= cover.get("value", 0)
    assert released > 100


@pytest.mark.parametrize(
    ("code", "over", "field"),
    [("FL", {}, "citation"), ("CO", {}, "document"), ("FL", {"citation": CITED, "state": "GA"}, "document")],
)
def test_a_document_that_releases_nothing_is_refused_with_the_field_that_mends_it(
    code: str, over: dict[str, Any], field: str
) -> None:
    with pytest.raises(CoreError) as refusal:
        check_covered(document(code, **over), [verdict(code)], "Driver front")
    assert set(refusal.value.fields) == {field}
    assert refusal.value.message.startswith("Driver front: ")
    two_states = [verdict(code), verdict("GA", FS, 24)]
    if over.get("state") == "GA":
        check_covered(document(code, **over), two_states, "Driver front")  # of two states it releases one
    check_covered(replace(document(code), kind=ReasonKind.OFF_ROAD_OR_SHOW), [verdict(code)], "Driver front")
