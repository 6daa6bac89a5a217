"""Records of the practice glass."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Annotated, Any

from sqlalchemy import String

from elumbra.storage.declared import KEY, LONG, column, new_id, now, refers


@dataclass(frozen=True, kw_only=True)
class PracticeRecord:
    """Somebody's run on a pane."""

    id: Annotated[str, KEY] = field(default_factory=new_id)
    person_id: Annotated[str, refers("person")]
    by: Annotated[str, column(String(16))]  # hand, robot, file
    lesson: Annotated[str, column(String(40))] = ""  # its key; empty: another pane
    title: str
    setup: Mapping[str, Any]
    setup_digest: Annotated[str, column(String(64), index=True)]
    rules: Annotated[str, column(String(40))]
    seed: int
    steps: int = 0
    over: bool = False
    points: int | None = None
    passed: bool = False
    score: Mapping[str, Any] = field(default_factory=dict)
    note: Annotated[str, LONG] = ""
    at: datetime = field(default_factory=now)
