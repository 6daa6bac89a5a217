"""Tables. Every record that people change carries a version and is never deleted for good."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, ForeignKey, Index, String, Text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    """Base of all tables."""

    type_annotation_map = {dict[str, Any]: JSON, list[str]: JSON, list[float]: JSON}  # noqa: RUF012


class Versioned:
    """A record that people change: optimistic version, soft removal."""

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    version: Mapped[int] = mapped_column(default=1)
    removed: Mapped[bool] = mapped_column(default=False)


class PersonRow(Versioned, Base):
    """Someone who works in the shop."""

    __tablename__ = "person"

    name: Mapped[str]
    role: Mapped[str]
    facts: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")  # hours, skills, own settings


class FilmRow(Versioned, Base):
    """A film product."""

    __tablename__ = "film"

    facts: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    price_per_m2: Mapped[float] = mapped_column(default=0.0)


class StockRow(Versioned, Base):
    """A roll, offcut or sheet; ``price`` is what it costs at ``full_length_mm``."""

    __tablename__ = "stock"
    __table_args__ = (Index("stock_number", "number", unique=True),)

    film_id: Mapped[str] = mapped_column(ForeignKey("film.id"), index=True)
    kind: Mapped[str]
    label: Mapped[str]
    width_typed: Mapped[str]
    width_mm: Mapped[float]
    full_length_typed: Mapped[str]
    full_length_mm: Mapped[float]
    price: Mapped[float]
    lot: Mapped[str] = mapped_column(default="")
    liner: Mapped[str] = mapped_column(default="up")
    number: Mapped[int]  # on its label
    place: Mapped[str] = mapped_column(default="")
    received_on: Mapped[str] = mapped_column(default="")  # ISO day
    opened_on: Mapped[str] = mapped_column(default="")
    slittable: Mapped[bool] = mapped_column(default=True)


class JobRow(Versioned, Base):
    """One car to be filmed."""

    __tablename__ = "job"

    number: Mapped[int] = mapped_column(unique=True)
    title: Mapped[str]
    customer: Mapped[str] = mapped_column(default="")
    note: Mapped[str] = mapped_column(Text, default="")
    status: Mapped[str] = mapped_column(default="booked", index=True)
    bay: Mapped[str] = mapped_column(default="")
    promised_at: Mapped[datetime | None]
    vehicle_label: Mapped[str]
    body: Mapped[str]
    facts: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    law_day: Mapped[str] = mapped_column(default="", server_default="")  # judged by the law of this day
    law_revision: Mapped[int] = mapped_column(default=0, server_default="0")  # and the shop's words up to this one
    created_at: Mapped[datetime]
    stamp: Mapped[int] = mapped_column(default=0, server_default="0")
    customer_id: Mapped[str | None] = mapped_column(String(64), index=True)
    vehicle_id: Mapped[str | None] = mapped_column(String(64), index=True)
    handed_over_on: Mapped[str] = mapped_column(default="", server_default="", index=True)  # ISO day


class WindowRow(Versioned, Base):
    """One window of a job's car; readings as typed, keyed by reading."""

    __tablename__ = "window"

    job_id: Mapped[str] = mapped_column(ForeignKey("job.id"), index=True)
    ordinal: Mapped[int]
    label: Mapped[str]
    facts: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    layers: Mapped[list[str]] = mapped_column(default=list, server_default="[]")
    film_id: Mapped[str | None] = mapped_column(ForeignKey("film.id"), index=True)
    curve: Mapped[str] = mapped_column(default="flat")
    level: Mapped[str] = mapped_column(default="size")
    figure: Mapped[str] = mapped_column(default="four")
    readings: Mapped[dict[str, Any]] = mapped_column(default=dict)
    reentrant: Mapped[list[str]] = mapped_column(default=list, server_default="[]")
    drawn: Mapped[list[list[float]]] = mapped_column(JSON, default=list, server_default="[]")
    shelf_pane_id: Mapped[str | None] = mapped_column(ForeignKey("shelf_pane.id"), index=True)
    shelf_revision: Mapped[int | None]
    same_as_id: Mapped[str | None] = mapped_column(ForeignKey("window.id"))
    same_as_mirrored: Mapped[bool] = mapped_column(default=False)


class ShopValueRow(Versioned, Base):
    """The shop's own figure for a starting value; the id is its name."""

    __tablename__ = "shop_value"

    value: Mapped[float]


