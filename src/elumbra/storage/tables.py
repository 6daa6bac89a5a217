"""Tables. Every record that people change carries a version and is never deleted for good."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import ForeignKey, Index, String, Text
from sqlalchemy.orm import Mapped, mapped_column

from elumbra.storage.declared import Base
from elumbra.storage.records import (
    AuditRecord,
    CuttingRecord,
    FilmRecord,
    FullRollRecord,
    HoldRecord,
    InstalledReadingRecord,
    JobRecord,
    LawWordRecord,
    MovementRecord,
    PersonRecord,
    ReasonRecord,
    SettingRecord,
    ShopValueRecord,
    StepEventRecord,
    StockRecord,
    TaskRecord,
    WindowRecord,
    WorkTime,
)
from elumbra.storage.shelf_records import ShelfCarRecord, ShelfPaneRecord, ShelfRevisionRecord


class PersonRow(Base, of=PersonRecord):
    """Someone who works in the shop."""

    __tablename__ = "person"


class FilmRow(Base, of=FilmRecord):
    """A film product."""

    __tablename__ = "film"


class StockRow(Base, of=StockRecord):
    """A roll, offcut or sheet; ``price`` is what it costs at ``full_length_mm``."""

    __tablename__ = "stock"
    __table_args__ = (Index("stock_number", "number", unique=True),)


class JobRow(Base, of=JobRecord):
    """One car to be filmed."""

    __tablename__ = "job"


class WindowRow(Base, of=WindowRecord):
    """One window of a job's car; readings as typed, keyed by reading."""

    __tablename__ = "window"


class ShopValueRow(Base, of=ShopValueRecord):
    """The shop's own figure for a starting value; the id is its name."""

    __tablename__ = "shop_value"


class ReasonRow(Base, of=ReasonRecord):
    """Why an unlawful film goes on a window; one that is given anew leaves the old one removed."""

    __tablename__ = "reason"


class InstalledReadingRow(Base, of=InstalledReadingRecord):
    """A pane metered with its new film on, and what had been foretold from the maker's figure."""

    __tablename__ = "installed_reading"


class LawWordRow(Base, of=LawWordRecord):
    """The shop's own word on one field of a law record. Never changed but to be withdrawn.

    ``revision`` counts up over all changes of the rule book, so that a job can be judged by
    the book as it stood.
    """

    __tablename__ = "law_word"


class LawFileRow(Base):
    """A law file that the shop took in, in place of the shipped one, from a revision on."""

    __tablename__ = "law_file"

    revision: Mapped[int] = mapped_column(primary_key=True)
    content: Mapped[str] = mapped_column(Text)
    person_id: Mapped[str]
    at: Mapped[datetime]


class AuditRow(Base, of=AuditRecord):
    """Append-only: who changed what, from what, to what, when."""

    __tablename__ = "audit"
    __table_args__ = (Index("audit_record", "record_kind", "record_id"),)


class WriteRow(Base):
    """A write that was done, by its client-made id: sent twice, answered twice, done once.

    What is kept is small: the digest of what was asked, and which record the answer is about.
    """

    __tablename__ = "write"

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    at: Mapped[datetime] = mapped_column(index=True)
    person_id: Mapped[str]
    request: Mapped[str]
    digest: Mapped[str] = mapped_column(String(64), default="", server_default="")
    about: Mapped[str] = mapped_column(default="", server_default="")


class TaskRow(Base, of=TaskRecord):
    """Long work in a process of its own; ``seq`` orders, whatever the clock says."""

    __tablename__ = "task"


class MovementRow(Base, of=MovementRecord):
    """Append-only: film that came to a piece of stock or left it. What is left is the sum."""

    __tablename__ = "movement"


class HoldRow(Base, of=HoldRecord):
    """Film held for a job's plan. No movement: it only says that others may not plan on it."""

    __tablename__ = "hold"


class FullRollRow(Base, of=FullRollRecord):
    """A full roll that a film's thickness is calibrated on, as it was read [mm]."""

    __tablename__ = "full_roll"


class CuttingRow(Base, of=CuttingRecord):
    """Film cut for a job by one plan; taken back, it is removed and its movements are undone by others."""

    __tablename__ = "cutting"

    lots: Mapped[str] = mapped_column(Text, default="", server_default="")  # of its film, to be found by


class SettingRow(Base, of=SettingRecord):
    """A setting of the shop that is no figure; the id is its name."""

    __tablename__ = "setting"


class ShelfCarRow(Base, of=ShelfCarRecord):
    """A car whose glass was measured: what its panes on the shelf belong to."""

    __tablename__ = "shelf_car"


class ShelfPaneRow(Base, of=ShelfPaneRecord):
    """A measured pane as it stands; every revision of it is kept beside."""

    __tablename__ = "shelf_pane"


class ShelfRevisionRow(Base, of=ShelfRevisionRecord):
    """Append-only: a pane of the shelf as it once stood, who changed it and why."""

    __tablename__ = "shelf_revision"


class StepEventRow(Base, of=StepEventRecord):
    """Append-only: what happened at a step of the work. Sent twice, kept once."""

    __tablename__ = "step_event"
    __table_args__ = (Index("step_event_kind", "kind"),)


class WorkTimeRow(Base, of=WorkTime):
    """How long somebody worked on a step or phase, worked out from a job's events; the id is the tick's."""

    __tablename__ = "work_time"
    __table_args__ = (Index("work_time_at", "at"),)


class SummaryRow(Base):
    """A job as the lists show it, worked out once for what it says now."""

    __tablename__ = "summary"

    job_id: Mapped[str] = mapped_column(ForeignKey("job.id"), primary_key=True)
    basis: Mapped[str]  # what it was worked out from
    content: Mapped[str] = mapped_column(Text)


class ShopStampRow(Base):
    """Counts every change of what all jobs are looked at with: films, rack, own figures, law."""

    __tablename__ = "shop_stamp"

    id: Mapped[int] = mapped_column(primary_key=True)
    stamp: Mapped[int] = mapped_column(default=0)
