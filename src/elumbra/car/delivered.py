"""A car as it went: frozen at the handover from what its screens and papers read, and read from there ever after."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from sqlalchemy.orm import Session

from elumbra import __version__
from elumbra.car.bay import FROZEN_OF_BAY, Bay
from elumbra.car.look import STANDARD
from elumbra.car.quote import PRICES, Quoted, kept_line
from elumbra.car.records import JobParts, job_file
from elumbra.car.shop import Shop
from elumbra.core.removal import Way
from elumbra.documents.job_file import JobFile
from elumbra.storage.deliveries import deliveries_of, keep_delivery
from elumbra.storage.kept_records import DeliveryRecord
from elumbra.storage.kept_settings import kept

LETTERHEAD = "letterhead"
FROZEN_SETTINGS = (*FROZEN_OF_BAY, STANDARD, PRICES, LETTERHEAD)
"""What the shop says once and a car that is gone is never asked about again."""


def freeze(
    session: Session,
    parts: JobParts,
    shop: Shop,
    bay: Bay,
    quoted: Quoted,
    *,
    person_id: str,
    settings: Mapping[str, Any] | None = None,
) -> DeliveryRecord:
    """Keep a car as it goes, as one more version of its delivery.

    ``parts`` and ``shop`` are as they stand just before it goes, ``settings`` too; none: as they are said now.

    Raises
    ------
    StuckError
        A record holds what cannot be.
    """
    document = job_file(parts, shop).model_copy(update={"stock": []})
    earlier = deliveries_of(session, parts.job.id)
    return keep_delivery(
        session,
        DeliveryRecord(
            job_id=parts.job.id,
            number=len(earlier) + 1,
            release=__version__,
            job_file=json.loads(_with_ways(document, bay).model_dump_json()),
            settings=settings or {name: kept(session, name)[0] for name in FROZEN_SETTINGS},
            lines=[kept_line(one) for one in quoted.lines],
            person_id=person_id,
        ),
    )  # fmt: skip


def _with_ways(document: JobFile, bay: Bay) -> JobFile:
    """The way in which old film came off is named: what is advised follows from what the shop sees later."""
    windows = [
        replace(window, strip_way=Way(bay.removals[window.id].way)) if window.id in bay.removals else window
        for window in document.job.windows
    ]
    return document.model_copy(update={"job": document.job.model_copy(update={"windows": windows})})
