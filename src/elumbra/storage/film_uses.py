"""Where films are named: what is off file is put nowhere, and what is named somewhere stays on file."""

from __future__ import annotations

from sqlalchemy import ColumnElement, String, and_, cast, or_, select
from sqlalchemy.orm import Session

from elumbra.core.deeds import OPEN
from elumbra.core.errors import CoreError
from elumbra.storage.records import WindowRecord
from elumbra.storage.store import films
from elumbra.storage.tables import JobRow, ReasonRow, StockRow, WindowRow


class UsedFilmError(CoreError):
    """A film that is off file is named where it must not be."""


def check_film_present(session: Session, film_id: str | None, *, where: str) -> None:
    """Refuse a film that is not on file, or was taken off it.

    Raises
    ------
    NotFoundError, UsedFilmError
        There is none, or it was removed.
    """
    if film_id is None:
        return
    film = films(session).get(film_id)
    if film.removed:
        raise UsedFilmError(
            f"{film.name} was taken off file, so it cannot be put on {where}. Choose another film.",
            fields={"film_id": "Off file."},
        )


def restorable_windows(session: Session, window: WindowRecord) -> None:
    """Refuse to bring back a window that names a film which was taken off file meanwhile.

    Raises
    ------
    UsedFilmError
        The film is named.
    """
    for film_id in (window.film_id, *window.layers):
        check_film_present(session, film_id, where=window.label)


def _is_open() -> ColumnElement[bool]:
    return and_(JobRow.removed.is_(False), JobRow.status.in_(OPEN))


def film_uses(session: Session, film_id: str) -> list[str]:
    """Where a film is still needed, in words: open jobs' windows, layers and reasons, windows taken out of them too,
    and stock on the rack. What was done with it stays on record whether it is on file or not.
    """
    windows_named = session.execute(
        select(WindowRow.label, WindowRow.removed, WindowRow.film_id, JobRow.number)
        .join(JobRow, JobRow.id == WindowRow.job_id)
        .where(_is_open(), or_(WindowRow.film_id == film_id, cast(WindowRow.layers, String).contains(f'"{film_id}"')))
        .order_by(JobRow.number, WindowRow.ordinal)
    )
    uses = []
    for label, removed, on_it, number in windows_named:
        how = "on it" if on_it == film_id else "as a layer that stays"
        uses.append(f"job {number}, {label} ({how}{', a window taken out' if removed else ''})")
    given = session.execute(
        select(WindowRow.label, JobRow.number)
        .select_from(ReasonRow)
        .join(WindowRow, WindowRow.id == ReasonRow.window_id)
        .join(JobRow, JobRow.id == ReasonRow.job_id)
        .where(_is_open(), ReasonRow.film_id == film_id, ReasonRow.removed.is_(False))
        .order_by(JobRow.number)
    )
    uses += [f"job {number}, {label} (in a lead's reason)" for label, number in given]
    on_rack = session.scalars(select(StockRow.label).where(StockRow.film_id == film_id, StockRow.removed.is_(False)))
    return uses + [f"{label} on the rack" for label in on_rack]
