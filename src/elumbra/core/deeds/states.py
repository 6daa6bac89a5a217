"""The states of a job. Nobody sets one: it follows from what was done, and a step back is a deed as well."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType

from elumbra.core.errors import CoreError


class State(StrEnum):
    """Where a job stands."""

    INQUIRY = "inquiry"
    BOOKED = "booked"
    ARRIVED = "arrived"
    IN_BAY = "in_bay"
    PAUSED = "paused"
    READY = "ready"
    DELIVERED = "delivered"
    CANCELLED = "cancelled"
    NO_SHOW = "no_show"


class Deed(StrEnum):
    """What is done with a job as a whole."""

    BOOK = "book"
    UNBOOK = "unbook"
    ARRIVE = "arrive"
    START = "start"
    PAUSE = "pause"
    FINISH = "finish"
    DELIVER = "deliver"
    CANCEL = "cancel"
    NO_SHOW = "no_show"
    STEP_BACK = "step_back"


TO_COME = frozenset({State.INQUIRY, State.BOOKED})
"""The car is not here yet."""
HERE = frozenset({State.ARRIVED, State.IN_BAY, State.PAUSED, State.READY})
"""The car is in the shop."""
OPEN = TO_COME | HERE
DONE_WITH = frozenset(State) - OPEN
REASON_ASKED = frozenset({Deed.CANCEL, Deed.STEP_BACK})


@dataclass(frozen=True)
class _Step:
    since: frozenset[State]
    to: State


_AWAY = frozenset({State.CANCELLED, State.NO_SHOW})
_STEPS: Mapping[Deed, _Step] = MappingProxyType(
    {
        Deed.BOOK: _Step(frozenset({State.INQUIRY}) | _AWAY, State.BOOKED),
        Deed.UNBOOK: _Step(frozenset({State.BOOKED}), State.INQUIRY),
        Deed.ARRIVE: _Step(TO_COME | _AWAY, State.ARRIVED),
        Deed.START: _Step(TO_COME | HERE - {State.IN_BAY}, State.IN_BAY),
        Deed.PAUSE: _Step(frozenset({State.IN_BAY}), State.PAUSED),
        Deed.FINISH: _Step(frozenset({State.IN_BAY, State.PAUSED}), State.READY),
        Deed.DELIVER: _Step(HERE, State.DELIVERED),
        Deed.CANCEL: _Step(OPEN | {State.NO_SHOW}, State.CANCELLED),
        Deed.NO_SHOW: _Step(TO_COME, State.NO_SHOW),
    }
)
_WORDS: Mapping[State, str] = MappingProxyType(
    {
        State.INQUIRY: "an inquiry",
        State.BOOKED: "booked",
        State.ARRIVED: "waiting in the shop",
        State.IN_BAY: "in the bay",
        State.PAUSED: "paused",
        State.READY: "ready to go",
        State.DELIVERED: "delivered",
        State.CANCELLED: "canceled",
        State.NO_SHOW: "a no-show",
    }
)


def state_after(deeds: Iterable[Deed]) -> State:
    """The state that deeds lead to, oldest first; a step back undoes the deed before it that still counts.

    Examples
    --------
    >>> state_after([])
    <State.INQUIRY: 'inquiry'>
    >>> state_after([Deed.BOOK, Deed.START, Deed.PAUSE, Deed.STEP_BACK])
    <State.IN_BAY: 'in_bay'>
    """
    states = [State.INQUIRY]
    for deed in deeds:
        if deed is not Deed.STEP_BACK:
            states.append(_STEPS[deed].to)
        elif len(states) > 1:
            states.pop()
    return states[-1]


def possible(state: State, *, before: bool) -> tuple[Deed, ...]:
    """What can be done next with a job; ``before``: whether a deed counts that a step back would undo.

    Examples
    --------
    >>> [deed.value for deed in possible(State.DELIVERED, before=True)]
    ['step_back']
    """
    found = [deed for deed, step in _STEPS.items() if state in step.since]
    return (*found, Deed.STEP_BACK) if before else tuple(found)


def check_deed(state: State, deed: Deed, *, before: bool, reason: str) -> None:
    """Refuse a deed that makes no sense now.

    Raises
    ------
    CoreError
        The job stands elsewhere, or the deed asks for a reason.
    """
    if deed not in possible(state, before=before):
        told = "Nothing was done with it yet" if deed is Deed.STEP_BACK else f"This job is {_WORDS[state]}"
        raise CoreError(f"{told}. Look again; someone may have been faster.", fields={"deed": "Not now."})
    if deed in REASON_ASKED and not reason.strip():
        raise CoreError("Say why.", fields={"reason": "Cannot be empty."})
