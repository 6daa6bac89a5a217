"""What is printed of a removal."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy.orm import Session

from elumbra.api.base.refusals import ApiError
from elumbra.api.car_view.view import load_car
from elumbra.api.strip.operations import strip_car
from elumbra.car import load_bay, settings_for
from elumbra.documents.paper import Paper
from elumbra.documents.removal_paper import RemovalRow, removal_pdf


def paper_of(session: Session, job_id: str, paper: Paper, *, person_id: str) -> tuple[str, bytes]:
    """Quote and acknowledgement: its name, and the PDF.

    Raises
    ------
    ApiError
        No old film comes off this car.
    """
    told = strip_car(session, job_id, person_id=person_id)
    if not told.windows:
        raise ApiError("not_found", f"{told.headline}: there is nothing to sign. Say at Survey where old film is on.")
    car, parts, _ = load_car(session, job_id)
    bay = load_bay(session, car, parts, settings_for(session, person_id))
    rows: list[RemovalRow] = []
    strokes: Sequence[Sequence[Sequence[float]]] = ()
    signed = ""
    for one in told.windows:
        way = next(way for way in one.ways if way.way is (one.chosen or one.ways[0].way))
        lines = f"{way.lines_risk_percent:.0f} %" if way.lines_risk_percent else "no lines"
        rows.append(
            RemovalRow(
                label=one.label, way=way.words, clean=way.clean, lines=lines,
                price="off" if one.off else f"{way.price.low:.0f} to {way.price.high:.0f} $",
            )
        )  # fmt: skip
        if event := bay.acknowledged.get(one.window_id):
            strokes = event.value.get("signature", []) or strokes
            signed = f"{event.value.get('name', '')}, {_HOW.get(str(event.value.get('how')), '')}"
    title = f"{parts.job.number} {parts.job.vehicle_label}"
    total = f"{told.price.low:.0f} to {told.price.high:.0f} $"
    return title, removal_pdf(
        title, parts.job.customer, rows, total=total, signed=signed, strokes=strokes, paper=paper
    )  # fmt: skip


_HOW = {"paper": "on paper", "signature": "signed on the screen"}
