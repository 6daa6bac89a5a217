"""The shop's own rule book: its words on single fields, its law file, and how both stood before.

Every change counts the rule book's revision up by one. Nothing is rewritten: a word that is
taken back is marked withdrawn, so that the book can be read as it stood at any revision.
"""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from elumbra.core.law import FieldWord, LawBook, LawFile, parse_law_file
from elumbra.storage import clock, data_files
from elumbra.storage.declared import as_record
from elumbra.storage.records import LawWordRecord
from elumbra.storage.store import NotFoundError, new_id, now, stamp_shop
from elumbra.storage.tables import LawFileRow, LawWordRow


class Shelf:
    """The rule book at all its revisions, read from the database once."""

    def __init__(self, session: Session) -> None:
        self._session = session
        query = select(LawWordRow).order_by(LawWordRow.revision)
        self._said = [as_record(row, LawWordRecord) for row in session.scalars(query)]
        self._files = list(session.scalars(select(LawFileRow.revision).order_by(LawFileRow.revision)))

    @property
    def latest(self) -> int:
        """The newest revision; 0 while the shop has changed nothing."""
        revisions = [word.revision for word in self._said] + self._files
        revisions += [word.withdrawn_revision for word in self._said if word.withdrawn_revision is not None]
        return max(revisions, default=0)

    def words(self, revision: int) -> list[FieldWord]:
        """The words in force at a revision."""
        return [
            as_word(word)
            for word in self._said
            if word.revision <= revision and (word.withdrawn_revision is None or word.withdrawn_revision > revision)
        ]

    def file(self, revision: int) -> LawFile:
        """The law file in use at a revision: the shop's own where it took one in, else the shipped one."""
        taken = [number for number in self._files if number <= revision]
        if not taken:
            return data_files.law_file()
        row = self._session.get(LawFileRow, taken[-1])
        assert row is not None
        return _parsed(row.content)

    def book(self, revision: int, day: str) -> LawBook:
        """The rule book as it stood at a revision, for a day."""
        words = self.words(revision)
        return _book(self.file(revision), day, _Said(tuple(word.id for word in words), words))

    def current(self) -> LawBook:
        """The rule book as it stands today."""
        return self.book(self.latest, clock.today_iso())


def say(session: Session, word: FieldWord, *, person_id: str, replaces: str | None = None) -> LawWordRecord:
    """Keep the shop's word on a field, in place of an older one where that is named."""
    revision = Shelf(session).latest + 1
    if replaces is not None:
        _withdraw(session, replaces, revision, person_id)
    row = LawWordRow(
        id=new_id(), revision=revision, withdrawn_revision=None, code=word.code, field=word.field,
        value={"value": word.value}, citation=word.citation, effective_from=word.effective_from,
        effective_until=word.effective_until, person_id=person_id, at=now(), withdrawn_by=None, withdrawn_at=None,
    )  # fmt: skip
    session.add(row)
    session.flush()
    stamp_shop(session)
    return as_record(row, LawWordRecord)


def withdraw(session: Session, word_id: str, *, person_id: str) -> LawWordRecord:
    """Take the shop's word back; the law file's own figure stands again.

    Raises
    ------
    NotFoundError
        There is no such word, or it is withdrawn already.
    """
    return _withdraw(session, word_id, Shelf(session).latest + 1, person_id)


def _withdraw(session: Session, word_id: str, revision: int, person_id: str) -> LawWordRecord:
    row = session.get(LawWordRow, word_id)
    if row is None or row.withdrawn_revision is not None:
        raise NotFoundError("word of the shop in force", word_id)
    row.withdrawn_revision, row.withdrawn_by, row.withdrawn_at = revision, person_id, now()
    session.flush()
    stamp_shop(session)
    return as_record(row, LawWordRecord)


def history(session: Session, code: str) -> list[LawWordRecord]:
    """All words on a jurisdiction, withdrawn ones too, newest first."""
    query = select(LawWordRow).where(LawWordRow.code == code).order_by(LawWordRow.revision.desc())
    return [as_record(row, LawWordRecord) for row in session.scalars(query)]


def as_word(record: LawWordRecord) -> FieldWord:
    """A stored word as the core knows it."""
    return FieldWord(
        record.id, record.code, record.field, record.value["value"], record.citation, record.effective_from,
        record.effective_until, record.person_id, record.at.date().isoformat(),
    )  # fmt: skip


def take_in_file(session: Session, content: str, *, person_id: str) -> LawFile:
    """Use another law file from now on; jobs judged before keep theirs.

    Raises
    ------
    LawError
        The file cannot be used; the record and the word are named.
    """
    parsed = _parsed(content)
    session.add(
        LawFileRow(revision=Shelf(session).latest + 1, content=content, person_id=person_id, at=now())
    )  # fmt: skip
    session.flush()
    stamp_shop(session)
    return parsed


@lru_cache(maxsize=8)
def _parsed(content: str) -> LawFile:
    document: Any = json.loads(content)
    return parse_law_file(document)


class _Said:
    """Words compared by their ids: what was said never changes."""

    def __init__(self, key: tuple[str, ...], words: list[FieldWord]) -> None:
        self.key, self.words = key, words

    def __hash__(self) -> int:
        return hash(self.key)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Said) and self.key == other.key


@lru_cache(maxsize=256)
def _book(file: LawFile, day: str, said: _Said) -> LawBook:
    return file.on(day, said.words)
