"""Tables of the practice glass: runs, and their strokes as they came."""

from __future__ import annotations

from typing import Any

from sqlalchemy import JSON, ForeignKey, Index
from sqlalchemy.orm import Mapped, mapped_column

from elumbra.storage.declared import Base
from elumbra.storage.practice_records import (
    PracticeRecord,
)


class PracticeRunRow(Base, of=PracticeRecord):
    """Somebody's run on a pane; the pane, its film and the rules are kept with it."""

    __tablename__ = "practice_run"
    __table_args__ = (Index("practice_run_person", "person_id", "lesson"),)


class PracticeStrokesRow(Base):
    """Strokes of a run as they came, and how far it went with them; one row once it is over."""

    __tablename__ = "practice_strokes"

    run_id: Mapped[str] = mapped_column(ForeignKey("practice_run.id"), primary_key=True)
    after: Mapped[int] = mapped_column(primary_key=True)  # the step that had been reached
    until: Mapped[int]
    rows: Mapped[list[Any]] = mapped_column(JSON, default=list)
