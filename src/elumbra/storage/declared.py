"""A stored thing is declared once, as a frozen record; its table follows from that.

A record's field gives the column of the same name: its type, its default, whether it may be null. What only a
database knows, such as what a column refers to, is said in the field's annotation. A row class names its table
and its record, and holds no field of its own but for what is worked out of the record to be searched by.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import MISSING, Field, fields
from datetime import UTC, datetime
from enum import StrEnum
from functools import cache
from types import NoneType, UnionType
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, TypeVar, Union, cast, get_args, get_origin, get_type_hints
from uuid import uuid4

from sqlalchemy import JSON, ForeignKey, String, Text, TypeDecorator
from sqlalchemy.orm import DeclarativeBase, Mapped, MappedColumn, mapped_column

AnyRecord = TypeVar("AnyRecord")

column = mapped_column
KEY = mapped_column(String(64), primary_key=True)
ID = mapped_column(String(64))
INDEXED = mapped_column(index=True)
LONG = mapped_column(Text)
UNSTORED = "unstored"
"""For a field that is worked out as the record is read, and has no column."""


def refers(table: str, **more: Any) -> MappedColumn[Any]:
    """The id of a record of another table."""
    return mapped_column(ForeignKey(f"{table}.id"), **more)


def new_id() -> str:
    """An id that nobody else makes."""
    return uuid4().hex[:16]


def now() -> datetime:
    """The time that records carry: UTC, without zone, as SQLite keeps it."""
    return datetime.now(UTC).replace(tzinfo=None, microsecond=0)


if TYPE_CHECKING:
    from sqlalchemy.orm.decl_api import DeclarativeAttributeIntercept

    class _Columns(DeclarativeAttributeIntercept):
        def __getattr__(cls, name: str) -> Any: ...  # noqa: N805  of a metaclass

    class _Declarative(DeclarativeBase, metaclass=_Columns):
        def __getattr__(self, name: str) -> Any: ...
        def __setattr__(self, name: str, value: Any) -> None: ...

else:
    _Declarative = DeclarativeBase


class Coded(TypeDecorator[StrEnum]):
    """One of some codes, kept as its text; a code that this release does not know is read as text."""

    impl = String
    cache_ok = True

    def __init__(self, codes: type[StrEnum]) -> None:
        self.codes = codes
        super().__init__()

    def process_bind_param(self, value: StrEnum | str | None, dialect: Any) -> str | None:  # noqa: ARG002  as called
        """As it is kept."""
        return None if value is None else str(value)

    def process_result_value(self, value: str | None, dialect: Any) -> Any:  # noqa: ARG002  as called
        """As it is read."""
        return self.codes(str(value)) if value in {*self.codes} else value


class Base(_Declarative):
    """Base of all tables.

    Examples
    --------
    A table of its record's fields, under its own name::

        class FilmRow(Base, of=FilmRecord):
            __tablename__ = "film"
    """

    record: ClassVar[type[Any]]
    type_annotation_map = {dict[str, Any]: JSON}  # noqa: RUF012

    def __init_subclass__(cls, *, of: type[Any] | None = None, **more: Any) -> None:
        """Give the class a column for every field of its record."""
        if of is not None:
            cls.record = of
            for one, hint in stored_fields(of):
                _declare(cls, one, hint)
        super().__init_subclass__(**more)


def stored_fields(record: type[Any]) -> list[tuple[Field[Any], Any]]:
    """The fields of a record that have a column, with their types."""
    hints = get_type_hints(record, include_extras=True)
    return [(one, hints[one.name]) for one in fields(record) if UNSTORED not in get_args(hints[one.name])]


def _declare(row: type[Any], one: Field[Any], hint: Any) -> None:
    """Give a row class the column of a field."""
    said: dict[str, Any] = {}
    if one.default_factory is not MISSING:
        said["default"] = one.default_factory
    elif one.default is not MISSING and one.default is not None:
        said["default"] = one.default
    plain, may_be_null, columns = _taken_apart(hint)
    origin = get_origin(plain) or plain
    types: list[Any] = []
    if issubclass(origin, StrEnum):
        types = [Coded(origin)]
    elif issubclass(origin, Collection) and not issubclass(origin, str | bytes):
        types = [JSON]
    kind: Any = plain | None if may_be_null else plain
    for one_said in columns:
        kind = Annotated[kind, one_said]
    row.__annotations__[one.name] = Mapped[kind]
    setattr(row, one.name, mapped_column(*types, **said))


def _taken_apart(hint: Any) -> tuple[Any, bool, list[MappedColumn[Any]]]:
    """The bare type of a field, whether it may be null, and what is said of its column."""
    columns: list[MappedColumn[Any]] = []
    may_be_null = False
    while True:
        if get_origin(hint) is Annotated:
            hint, *more = get_args(hint)
            columns += [one for one in more if isinstance(one, MappedColumn)]
        elif get_origin(hint) in (Union, UnionType):
            (hint,) = (one for one in get_args(hint) if one is not NoneType)
            may_be_null = True
        else:
            return hint, may_be_null, columns


def as_record(row: Any, record: type[AnyRecord]) -> AnyRecord:
    """A frozen copy of a row; what has no column keeps its default."""
    return record(**{name: getattr(row, name) for name in _stored_names(cast(Any, record))})


@cache
def _stored_names(record: Any) -> tuple[str, ...]:
    return tuple(one.name for one, _ in stored_fields(record))


def as_kept(value: Any) -> Any:
    """A value as a JSON column keeps it, not shared with the record it came from."""
    if isinstance(value, Mapping):
        return {key: as_kept(one) for key, one in value.items()}
    if isinstance(value, list | tuple):
        return [as_kept(one) for one in value]
    return value
