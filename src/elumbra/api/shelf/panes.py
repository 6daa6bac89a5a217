"""What can be done with a pane of the glass shelf. Plain arguments, no web framework."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.base.bodies import sent
from elumbra.api.shelf.schemas import (
    FittedIn,
    PanePatch,
)
from elumbra.car import glass_shelf, merged_answers, shop_starting_values
from elumbra.core.errors import CoreError
from elumbra.core.measure import Figure, Level, edges, label
from elumbra.core.survey import WINDOW_FINDINGS
from elumbra.core.units import parse_length
from elumbra.documents.job_file import ReadingPart
from elumbra.documents.shelf import (
    FittedPart,
    PanePart,
    drawn_part,
    pane_part,
    plain,
)
from elumbra.storage import clock, shelf
from elumbra.storage.records import PersonRecord
from elumbra.storage.shelf_records import ShelfPaneRecord
from elumbra.storage.store import shelf_cars, shelf_panes


def change_pane(session: Session, pane_id: str, body: PanePatch, *, person_id: str) -> str:
    """A new revision of a pane. Its car's id.

    Raises
    ------
    CoreError
        Readings or an outline that no pane can have; it is the mirror image of another.
    """
    record = shelf_panes(session).get_present(pane_id)
    content = pane_part(record.content)
    changes = sent(body, without=frozenset({"version", "why", "findings", "readings", "drawn"}))
    if body.findings is not None:
        changes["findings"] = merged_answers(content.findings, body.findings, WINDOW_FINDINGS)
    if body.readings is not None:
        if content.same_as is not None:
            raise CoreError("This pane is the mirror image of another: change that one.")
        changes["readings"] = _readings(content, body.readings)
    if body.drawn is not None:
        changes |= drawn_part(body.drawn)
    made = _checked(content, {name: "" if name == "trim" and one is None else one for name, one in changes.items()})
    _revise(session, replace(record, version=body.version), made, person_id=person_id, why=body.why or "changed")
    if "label" in changes:
        glass_shelf.found_anew(session, shelf_cars(session).get(record.car_id), person_id=person_id)
    return record.car_id


def _readings(content: PanePart, changes: Mapping[str, str | None]) -> dict[str, ReadingPart]:
    merged = dict(content.readings)
    for key, typed in changes.items():
        if typed is None:
            merged.pop(key, None)
        else:
            mode = {"mode": merged[key].mode} if key in merged else {}
            merged[key] = ReadingPart(typed=parse_length(typed).typed, **mode)
    return merged


def _checked(content: PanePart, changes: Mapping[str, Any]) -> PanePart:
    return pane_part(plain(content) | dict(changes))


def _revise(session: Session, record: ShelfPaneRecord, content: PanePart, *, person_id: str, why: str) -> None:
    starting = shop_starting_values(session)
    revised = replace(record, content=plain(content))
    if content.same_as is not None:
        shelf.revise(session, revised, person_id=person_id, why=why)
        return
    drawn = glass_shelf.drawn_of(content, starting=starting)
    shelf.revise(session, replace(revised, **vars(drawn)), person_id=person_id, why=why)
    for one in shelf.panes_of(session, [record.car_id])[record.car_id]:
        if one.content.get("same_as") == record.ordinal:
            mirrored = replace(one, **vars(glass_shelf.mirrored(drawn)))
            shelf_panes(session).update(mirrored, person_id=person_id, action="drawn as its other side")


def fitted(session: Session, pane_id: str, body: FittedIn, *, person: PersonRecord) -> str:
    """How a piece cut by a pane fitted: a new revision, which the next cut goes by. The car's id.

    Raises
    ------
    CoreError
        Short or long at no edge, or by nothing.
    """
    record = replace(shelf_panes(session).get_present(pane_id), version=body.version)
    content = pane_part(record.content)
    changes: dict[str, Any] = {
        "fitted": FittedPart(
            word=body.word,
            edge=body.edge,
            by=body.by,
            note=body.note,
            person=person.name,
            on=clock.today_iso(),
        )
    }
    told: str = body.word
    if body.word != "right":
        if body.correct and content.same_as is None:
            changes["readings"] = _corrected(content, body)
        told = f"{body.word} by {body.by} at {label(body.edge)}" if body.by else body.word
    _revise(session, record, _checked(content, changes), person_id=person.id, why=f"cut, and {told}")
    if body.word != "right" and body.correct and content.same_as is not None:
        _correct_source(session, record, content, body, person_id=person.id)
    return record.car_id


def _correct_source(
    session: Session, record: ShelfPaneRecord, content: PanePart, body: FittedIn, *, person_id: str
) -> None:
    """What was off on a mirror image is corrected at the pane that was read, at the mirrored edge."""
    siblings = shelf.panes_of(session, [record.car_id])[record.car_id]
    source = next((one for one in siblings if one.ordinal == content.same_as), None)
    if source is None:
        raise CoreError("The pane that this is the mirror image of is off the shelf. Bring it back first.")
    read = pane_part(source.content)
    edge = {"left": "right", "right": "left"}.get(body.edge, body.edge)
    readings = _corrected(read, body.model_copy(update={"edge": edge}))
    why = f"cut for the other side, and {body.word} by {body.by} at {label(body.edge)}"
    _revise(session, source, _checked(read, {"readings": readings}), person_id=person_id, why=why)


def _corrected(content: PanePart, body: FittedIn) -> dict[str, ReadingPart]:
    """Readings with the edge moved by what it was short or long, on top of what was there."""
    if content.figure is Figure.DRAWN:
        raise CoreError(
            "The edges of this pane are not read one by one, so it cannot be corrected by itself. "
            "Keep the word without correcting, or bring a better outline.",
            fields={"correct": "Switch it off."},
        )
    if body.edge not in edges(content.figure):
        raise CoreError("At which edge was it?", fields={"edge": f"One of: {', '.join(edges(content.figure))}."})
    if not body.by:
        raise CoreError("By how much was it off?", fields={"by": "Such as 1/8."})
    more, less = f"more_{body.edge}", f"less_{body.edge}"
    before = sum(
        sign * parse_length(content.readings[key].typed).mm
        for key, sign in ((more, 1), (less, -1))
        if key in content.readings
    )
    by = parse_length(body.by)
    total = before + (by.mm if body.word == "short" else -by.mm)
    readings = {key: one for key, one in content.readings.items() if key not in (more, less)}
    if abs(total) > 1e-6:
        typed = by.typed if before == 0 else f"{abs(total):.4f} mm"
        readings[more if total > 0 else less] = ReadingPart(typed=typed)
    return readings


def other_side(session: Session, pane_id: str, *, version: int, person_id: str) -> str:
    """The pane of the other side of the car, as the mirror image of this one. The car's id.

    Raises
    ------
    CoreError
        It sits in the middle, or the other side is there.
    """
    record = shelf_panes(session).get_present(pane_id)
    content = pane_part(record.content)
    if content.side.value == "centre":
        raise CoreError("This pane sits in the middle of the car: it has no other side.")
    across = "passenger" if content.side.value == "driver" else "driver"
    siblings = shelf.panes_of(session, [record.car_id])[record.car_id]
    if any(one.content.get("same_as") == record.ordinal for one in siblings):
        raise CoreError("The other side of this pane is on the shelf already.")
    if record.version != version:
        shelf_panes(session).update(replace(record, version=version), person_id=person_id)
    words = content.label.replace(content.side.value.capitalize(), across.capitalize())
    made = _checked(
        content,
        {
            "label": words if words != content.label else f"{content.label}, {across} side",
            "side": across,
            "readings": {},
            "drawn": (),
            "figure": Figure.FOUR,
            "level": Level.SIZE,
            "reentrant": (),
            "same_as": record.ordinal,
            "fitted": None,
        },
    )
    mirrored = ShelfPaneRecord(
        car_id=record.car_id,
        ordinal=max(one.ordinal for one in siblings) + 1,
        content=plain(made),
        width_mm=record.width_mm,
        height_mm=record.height_mm,
        ring=glass_shelf.mirrored(glass_shelf.Drawn(None, None, record.ring)).ring,
    )
    shelf.add_pane(session, mirrored, person_id=person_id, why=f"other side of {content.label}")
    return record.car_id


def remove_pane(session: Session, pane_id: str, *, version: int, person_id: str) -> str:
    """Take a pane off its car. The car's id.

    Raises
    ------
    CoreError
        Another pane is its mirror image.
    """
    record = shelf_panes(session).get_present(pane_id)
    siblings = shelf.panes_of(session, [record.car_id])[record.car_id]
    if mirrored := [one for one in siblings if one.content.get("same_as") == record.ordinal]:
        raise CoreError(f"{mirrored[0].content['label']} is its mirror image. Take that one off first.")
    shelf_panes(session).remove(pane_id, version=version, person_id=person_id)
    return record.car_id
