"""What can be done with the rule book. Plain arguments, no web framework."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.base.refusals import ApiError
from elumbra.api.car_view.law_books import current_book, value_words
from elumbra.api.rules.fields import field_group, field_label, field_place, field_words
from elumbra.api.rules.schemas import (
    ConfirmIn,
    FieldOut,
    FieldWordIn,
    FileOut,
    LinkedOut,
    RuleBookOut,
    RuleBrief,
    RuleOut,
    SourceOut,
    StripRuleOut,
    WordIn,
    WordOut,
)
from elumbra.car import shop_starting_values
from elumbra.core.errors import LawError
from elumbra.core.law import (
    LAW_FORMAT,
    LAW_FORMAT_VERSION,
    FieldWord,
    Jurisdiction,
    VehicleClass,
    check_word,
    dispute_words,
    field_paths,
    field_value,
    odd_limit,
    parse_law_file,
    strip_words,
    words_in,
)
from elumbra.documents.job_file import check_content
from elumbra.storage import clock, law_words
from elumbra.storage.records import LawWordRecord
from elumbra.storage.store import people

_LARGEST_FILE = 4_000_000


def rule_book(session: Session) -> RuleBookOut:
    """All jurisdictions as they stand today."""
    shelf = law_words.Shelf(session)
    book, revision = shelf.current(), shelf.latest
    return RuleBookOut(
        version=book.version,
        day=book.day,
        revision=revision,
        own_file=shelf.file(revision) is not shelf.file(0),
        states=[_brief(record) for record in sorted(book.records.values(), key=lambda one: one.name)],
    )


def _brief(record: Jurisdiction) -> RuleBrief:
    paths = field_paths(record)
    overruled = sum(source.overruled for source in record.sources.values())
    return RuleBrief(
        code=record.code,
        name=record.name,
        statute=record.statute,
        confidence=record.confidence,
        fields=len(paths),
        unconfirmed=len(record.unconfirmed.intersection(paths)),
        overruled=overruled,
        confirmed=len(record.sources) - overruled,
        confirmed_on=confirmed_on(record),
        stale=_stale(record, clock.today_iso()),
        disputed=len(record.unsettled(paths)),
        front_side={c: value_words(field_value(record, f"{c.value}.front_side")) for c in VehicleClass},
    )


def rule_page(session: Session, code: str) -> RuleOut:
    """A jurisdiction's page: every field with its standing, linked rules, history."""
    book = current_book(session)
    record = book.of(code)
    names = {person.id: person.name for person in people(session).all()}
    said = law_words.history(session, code)
    in_force = {word.field: word for word in said if word.withdrawn_revision is None}
    return RuleOut(
        code=code,
        name=record.name,
        statute=record.statute,
        effective_from=record.effective_from,
        confidence=record.confidence,
        version=book.version,
        compiled=book.compiled,
        confirmed_on=confirmed_on(record),
        stale=_stale(record, book.day),
        day=book.day,
        fields=[_field(record, path, in_force, names) for path in field_paths(record)],
        linked=[
            LinkedOut(
                id=clause.id,
                role=clause.role,
                sentence=clause.sentence,
                citation=clause.citation,
                classes=sorted(clause.classes),
                positions=sorted(clause.positions),
                on=clause.on,
                vocabulary=sorted(words_in(clause.condition)),
            )
            for clause in record.clauses
        ],
        strips=[_strip_rule(record, vehicle_class) for vehicle_class in VehicleClass],
        notes=[
            str(record.row[name])
            for name in ("other", "second_note", "reflectance_note", "sticker_note", "medical_note", "tolerance_how")
            if record.row.get(name)
        ],
        history=[_word_out(word, record, names) for word in said],
        upcoming=_upcoming(session, code, said),
    )


def confirmed_on(record: Jurisdiction) -> str:
    """The last day on which somebody of the shop spoke on a field; empty where nobody did."""
    return max((source.at[:10] for source in record.sources.values()), default="")


def _stale(record: Jurisdiction, today: str) -> bool:
    """Whether the last look at the statute is twelve months ago or more."""
    last = confirmed_on(record)
    return bool(last) and f"{int(last[:4]) + 1}{last[4:]}" <= today


def _field(
    record: Jurisdiction, path: str, in_force: Mapping[str, LawWordRecord], names: Mapping[str, str]
) -> FieldOut:
    value = field_value(record, path)
    source, word = record.sources.get(path), in_force.get(path)
    vehicle_class, position = field_place(path)
    return FieldOut(
        path=path,
        label=field_label(path, record),
        group=field_group(path),
        vehicle_class=vehicle_class,
        position=position,
        value=value,
        words=field_words(path, value),
        unconfirmed=path in record.unconfirmed,
        disputed=[dispute_words(value) for value in record.disputes[path].values] if path in record.disputes else [],
        source=SourceOut(
            word_id=word.id,
            overruled=source.overruled,
            citation=word.citation,
            effective_from=word.effective_from,
            effective_until=word.effective_until,
            person=names.get(word.person_id, word.person_id),
            at=word.at.date().isoformat(),
        )
        if source and word
        else None,
    )


def _strip_rule(record: Jurisdiction, vehicle_class: VehicleClass) -> StripRuleOut:
    rule = record.windshield[vehicle_class]
    path = f"{vehicle_class.value}.windshield"
    return StripRuleOut(
        vehicle_class=vehicle_class,
        rule=rule.strip,
        inches=rule.strip_inches,
        words=strip_words(rule.strip, rule.strip_inches),
        strip_vlt=value_words(field_value(record, f"{path}.strip_vlt")),
        below_strip=value_words(field_value(record, f"{path}.below_strip")),
    )


