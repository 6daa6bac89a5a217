"""Request bodies and answers: what they share, and how facts become fields of them."""

from __future__ import annotations

from copy import deepcopy
from datetime import UTC, datetime
from functools import cache
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, model_validator

from elumbra.documents.job_file import check_content
from elumbra.documents.paper import Paper

Percent = Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)]
Words = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
ShortText = Annotated[str, StringConstraints(strip_whitespace=True, max_length=120)]
LongText = Annotated[str, StringConstraints(strip_whitespace=True, max_length=2000)]
Typed = Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)]
Id = Annotated[str, StringConstraints(min_length=1, max_length=64)]
Version = Annotated[int, Field(ge=0, le=2**31)]
FindingsIn = Annotated[
    dict[
        Annotated[str, StringConstraints(max_length=60)],
        Annotated[str, StringConstraints(max_length=400)] | Annotated[list[ShortText], Field(max_length=20)] | None,
    ],
    Field(max_length=80),
]
Password = Annotated[str, Field(min_length=8, max_length=200)]
Point = Annotated[list[float], Field(min_length=2, max_length=2)]


class Body(BaseModel):
    """A request body: unknown fields are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, str_strip_whitespace=True)

    @model_validator(mode="before")
    @classmethod
    def _can_be_kept(cls, content: Any) -> Any:
        """Refuse what nothing can store or print: half characters, bottomless nesting, endless numbers."""
        check_content(content)
        return content


class IdPath(BaseModel):
    """The id in a path."""

    id: Id


class VersionBody(Body):
    """The version that a write is based on."""

    version: Version


class PaperQuery(BaseModel):
    """Paper to print on."""

    paper: Paper = Paper.LETTER


SAID = ConfigDict(json_schema_serialization_defaults_required=True)
"""For answers: what has a default is always there all the same."""


class Described(BaseModel):
    """An answer of many routes: its schema is worked out once, for that takes a good part of the start."""

    model_config = SAID

    @classmethod
    def model_json_schema(cls, **given: Any) -> dict[str, Any]:  # type: ignore[override]
        """The JSON schema, a copy for each caller."""
        key = tuple(sorted(given.items()))
        return deepcopy(_schema(cls, key))


@cache
def _schema(model: type[BaseModel], key: tuple[tuple[str, Any], ...]) -> dict[str, Any]:
    return BaseModel.model_json_schema.__func__(model, **dict(key))  # type: ignore[attr-defined, no-any-return]


def sent(body: BaseModel, *, without: frozenset[str] = frozenset({"version"})) -> dict[str, Any]:
    """What a patch really sent, by name."""
    return {name: getattr(body, name) for name in body.model_fields_set - without}


def zoned(moment: datetime | None) -> datetime | None:
    """A stored time with its zone."""
    return None if moment is None else moment.replace(tzinfo=UTC)