class ReasonRow(Versioned, Base):
    """Why an unlawful film goes on a window; one that is given anew leaves the old one removed."""

    __tablename__ = "reason"

    job_id: Mapped[str] = mapped_column(ForeignKey("job.id"), index=True)
    window_id: Mapped[str] = mapped_column(ForeignKey("window.id"), index=True)
    film_id: Mapped[str] = mapped_column(ForeignKey("film.id"))
    kind: Mapped[str]
    wish: Mapped[str]
    document: Mapped[str] = mapped_column(default="")
    expires_on: Mapped[str] = mapped_column(default="")
    note: Mapped[str] = mapped_column(default="")
    person_name: Mapped[str]
    on_day: Mapped[str]


class InstalledReadingRow(Versioned, Base):
    """A pane metered with its new film on, and what had been foretold from the maker's figure."""

    __tablename__ = "installed_reading"

    job_id: Mapped[str] = mapped_column(ForeignKey("job.id"), index=True)
    window_id: Mapped[str] = mapped_column(ForeignKey("window.id"))
    film_id: Mapped[str] = mapped_column(ForeignKey("film.id"), index=True)
    lot: Mapped[str]
    predicted_percent: Mapped[float]
    predicted_pm: Mapped[float]
    read_percent: Mapped[float]
    on_day: Mapped[str] = mapped_column(index=True)


class LawWordRow(Base):
    """The shop's own word on one field of a law record. Never changed but to be withdrawn.

    ``revision`` counts up over all changes of the rule book, so that a job can be judged by
    the book as it stood.
    """

    __tablename__ = "law_word"

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    revision: Mapped[int] = mapped_column(index=True)
    withdrawn_revision: Mapped[int | None]
    code: Mapped[str] = mapped_column(index=True)
    field: Mapped[str]
    value: Mapped[dict[str, Any]]  # {"value": ...}: any JSON value
    citation: Mapped[str]
    effective_from: Mapped[str] = mapped_column(default="")
    effective_until: Mapped[str] = mapped_column(default="")
    person_id: Mapped[str]
    at: Mapped[datetime]
    withdrawn_by: Mapped[str | None]
    withdrawn_at: Mapped[datetime | None]


class LawFileRow(Base):
    """A law file that the shop took in, in place of the shipped one, from a revision on."""

    __tablename__ = "law_file"

    revision: Mapped[int] = mapped_column(primary_key=True)
    content: Mapped[str] = mapped_column(Text)
    person_id: Mapped[str]
    at: Mapped[datetime]


class AuditRow(Base):
    """Append-only: who changed what, from what, to what, when."""

    __tablename__ = "audit"
    __table_args__ = (Index("audit_record", "record_kind", "record_id"),)

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    at: Mapped[datetime]
    person_id: Mapped[str]
    action: Mapped[str]
    record_kind: Mapped[str]
    record_id: Mapped[str]
    record_version: Mapped[int]
    job_id: Mapped[str | None] = mapped_column(index=True)
    changes: Mapped[dict[str, Any]]


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


class TaskRow(Base):
    """Long work in a process of its own; ``seq`` orders, whatever the clock says."""

    __tablename__ = "task"

    seq: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    id: Mapped[str] = mapped_column(String(64), unique=True)
    kind: Mapped[str]
    job_id: Mapped[str | None] = mapped_column(ForeignKey("job.id"), index=True)
    input_hash: Mapped[str] = mapped_column(index=True)
    input: Mapped[str] = mapped_column(Text)
    status: Mapped[str] = mapped_column(index=True)  # queued, running, done, cancelled, failed
    progress: Mapped[int] = mapped_column(default=0)
    result: Mapped[str | None] = mapped_column(Text)
    summary: Mapped[dict[str, Any]] = mapped_column(default=dict)
    error: Mapped[str] = mapped_column(default="")
    attempts: Mapped[int] = mapped_column(default=0)
    deadline_s: Mapped[float]
    memory_mb: Mapped[int]
    created_at: Mapped[datetime]
    finished_at: Mapped[datetime | None]


class MovementRow(Base):
    """Append-only: film that came to a piece of stock or left it. What is left is the sum."""

    __tablename__ = "movement"

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    stock_id: Mapped[str] = mapped_column(ForeignKey("stock.id"), index=True)
    kind: Mapped[str]  # received, used, waste, kept, corrected
    count: Mapped[int]  # signed, in steps of 0.0125 mm along the roll
    typed: Mapped[str] = mapped_column(default="")
    at: Mapped[datetime] = mapped_column(index=True)
    person_id: Mapped[str]
    job_id: Mapped[str | None] = mapped_column(ForeignKey("job.id"), index=True)
    note: Mapped[str] = mapped_column(default="")
    cutting_id: Mapped[str | None] = mapped_column(ForeignKey("cutting.id"))


