"""A stored thing is declared once: its table follows from its record, and holds no field of its own."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, fields
from datetime import datetime
from enum import StrEnum
from pathlib import Path
from typing import Annotated, Any

import pytest
from annotated_types import Ge, Len
from sqlalchemy import JSON, Boolean, DateTime, Double, Integer, MetaData, String, Text, create_engine, insert, select
from sqlalchemy.orm import Session

from elumbra.storage import door_tables, kept_tables, practice_tables, tables  # noqa: F401  for their rows
from elumbra.storage.declared import INDEXED, KEY, LONG, UNSTORED, Base, as_record, stored_fields
from elumbra.storage.records import StockRecord

SEARCHED_BY = {"cutting": {"lots"}}  # worked out of the record, to be found by
OF_OLDER_RELEASES = {"photo": {"content"}}
ROWS = sorted(
    (one.class_ for one in Base.registry.mappers if hasattr(one.class_, "record")), key=lambda row: row.__tablename__
)


class Side(StrEnum):
    """For the sample."""

    UP = "up"
    DOWN = "down"


@dataclass(frozen=True, kw_only=True)
class Sample:
    """A field of every sort."""

    id: Annotated[str, KEY]
    words: Annotated[str, Len(0, 9)] = "none"
    long: Annotated[str, LONG] = ""
    found_by: Annotated[str | None, INDEXED] = None
    count: int = 3
    length_mm: Annotated[float, Ge(0)] | None = None
    sure: bool = True
    side: Annotated[Side, INDEXED] = Side.DOWN
    other_side: Side | None = None
    at: datetime
    facts: Mapping[str, Any] = field(default_factory=lambda: {"a": 1})
    listed: list[list[float]] = field(default_factory=list)
    worked_out: Annotated[int, UNSTORED] = 12


class _Apart(Base):
    __abstract__ = True
    metadata = MetaData()


class SampleRow(_Apart, of=Sample):
    """Its table, beside those of the application."""

    __tablename__ = "sample"


AT = datetime(2026, 3, 4, 5, 6, 7)  # noqa: DTZ001  as SQLite keeps it


@pytest.fixture
def session(tmp_path: Path) -> Session:
    engine = create_engine(f"sqlite:///{tmp_path / 'sample.db'}")
    _Apart.metadata.create_all(engine)
    return Session(engine)


def test_each_field_gives_its_column() -> None:
    found = {one.name: (type(one.type), one.nullable, bool(one.index)) for one in SampleRow.__table__.columns}
    coded = type(SampleRow.__table__.c.side.type)
    assert issubclass(coded.impl, String) or isinstance(coded.impl, String)
    assert found == {
        "id": (String, False, False),
        "words": (String, False, False),
        "long": (Text, False, False),
        "found_by": (String, True, True),
        "count": (Integer, False, False),
        "length_mm": (Double, True, False),
        "sure": (Boolean, False, False),
        "side": (coded, False, True),
        "other_side": (coded, True, False),
        "at": (DateTime, False, False),
        "facts": (JSON, False, False),
        "listed": (JSON, False, False),
    }


def test_defaults_of_the_record_are_those_of_the_row(session: Session) -> None:
    session.add(SampleRow(id="bare", at=AT))
    session.flush()
    session.expire_all()
    assert as_record(session.scalar(select(SampleRow)), Sample) == Sample(id="bare", at=AT)


def test_what_is_kept_is_read_back_in_its_own_types(session: Session) -> None:
    given = Sample(id="x", at=AT, words="w", length_mm=2.5, sure=False, side=Side.UP, facts={"b": [1]}, listed=[[1.0]])
    session.add(SampleRow(**{one.name: getattr(given, one.name) for one, _ in stored_fields(Sample)}))
    session.flush()
    session.expire_all()
    found = as_record(session.scalar(select(SampleRow)), Sample)
    assert found == given
    assert found.side is Side.UP


def test_a_code_of_another_release_is_read_as_its_text(session: Session) -> None:
    session.execute(insert(SampleRow.__table__).values(id="x", at=AT, side="sideways"))
    assert as_record(session.scalar(select(SampleRow)), Sample).side == "sideways"


@pytest.mark.parametrize("row", ROWS, ids=lambda row: row.__tablename__)
def test_no_row_holds_a_field_of_its_own(row: Any) -> None:
    """But those that are listed above: a field has one place."""
    own = {one.name for one in row.__table__.columns} - {one.name for one, _ in stored_fields(row.record)}
    assert own == SEARCHED_BY.get(row.__tablename__, OF_OLDER_RELEASES.get(row.__tablename__, set()))


def test_every_record_has_its_table() -> None:
    assert len(ROWS) >= 35
    assert len({row.record for row in ROWS}) == len(ROWS)


def test_another_is_like_the_first_but_for_what_is_given() -> None:
    first = StockRecord(
        id="a", version=7, removed=True, film_id="f", kind="roll", label="R", width_typed="20", width_mm=508.0,
        full_length_typed="100 ft", full_length_mm=30480.0, price=90.0, lot="L", place="hook 3", slittable=False,
    )  # fmt: skip
    made = first.another(label="S", price=45.0)
    assert (made.version, made.removed) == (1, False)
    assert made.id != "a"
    different = {one.name for one in fields(StockRecord) if getattr(made, one.name) != getattr(first, one.name)}
    assert different == {"id", "version", "removed", "label", "price"}
