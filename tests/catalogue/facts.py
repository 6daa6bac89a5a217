"""Any value of any fact, drawn from how the fact is declared: a new fact is tested without a line here."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields, is_dataclass
from enum import Enum
from types import NoneType, UnionType
from typing import Any, Union, get_args, get_origin, get_type_hints

from annotated_types import Ge, Gt, Le, Len
from hypothesis import strategies as st

from elumbra.core.law import VehicleClass
from elumbra.core.survey import CAR_FINDINGS, WINDOW_FINDINGS, Field, Finding
from elumbra.core.work import VehicleFacts, WindowFacts
from tests.catalogue.law import LAW

words = (
    st.text(st.characters(codec="utf-8", exclude_categories=["Cs", "Cc"]), min_size=1, max_size=30)
    .filter(str.strip)
    .map(str.strip)
)


def _answer(finding: Finding) -> st.SearchStrategy[str | tuple[str, ...]]:
    options = list(finding.options)
    return {
        Field.CHOICE: st.sampled_from(options or [""]),
        Field.SEVERAL: st.lists(st.sampled_from(options or [""]), min_size=1, unique=True).map(tuple),
        Field.LENGTH: st.sampled_from(["1 1/2", "12", "250 mm", "0"]),
        Field.NUMBER: st.integers(0, 100).map(str),
        Field.TEXT: words,
    }[finding.how]


def answers(table: Mapping[str, Finding]) -> st.SearchStrategy[dict[str, str | tuple[str, ...]]]:
    """Any answers to any of a table's findings."""
    return st.fixed_dictionaries({}, optional={one.name: _answer(one) for one in table.values() if not one.of_fact})


_OWN = {"states": st.lists(st.sampled_from(sorted(LAW.records)), min_size=1, max_size=3, unique=True).map(tuple)}

_TABLES: dict[type[Any], Mapping[str, Finding]] = {WindowFacts: WINDOW_FINDINGS, VehicleFacts: CAR_FINDINGS}


def facts(kind: type[Any]) -> st.SearchStrategy[dict[str, Any]]:
    """All facts of a kind by name, each any value that it can have."""
    hints = get_type_hints(kind, include_extras=True)
    return st.fixed_dictionaries(
        {
            one.name: answers(_TABLES[kind])
            if one.name == "findings"
            else _OWN.get(one.name, value_of(hints[one.name]))
            for one in fields(kind)
        }
    )


def fact_of(kind: type[Any], name: str) -> st.SearchStrategy[Any]:
    """Any value of one fact of a kind."""
    return answers(_TABLES[kind]) if name == "findings" else value_of(get_type_hints(kind, include_extras=True)[name])


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
    if isinstance(hint, type) and issubclass(hint, Enum):
        return st.sampled_from(hint)
    if is_dataclass(hint):
        return st.builds(
            hint, **{name: value_of(one) for name, one in get_type_hints(hint, include_extras=True).items()}
        )
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
