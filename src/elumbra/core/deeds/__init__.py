"""What is done with a job as a whole, and the state that follows from it."""

from elumbra.core.deeds.delivery import Lack, WindowWork, lacks, looked_after
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
    "Lack",
    "State",
    "WindowWork",
    "check_deed",
    "lacks",
    "looked_after",
    "possible",
    "state_after",
]
