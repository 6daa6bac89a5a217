"""Tables of the practice glass: runs, and their strokes as they came."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, ForeignKey, Index, String, Text
from sqlalchemy.orm import Mapped, mapped_column

from elumbra.storage.tables import Base


class PracticeRunRow(Base):
    """Somebody's run on a pane; the pane, its film and the rules are kept with it."""

    __tablename__ = "practice_run"
    __table_args__ = (Index("practice_run_person", "person_id", "lesson"),)

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    person_id: Mapped[str] = mapped_column(ForeignKey("person.id"))
    by: Mapped[str] = mapped_column(String(16))  # hand, robot, file
    lesson: Mapped[str] = mapped_column(String(40), default="")  # its key; empty: another pane
    title: Mapped[str]
    setup: Mapped[dict[str, Any]]
    setup_digest: Mapped[str] = mapped_column(String(64), index=True)
    rules: Mapped[str] = mapped_column(String(40))
    seed: Mapped[int]
    steps: Mapped[int] = mapped_column(default=0)
    over: Mapped[bool] = mapped_column(default=False)
    points: Mapped[int | None]
    passed: Mapped[bool] = mapped_column(default=False)
    score: Mapped[dict[str, Any]] = mapped_column(default=dict)
    note: Mapped[str] = mapped_column(Text, default="")
    at: Mapped[datetime]


class PracticeStrokesRow(Base):
    """Strokes of a run as they came, and how far it went with them; one row once it is over."""

    __tablename__ = "practice_strokes"

    run_id: Mapped[str] = mapped_column(ForeignKey("practice_run.id"), primary_key=True)
    after: Mapped[int] = mapped_column(primary_key=True)  # the step that had been reached
    until: Mapped[int]
    rows: Mapped[list[Any]] = mapped_column(JSON, default=list)
