"""How the facts of a core class become fields of a pydantic model: of a file's part, of a body, of an answer."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import MISSING, fields
from dataclasses import Field as Field_
from typing import Any, TypeVar, get_type_hints

from pydantic import BaseModel, Field, create_model

Model = TypeVar("Model", bound=BaseModel)


def with_facts(kind: type[Any], *, partial: bool = False) -> Callable[[type[Model]], type[Model]]:
    """Give a model all facts of a kind as its fields.

    Parameters
    ----------
    kind
        A dataclass of facts.
    partial
        For patches: every fact may be left out, and is then not changed.
    """
    hints = get_type_hints(kind, include_extras=True)
    given: dict[str, Any] = {}
    for one in fields(kind):
        hint = hints[one.name]
        given[one.name] = (hint | None, None) if partial else (hint, _default_of(one))

    def _own(model: type[Model]) -> dict[str, Any]:
        """A model that says a fact in its own way keeps that."""
        return {name: value for name, value in given.items() if name not in model.model_fields}

    def extend(model: type[Model]) -> type[Model]:
        return create_model(
            model.__name__, __base__=model, __module__=model.__module__, __doc__=model.__doc__, **_own(model)
        )  # fmt: skip

    return extend


def _default_of(one: Field_[Any]) -> Any:
    if one.default_factory is not MISSING:
        return Field(default_factory=one.default_factory)
    return ... if one.default is MISSING else one.default