class HoldRow(Versioned, Base):
    """Film held for a job's plan. No movement: it only says that others may not plan on it."""

    __tablename__ = "hold"

    stock_id: Mapped[str] = mapped_column(ForeignKey("stock.id"), index=True)
    job_id: Mapped[str] = mapped_column(ForeignKey("job.id"), index=True)
    count: Mapped[int]  # along the roll, in steps of 0.0125 mm
    until: Mapped[str]  # ISO day, to its end
    on_day: Mapped[str]
    person_name: Mapped[str]
    ended: Mapped[str] = mapped_column(default="")  # by what; empty while it stands


class FullRollRow(Versioned, Base):
    """A full roll that a film's thickness is calibrated on, as it was read [mm]."""

    __tablename__ = "full_roll"

    film_id: Mapped[str] = mapped_column(ForeignKey("film.id"), index=True)
    girth_mm: Mapped[float]
    core_mm: Mapped[float]
    length_mm: Mapped[float]
    on_day: Mapped[str]
    person_name: Mapped[str]


class CuttingRow(Versioned, Base):
    """Film cut for a job by one plan; taken back, it is removed and its movements are undone by others."""

    __tablename__ = "cutting"

    job_id: Mapped[str] = mapped_column(ForeignKey("job.id"), index=True)
    input_hash: Mapped[str] = mapped_column(default="")
    on_day: Mapped[str] = mapped_column(index=True)
    person_name: Mapped[str]
    content: Mapped[dict[str, Any]]
    lots: Mapped[str] = mapped_column(Text, default="", server_default="")  # of its film, to be found by


class SettingRow(Versioned, Base):
    """A setting of the shop that is no figure; the id is its name."""

    __tablename__ = "setting"

    value: Mapped[dict[str, Any]]  # {"value": ...}


class ShelfCarRow(Versioned, Base):
    """A car whose glass was measured: what its panes on the shelf belong to."""

    __tablename__ = "shelf_car"

    name: Mapped[str]
    years: Mapped[str] = mapped_column(default="")
    body: Mapped[str]
    doors: Mapped[int | None]
    trim: Mapped[str] = mapped_column(Text, default="")
    search: Mapped[str] = mapped_column(Text, default="")  # all its words, lower case
    created_at: Mapped[datetime]


class ShelfPaneRow(Versioned, Base):
    """A measured pane as it stands; every revision of it is kept beside."""

    __tablename__ = "shelf_pane"

    car_id: Mapped[str] = mapped_column(ForeignKey("shelf_car.id"), index=True)
    ordinal: Mapped[int]
    revision: Mapped[int]
    content: Mapped[dict[str, Any]]
    width_mm: Mapped[float | None]  # of its outline, to find the nearest by
    height_mm: Mapped[float | None]
    ring: Mapped[list[list[float]]] = mapped_column(JSON, default=list)  # as lists draw it


class ShelfRevisionRow(Base):
    """Append-only: a pane of the shelf as it once stood, who changed it and why."""

    __tablename__ = "shelf_revision"

    pane_id: Mapped[str] = mapped_column(ForeignKey("shelf_pane.id"), primary_key=True)
    revision: Mapped[int] = mapped_column(primary_key=True)
    content: Mapped[dict[str, Any]]
    why: Mapped[str] = mapped_column(default="")
    person_id: Mapped[str]
    at: Mapped[datetime]


class StepEventRow(Base):
    """Append-only: what happened at a step of the work. Sent twice, kept once."""

    __tablename__ = "step_event"
    __table_args__ = (Index("step_event_kind", "kind"),)

    id: Mapped[str] = mapped_column(String(64), primary_key=True)  # made by the screen
    job_id: Mapped[str] = mapped_column(ForeignKey("job.id"), index=True)
    window_id: Mapped[str | None] = mapped_column(ForeignKey("window.id"))
    step: Mapped[str]
    kind: Mapped[str]
    happened_at: Mapped[datetime]  # by the screen's clock
    at: Mapped[datetime]  # when it arrived here
    person_id: Mapped[str]
    value: Mapped[str] = mapped_column(Text, default="")


class WorkTimeRow(Base):
    """How long somebody worked on a step or phase, worked out from a job's events; the id is the tick's."""

    __tablename__ = "work_time"
    __table_args__ = (Index("work_time_at", "at"),)

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    job_id: Mapped[str] = mapped_column(ForeignKey("job.id"), index=True)
    window_kind: Mapped[str]  # empty for the car as a whole
    what: Mapped[str]  # step:<id> or phase:<name>
    person_id: Mapped[str]
    minutes: Mapped[float]
    at: Mapped[datetime]


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
