"""What the cut screens send and get."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints

from elumbra.api.base.bodies import Body
from elumbra.documents.plan import PlanDocument

TaskStatus = Literal["queued", "running", "done", "cancelled", "failed"]


class TaskOut(BaseModel):
    """A layout being worked out, or worked out; ``plan`` is the best verified one so far."""

    id: str
    job_id: str | None
    status: TaskStatus
    progress: int
    input_hash: str
    plan: PlanDocument | None
    error: str


class QuickPiece(Body):
    """A size to cut, as typed."""

    width: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)]
    height: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)]
    count: Annotated[int, Field(ge=1, le=20)] = 1
    curved: bool = False


class QuickBody(Body):
    """Sizes to cut without a job."""

    pieces: Annotated[list[QuickPiece], Field(min_length=1, max_length=20)]
    film_id: str | None = None
    trimmed: bool = True  # sizes are visible sizes and get the blank's play
