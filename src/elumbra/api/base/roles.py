"""Who may call what. Every route says so; a route that does not is refused and fails a test."""

from __future__ import annotations

from collections.abc import Callable
from enum import StrEnum
from typing import Any, TypeVar

View = TypeVar("View", bound=Callable[..., Any])


class Role(StrEnum):
    """What a person does in the shop."""

    OWNER = "owner"  # people, devices, doors and copies of the data, besides all that a lead does
    LEAD = "lead"  # answers for waste, redo work and legality
    INSTALLER = "installer"
    LEARNER = "learner"  # works, but books no waste off and overrules nothing
    COUNTER = "counter"  # quotes, books, hands over


EVERYONE = frozenset(Role)
TRUSTED = EVERYONE - {Role.LEARNER}
BENCH = frozenset({Role.OWNER, Role.LEAD, Role.INSTALLER, Role.LEARNER})
HANDS = BENCH - {Role.LEARNER}
LEAD = frozenset({Role.OWNER, Role.LEAD})
OWNER = frozenset({Role.OWNER})
# Before anybody has said who they are.
ANYBODY: frozenset[Role] = frozenset()


def allow(roles: frozenset[Role], *, money: bool = False) -> Callable[[View], View]:
    """Declare the roles that may call a route; ``ANYBODY`` needs no acting person.

    ``money`` keeps it from those who may not see prices.
    """

    def declare(view: View) -> View:
        view.__elumbra_roles__ = roles  # type: ignore[attr-defined]
        view.__elumbra_money__ = money  # type: ignore[attr-defined]
        return view

    return declare


def sees_prices(role: str, facts: Any) -> bool:
    """Whether somebody may see prices: as was said of him, else everybody but a learner.

    Examples
    --------
    >>> sees_prices("learner", {}), sees_prices("installer", {}), sees_prices("installer", {"prices": False})
    (False, True, False)
    """
    if role == Role.OWNER:
        return True
    return bool(facts.get("prices", role != Role.LEARNER))
