"""Any value of any fact, drawn from how the fact is declared: a new fact is tested without a line here."""

from __future__ import annotations

from dataclasses import fields
from enum import StrEnum
from types import NoneType, UnionType
from typing import Any, Union, get_args, get_origin, get_type_hints

from annotated_types import Ge, Gt, Le, Len
from hypothesis import strategies as st

from elumbra.core.law import VehicleClass
from tests.catalogue.law import LAW

words = (
    st.text(st.characters(codec="utf-8", exclude_categories=["Cs", "Cc"]), min_size=1, max_size=30)
    .filter(str.strip)
    .map(str.strip)
)
_OWN = {"states": st.lists(st.sampled_from(sorted(LAW.records)), min_size=1, max_size=3, unique=True).map(tuple)}


def facts(kind: type[Any]) -> st.SearchStrategy[dict[str, Any]]:
    """All facts of a kind by name, each any value that it can have."""
    hints = get_type_hints(kind, include_extras=True)
    return st.fixed_dictionaries(
        {one.name: _OWN.get(one.name, value_of(hints[one.name])) for one in fields(kind)}
    )  # fmt: skip


def value_of(hint: Any, bounds: tuple[Any, ...] = ()) -> st.SearchStrategy[Any]:
    """Any value of a type within its bounds."""
    arguments = get_args(hint)
    if get_origin(hint) in (Union, UnionType):
        return st.one_of(*(value_of(one, bounds) for one in arguments))
    if hasattr(hint, "__metadata__"):
        return value_of(arguments[0], (*bounds, *hint.__metadata__))
    if get_origin(hint) is tuple:
        most = next((bound.max_length for bound in bounds if isinstance(bound, Len)), 5)
        return st.lists(value_of(arguments[0]), max_size=min(most or 5, 5), unique=True).map(tuple)
    if hint is NoneType or hint is None:
        return st.none()
    if isinstance(hint, type) and issubclass(hint, StrEnum):
        return st.sampled_from(hint)
    return _plain(hint, bounds)


def _plain(hint: Any, bounds: tuple[Any, ...]) -> st.SearchStrategy[Any]:
    low = next((b.ge for b in bounds if isinstance(b, Ge)), next((b.gt for b in bounds if isinstance(b, Gt)), None))
    high = next((bound.le for bound in bounds if isinstance(bound, Le)), None)
    if hint is bool:
        return st.booleans()
    if hint is int:
        return st.integers(low, high)
    if hint is float:
        above = any(isinstance(bound, Gt) for bound in bounds)
        return st.floats(low, high, allow_nan=False, exclude_min=above).map(lambda value: round(value, 3) or 0.5)
    assert hint is str, f"how is a {hint} drawn?"
    return words


def other_value(hint: Any, value: Any) -> st.SearchStrategy[Any]:
    """A value of the type that is not the given one."""
    return value_of(hint).filter(lambda found: found != value)


PASSENGER = {"vehicle_class": VehicleClass.PASSENGER, "states": ("TX",)}
