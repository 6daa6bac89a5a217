"""What is done with a job as a whole, and the state that follows from it."""

from elumbra.core.deeds.states import (
    DONE_WITH,
    HERE,
    OPEN,
    REASON_ASKED,
    TO_COME,
    Deed,
    State,
    check_deed,
    possible,
    state_after,
)

__all__ = [
    "DONE_WITH",
    "HERE",
    "OPEN",
    "REASON_ASKED",
    "TO_COME",
    "Deed",
    "State",
    "check_deed",
    "possible",
    "state_after",
]