def _word_out(word: LawWordRecord, record: Jurisdiction, names: Mapping[str, str]) -> WordOut:
    source = record.sources.get(word.field)
    return WordOut(
        id=word.id,
        revision=word.revision,
        field=word.field,
        label=field_label(word.field, record),
        words=field_words(word.field, word.value["value"]),
        overruled=bool(source and source.overruled and word.withdrawn_revision is None),
        citation=word.citation,
        effective_from=word.effective_from,
        effective_until=word.effective_until,
        person=names.get(word.person_id, word.person_id),
        at=_zoned(word.at),
        withdrawn_by=names.get(word.withdrawn_by, word.withdrawn_by) if word.withdrawn_by else None,
        withdrawn_at=_zoned(word.withdrawn_at) if word.withdrawn_at else None,
    )


def _zoned(moment: datetime) -> datetime:
    return moment.replace(tzinfo=UTC)


def _upcoming(session: Session, code: str, said: Sequence[LawWordRecord]) -> list[str]:
    shelf = law_words.Shelf(session)
    file = shelf.file(shelf.latest)
    days = {record.effective_from for record in file.records.get(code, ())}
    days |= {word.effective_from for word in said if word.withdrawn_revision is None}
    return sorted(day for day in days if day > clock.today_iso())


def say(session: Session, code: str, body: WordIn, *, person_id: str) -> str:
    """Confirm or overrule one field; the jurisdiction's code.

    Raises
    ------
    LawError
        The word cannot be taken; ``fields`` says why.
    """
    whole = ConfirmIn(
        fields=[FieldWordIn(field=body.field, value=body.value, replaces=body.replaces)],
        citation=body.citation, effective_from=body.effective_from, sure=body.sure,
    )  # fmt: skip
    return confirm(session, code, whole, person_id=person_id, until=body.effective_until)


def confirm(session: Session, code: str, body: ConfirmIn, *, person_id: str, until: str = "") -> str:
    """Confirm or overrule several fields at once, all or none; the jurisdiction's code.

    Raises
    ------
    LawError
        A word cannot be taken, or is odd and nobody said that it is meant so; ``fields`` says why.
    """
    check_content([one.value for one in body.fields])
    shelf = law_words.Shelf(session)
    file = shelf.file(shelf.latest)
    versions = file.records.get(code)
    if not versions:
        current_book(session).of(code)
        raise LawError(f"There is no state “{code}” in the rule book.")
    record, starting = versions[-1], shop_starting_values(session)
    present = [law_words.as_word(one) for one in law_words.history(session, code) if one.withdrawn_revision is None]
    current = shelf.current().records.get(code, record)
    for one in body.fields:
        word = FieldWord("", code, one.field, one.value, body.citation, body.effective_from, until)
        check_word(record, word, [other for other in present if other.id != one.replaces])
        if not body.sure and (odd := odd_limit(current, one.field, one.value, starting=starting)):
            raise ApiError("ask_again", odd, fields={"value": odd, one.field: odd})
        law_words.say(session, word, person_id=person_id, replaces=one.replaces)
    return code


def withdraw(session: Session, word_id: str, *, person_id: str) -> str:
    """Take the shop's word on a field back; the jurisdiction's code."""
    return law_words.withdraw(session, word_id, person_id=person_id).code


def read_file(content: bytes) -> str:
    """A law file's text, checked before anything is locked.

    Raises
    ------
    LawError
        Broken, foreign or huge, or a word outside the vocabulary, which is named with the
        nearest known one.
    """
    if len(content) > _LARGEST_FILE:
        raise LawError(f"This file has {len(content) / 1e6:.1f} MB; a law file has at most 4 MB. Is it the right file?")
    try:
        text = content.decode("utf-8")
        document = json.loads(text)
    except UnicodeDecodeError as error:
        raise LawError("This file is not text in UTF-8.") from error
    except json.JSONDecodeError as error:
        raise LawError(f"This file is broken at line {error.lineno}, column {error.colno}: {error.msg}.") from error
    except (RecursionError, ValueError) as error:
        raise LawError("This file is nested far deeper than a law file, or holds a number that no law has.") from error
    check_content(document)
    if not isinstance(document, dict):
        raise LawError("This is not an Elumbra law file: it is not an object with “format”.")
    parse_law_file(document)
    return text


def take_in_file(session: Session, text: str, *, person_id: str) -> str:
    """Use another law file from now on; jobs keep what they were judged by until judged again."""
    law_words.take_in_file(session, text, person_id=person_id)
    return str(law_words.Shelf(session).latest)


def file_taken_in(session: Session) -> FileOut:
    """The law file in use."""
    shelf = law_words.Shelf(session)
    file = shelf.file(shelf.latest)
    return FileOut(
        version=file.version,
        states=len(file.records),
        linked=sum(len(record.clauses) for versions in file.records.values() for record in versions),
        revision=shelf.latest,
    )


def export_file(session: Session) -> bytes:
    """The law file as it stands, the shop's words of today in it."""
    book = current_book(session)
    document: dict[str, Any] = {
        "format": LAW_FORMAT,
        "format_version": LAW_FORMAT_VERSION,
        "version": f"{book.version}, as on {book.day}",
        "compiled": book.compiled,
        "records": [dict(record.row) for record in book.records.values()],
    }
    return (json.dumps(document, indent=1, ensure_ascii=False) + "\n").encode()
