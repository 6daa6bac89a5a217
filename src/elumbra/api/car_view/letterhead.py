"""In whose name papers go out."""

from __future__ import annotations

from sqlalchemy.orm import Session

from elumbra.car import LETTERHEAD
from elumbra.documents.sheet import Letterhead
from elumbra.storage.kept_records import DeliveryRecord
from elumbra.storage.kept_settings import kept_then

NOBODY = "This shop"


def letterhead(session: Session, delivered: DeliveryRecord | None = None) -> Letterhead:
    """The shop's name and address, as it said them at Shop; of a car that is gone, as it said them then."""
    said = kept_then(session, delivered, LETTERHEAD, {})
    lines = [one for one in (said.get("address", ""), said.get("contact", "")) if one]
    return Letterhead(str(said.get("name") or NOBODY), lines)
