"""Who may call what. Every route says so; a route that does not is refused and fails a test."""

from __future__ import annotations

from collections.abc import Callable
from enum import StrEnum
from typing import Any, TypeVar

View = TypeVar("View", bound=Callable[..., Any])


class Role(StrEnum):
    """What a person does in the shop."""

    LEAD = "lead"  # answers for waste, redo work and legality
    INSTALLER = "installer"
    COUNTER = "counter"  # quotes, books, hands over


EVERYONE = frozenset(Role)
BENCH = frozenset({Role.LEAD, Role.INSTALLER})
LEAD = frozenset({Role.LEAD})
# Before anybody has said who they are.
ANYBODY: frozenset[Role] = frozenset()


def allow(roles: frozenset[Role]) -> Callable[[View], View]:
    """Declare the roles that may call a route; ``ANYBODY`` needs no acting person."""

    def declare(view: View) -> View:
        view.__elumbra_roles__ = roles  # type: ignore[attr-defined]
        return view

    return declare
