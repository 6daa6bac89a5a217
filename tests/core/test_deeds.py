"""The states of a job: each follows from deeds, each can be reached, none is a dead end."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elumbra.core.deeds import DONE_WITH, HERE, OPEN, TO_COME, Deed, State, check_deed, possible, state_after
from elumbra.core.errors import CoreError
from tests.effort import examples

# By state what can be done with the job, as a shop would say it.
CAN = {
    "inquiry": "book arrive start cancel no_show",
    "booked": "unbook arrive start cancel no_show",
    "arrived": "start deliver cancel",
    "in_bay": "pause finish deliver cancel",
    "paused": "start finish deliver cancel",
    "ready": "start deliver cancel",
    "delivered": "",
    "cancelled": "book arrive",
    "no_show": "book arrive cancel",
}


def walked(choices: list[int]) -> list[list[Deed]]:
    """A job's deeds after each choice among those that can be done."""
    done: list[Deed] = []
    found = [list(done)]
    for choice in choices:
        counts = len(done) - 2 * done.count(Deed.STEP_BACK) > 0
        can = possible(state_after(done), before=counts)
        done = [*done, can[choice % len(can)]]
        found.append(done)
    return found


@pytest.mark.parametrize("state", State)
def test_what_can_be_done_in_each_state(state: State) -> None:
    assert {deed.value for deed in possible(state, before=False)} == set(CAN[state].split())
    assert Deed.STEP_BACK in possible(state, before=True)


def test_every_state_is_reached_and_none_is_a_dead_end() -> None:
    reached, edge = {State.INQUIRY: [()]}, [((), State.INQUIRY)]
    while edge:
        done, state = edge.pop()
        for deed in possible(state, before=False):
            after = state_after([*done, deed])
            if after not in reached:
                reached[after] = [(*done, deed)]
                edge.append(((*done, deed), after))
    assert set(reached) == set(State)
    for state, roads in reached.items():
        assert possible(state, before=bool(roads[0])), state


@examples(400)
@given(st.lists(st.integers(0, 12), max_size=30))
def test_a_step_back_leads_where_the_job_was_before(choices: list[int]) -> None:
    for done in walked(choices):
        state = state_after(done)
        for deed in possible(state, before=False):
            assert state_after([*done, deed, Deed.STEP_BACK]) is state


@examples(400)
@given(st.lists(st.integers(0, 12), max_size=30))
def test_a_delivered_car_was_here_and_only_a_step_back_brings_it_back(choices: list[int]) -> None:
    steps = walked(choices)
    for before, after in pairwise(steps):
        was, deed = state_after(before), after[-1]
        if state_after(after) is State.DELIVERED and deed is not Deed.STEP_BACK:
            assert was in HERE
        if was is State.DELIVERED:
            assert deed is Deed.STEP_BACK


def test_states_are_to_come_here_or_done_with() -> None:
    assert frozenset(State) == OPEN | DONE_WITH
    assert {state.value for state in TO_COME} == {"inquiry", "booked"}
    assert {state.value for state in DONE_WITH} == {"delivered", "cancelled", "no_show"}
    assert not OPEN & DONE_WITH


@pytest.mark.parametrize(
    ("state", "deed", "before", "reason", "told"),
    [
        (State.DELIVERED, Deed.START, True, "", "This job is delivered."),
        (State.INQUIRY, Deed.STEP_BACK, False, "why", "Nothing was done with it yet."),
        (State.BOOKED, Deed.CANCEL, True, "  ", "Say why."),
        (State.IN_BAY, Deed.STEP_BACK, True, "", "Say why."),
        (State.IN_BAY, Deed.NO_SHOW, True, "", "This job is in the bay."),
    ],
)
def test_a_deed_that_makes_no_sense_is_refused_with_why(
    state: State, deed: Deed, before: bool, reason: str, told: str
) -> None:
    with pytest.raises(CoreError, match=told.replace(".", r"\.")):
        check_deed(state, deed, before=before, reason=reason)
