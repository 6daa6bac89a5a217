"""What leaves storage: frozen copies of rows."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields
from datetime import datetime
from functools import cache
from typing import Any, TypeVar

Record = TypeVar("Record")


@dataclass(frozen=True)
class PersonRecord:
    """Someone who works in the shop."""

    id: str
    version: int
    name: str
    role: str


@dataclass(frozen=True)
class FilmRecord:
    """A film product; light in percent, price in dollars per m²."""

    id: str
    version: int
    removed: bool
    name: str
    construction: str
    vlt_percent: float
    vlt_basis: str
    reflectance_percent: float | None
    colour: str
    mirror_finish: bool
    solar_transmittance_percent: float | None
    solar_reflectance_percent: float | None
    shrink_limit_percent: float | None
    reflectance_inside_percent: float | None
    uv_rejection_percent: float | None
    warranty: str
    warranty_years: float | None
    price_per_m2: float


@dataclass(frozen=True)
class StockRecord:
    """A roll, offcut or sheet on the rack."""

    id: str
    version: int
    removed: bool
    film_id: str
    kind: str
    label: str
    width_typed: str
    width_mm: float
    full_length_typed: str
    full_length_mm: float
    length_left_typed: str
    length_left_mm: float
    price: float
    lot: str
    liner: str

    @property
    def price_per_m2(self) -> float:
        """Price as new film [$/m²]."""
        area = self.width_mm * self.full_length_mm / 1e6
        return self.price / area if area else 0.0


@dataclass(frozen=True)
class JobRecord:
    """One car to be filmed."""

    id: str
    version: int
    removed: bool
    number: int
    title: str
    customer: str
    note: str
    status: str
    bay: str
    promised_at: datetime | None
    vehicle_label: str
    body: str
    vehicle_class: str
    states: list[str]
    mirrors_both_sides: bool | None
    model_year: int | None
    registered_as: str | None
    no_glass_at: list[str]
    law_day: str
    law_revision: int
    created_at: datetime


@dataclass(frozen=True)
class WindowRecord:
    """One window of a job's car."""

    id: str
    version: int
    removed: bool
    job_id: str
    ordinal: int
    label: str
    position: str
    side: str
    kind: str
    glass_type: str
    bare_vlt_percent: float | None
    bare_vlt_source: str
    bare_readings_percent: list[float]
    bare_vlt_through_old_film: bool
    old_film: bool
    old_film_stays: bool
    layers: list[str]
    factory_glass: bool | None
    as1_mark: bool | None
    features: list[str]
    strip_shape: str
    strip_pieces: int
    film_id: str | None
    coverage: str
    curve: str
    level: str
    figure: str
    readings: Mapping[str, Mapping[str, Any]]
    same_as_id: str | None
    same_as_mirrored: bool


@dataclass(frozen=True)
class ReasonRecord:
    """A lead's reason for an unlawful film on a window."""

    id: str
    version: int
    removed: bool
    job_id: str
    window_id: str
    film_id: str
    kind: str
    wish: str
    document: str
    expires_on: str
    note: str
    person_name: str
    on_day: str


@dataclass(frozen=True)
class InstalledReadingRecord:
    """A pane metered with its new film on; light in percent."""

    id: str
    version: int
    removed: bool
    job_id: str
    window_id: str
    film_id: str
    lot: str
    predicted_percent: float
    predicted_pm: float
    read_percent: float
    on_day: str


@dataclass(frozen=True)
class LawWordRecord:
    """The shop's word on a field of a law record."""

    id: str
    revision: int
    withdrawn_revision: int | None
    code: str
    field: str
    value: Mapping[str, Any]
    citation: str
    effective_from: str
    effective_until: str
    person_id: str
    at: datetime
    withdrawn_by: str | None
    withdrawn_at: datetime | None


@dataclass(frozen=True)
class AuditRecord:
    """One entry of the audit trail."""

    id: int
    at: datetime
    person_id: str
    action: str
    record_kind: str
    record_id: str
    record_version: int
    job_id: str | None
    changes: Mapping[str, Any]


@dataclass(frozen=True)
class SolveRecord:
    """A layout being worked out, or worked out."""

    id: str
    job_id: str | None
    input_hash: str
    input: str
    pull_from_customary: bool
    status: str
    step: int
    plan: str | None
    error: str
    created_at: datetime
    finished_at: datetime | None


def as_record(row: Any, record: type[Record]) -> Record:
    """A frozen copy of a row."""
    return record(**{name: getattr(row, name) for name in _names(record)})  # type: ignore[arg-type]


@cache
def _names(record: Any) -> tuple[str, ...]:
    return tuple(field.name for field in fields(record))
