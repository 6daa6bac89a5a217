"""One copy of what the shop says, taken when an older shop is first opened: its delivered cars are frozen from it.

They are frozen one after another while the shop works on. What it says meanwhile of films, prices, figures or methods
is not what held when they went.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from pydantic import TypeAdapter
from sqlalchemy.orm import Session

from elumbra.car.delivered import FROZEN_SETTINGS
from elumbra.car.shop import Shop, load_shop
from elumbra.core.work import Unmetered
from elumbra.documents.job_file import FilmPart
from elumbra.storage import data_files
from elumbra.storage.deliveries import never_frozen
from elumbra.storage.kept_settings import keep, kept

UPGRADE_COPY = "upgrade_copy"
_FILMS = TypeAdapter(dict[str, FilmPart])


@dataclass(frozen=True)
class ShopCopy:
    """What the shop said at the upgrade."""

    settings: Mapping[str, Any]  # by name, as a delivery keeps them
    films: Mapping[str, FilmPart]
    changes: Mapping[str, float]  # the shop's own figures
    unmetered: Unmetered

    def over(self, shop: Shop) -> Shop:
        """The shop as it stood then."""
        starting = data_files.starting_values().with_shop_values(dict(self.changes))
        return replace(
            shop, parts={**shop.parts, **self.films}, changes=self.changes, starting=starting, unmetered=self.unmetered
        )


def take_copy(session: Session) -> None:
    """Take the copy, where cars are gone that were never frozen and none was taken before."""
    if kept(session, UPGRADE_COPY)[1] or not never_frozen(session):
        return
    shop = load_shop(session)
    copy = {
        "settings": {name: kept(session, name)[0] for name in FROZEN_SETTINGS},
        "films": _FILMS.dump_python(dict(shop.parts), mode="json"),
        "changes": dict(shop.changes),
        "unmetered": shop.unmetered.value,
    }
    keep(session, UPGRADE_COPY, copy, version=0, person_id="upgrade")


def upgrade_copy(session: Session) -> ShopCopy | None:
    """The copy that was taken; none where nothing was to be frozen."""
    said, _ = kept(session, UPGRADE_COPY)
    if not said:
        return None
    films = _FILMS.validate_python(said["films"])
    return ShopCopy(said["settings"], films, said["changes"], Unmetered(said["unmetered"]))
