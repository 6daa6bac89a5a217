"""The glass shelf in and out. Plain arguments, no web framework."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session

from elumbra.api.shelf.schemas import (
    ShelfImported,
)
from elumbra.car import glass_shelf, shop_starting_values
from elumbra.core.errors import CoreError
from elumbra.documents.outline_out import PaneDrawing, pane_drawing, readings_csv, to_dxf, to_svg
from elumbra.documents.shelf import (
    ShelfFile,
    pane_measures,
    pane_part,
    parse_shelf_file,
    to_bytes,
)
from elumbra.storage import shelf
from elumbra.storage.store import shelf_cars, shelf_panes


@dataclass(frozen=True)
class FileOut:
    """A file to save."""

    content: bytes
    name: str
    mimetype: str


def pane_file(session: Session, pane_id: str, kind: str) -> FileOut:
    """A pane of the shelf as a drawing, or its readings.

    Raises
    ------
    CoreError
        It has no outline yet.
    """
    pane = shelf_panes(session).get(pane_id)
    car = shelf_cars(session).get(pane.car_id)
    content = pane_part(pane.content)
    title = f"{car.name} {car.years} {content.label}".replace("  ", " ")
    if kind == "csv":
        return FileOut(readings_csv(pane_measures(content).readings), f"{title}.csv", "text/csv")
    starting = shop_starting_values(session)
    outline = glass_shelf.outline_of(session, pane, starting=starting)
    if outline is None:
        raise CoreError(f"{title} is not measured, so there is no outline to export.")
    drawing = pane_drawing(title, outline, content.kind, content.findings, starting=starting)
    return _as_file(drawing, kind, title)


def _as_file(drawing: PaneDrawing, kind: str, title: str) -> FileOut:
    if kind == "svg":
        return FileOut(to_svg(drawing), f"{title}.svg", "image/svg+xml")
    return FileOut(to_dxf(drawing), f"{title}.dxf", "image/vnd.dxf")


def whole_shelf(session: Session) -> bytes:
    """The whole shelf as one file."""
    cars = shelf.all_cars(session)
    panes = shelf.panes_of(session, [car.id for car in cars]) if cars else {}
    return to_bytes(ShelfFile(cars=[glass_shelf.car_part(car, panes[car.id]) for car in cars]))


def bring_in(session: Session, content: bytes, *, person_id: str) -> ShelfImported:
    """The cars of a shelf file; one that is here as it is in the file is not doubled.

    A car with a pane that cannot be is left out with the reason; the others come in.

    Raises
    ------
    ShelfFileError
        The file cannot be opened.
    """
    document = parse_shelf_file(content)
    here = shelf.all_cars(session)
    panes = shelf.panes_of(session, [car.id for car in here]) if here else {}
    known = {glass_shelf.car_part(car, panes[car.id]).model_dump_json() for car in here}
    added, already, left = 0, 0, []
    for car in document.cars:
        if car.model_dump_json() in known:
            already += 1
            continue
        try:
            with session.begin_nested():
                glass_shelf.put_on_shelf(session, car, person_id=person_id, why="came with a file")
        except CoreError as error:
            left.append(f"{car.name} {car.years}: {error.message}")
            continue
        added += 1
    return ShelfImported(added=added, already_here=already, left_out=left)
