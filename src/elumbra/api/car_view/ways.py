"""How a new job is cut unless somebody says otherwise: as its maker likes it, else as the shop does it."""

from __future__ import annotations

from sqlalchemy.orm import Session

from elumbra.core.cut import CutMethod
from elumbra.storage.kept_settings import kept

SHOP_WAY = "cut_method"


def own_way_name(person_id: str) -> str:
    """The setting that holds a person's own way."""
    return f"cut_method of {person_id}"


def way_for(session: Session, person_id: str) -> CutMethod:
    """The way of cutting of a new job that a person makes."""
    own, _ = kept(session, own_way_name(person_id))
    shop, _ = kept(session, SHOP_WAY, CutMethod.BULK.value)
    return CutMethod(own or shop)
