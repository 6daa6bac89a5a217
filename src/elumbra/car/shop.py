"""What all jobs of the shop are looked at with: films, rack, lots, own figures."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass, replace
from functools import lru_cache

from pydantic import ValidationError
from sqlalchemy.orm import Session

from elumbra.core.film import Film, LotFigure
from elumbra.core.light import ReadingSums, lot_figure
from elumbra.core.starting import StartingValues
from elumbra.core.work import Unmetered
from elumbra.documents.job_core import core_film
from elumbra.documents.job_file import FilmPart, JobFile, LotPart
from elumbra.storage import clock, data_files, holds
from elumbra.storage.kept_settings import kept
from elumbra.storage.ledger import on_rack
from elumbra.storage.rack import shop_code
from elumbra.storage.readings import lot_sums
from elumbra.storage.records import FilmRecord, HoldRecord, StockRecord
from elumbra.storage.store import films, shop_values

UNMETERED_GLASS = "unmetered_glass"


@dataclass(frozen=True)
class Shop:
    """Films, rack and figures, ready for use."""

    films: Mapping[str, FilmRecord]  # removed ones too: an old job may still name them
    parts: Mapping[str, FilmPart]  # films that can be read, with their lots' own figures
    unreadable: Mapping[str, str]  # by film, why its record cannot be
    stock: Sequence[StockRecord]
    changes: Mapping[str, float]  # the shop's own figures, in range
    told: Sequence[str]  # own figures that had to be brought into range
    starting: StartingValues
    today: str
    holds: Sequence[HoldRecord] = ()  # film held for jobs, as it stands today
    code: str = ""  # of this shop, on its labels
    unmetered: Unmetered = Unmetered.ASK

    def held_by_others(self, job_id: str) -> dict[str, int]:
        """By stock, how many counts are held for other jobs."""
        found: dict[str, int] = {}
        for hold in self.holds:
            if hold.job_id != job_id:
                found[hold.stock_id] = found.get(hold.stock_id, 0) + hold.count
        return found

    @property
    def stocked(self) -> Set[str]:
        """Films of which something is left."""
        return {record.film_id for record in self.stock if record.left_count > 0}

    @property
    def on_file(self) -> list[Film]:
        """Films that may be put on a window, darkest sheet first."""
        present = [core_film(part) for part in self.parts.values() if not self.films[part.id].removed]
        return sorted(present, key=lambda film: (film.vlt, film.name))


def shop_then(shop: Shop, document: JobFile, today: str) -> Shop:
    """The shop as far as a car that is gone is looked at with it: its films and figures as they were, no rack."""
    named = {part.id: part for part in document.films}
    known = {one: replace(shop.films[one], removed=False) for one in named if one in shop.films}
    changes = dict(document.starting_values)
    starting = data_files.starting_values().with_shop_values(changes)
    parts = {one: named[one] for one in known}
    return Shop(known, parts, {}, (), changes, (), starting, today, (), shop.code, document.unmetered_glass)


def own_figures(session: Session) -> tuple[dict[str, float], list[str]]:
    """The shop's own figures brought into range, and what had to be changed, in words."""
    own = {record.id: record.value for record in shop_values(session).all()}
    return data_files.starting_values().clamped(own)


@lru_cache(maxsize=64)
def _starting(changes: frozenset[tuple[str, float]]) -> StartingValues:
    return data_files.starting_values().with_shop_values(dict(changes))


def shop_starting_values(session: Session) -> StartingValues:
    """The shipped figures with the shop's own laid over them."""
    return _starting(frozenset(own_figures(session)[0].items()))


def load_shop(session: Session) -> Shop:
    """The shop as it stands."""
    changes, told = own_figures(session)
    starting = _starting(frozenset(changes.items()))
    all_stock = on_rack(session)
    all_films = {record.id: record for record in films(session).all(removed_too=True)}
    sums = lot_sums(session, starting=starting, lots={record.lot for record in all_stock})
    parts: dict[str, FilmPart] = {}
    unreadable: dict[str, str] = {}
    for record in all_films.values():
        try:
            part = film_part(record)
            parts[record.id] = film_part(record, _lot_on_rack(part, all_stock, sums, starting))
        except ValidationError as error:
            problem = error.errors()[0]
            unreadable[record.id] = f"{problem['loc'][-1]}: {problem['msg']}"
    held = holds.standing(session)
    return Shop(
        all_films, parts, unreadable, all_stock, changes, told, starting, clock.today_iso(), held, shop_code(session),
        unmetered_glass(session)[0],
    )  # fmt: skip


def unmetered_glass(session: Session) -> tuple[Unmetered, int]:
    """What the shop does before it cuts film for glass that nobody metered, and the version of that word."""
    said, version = kept(session, UNMETERED_GLASS)
    return Unmetered(said) if said in list(Unmetered) else Unmetered.ASK, version


def film_part(record: FilmRecord, lot: LotFigure | None = None) -> FilmPart:
    """A stored film as it stands in a job file, with its lot's own figure where the shop has read one.

    Raises
    ------
    ValidationError
        The record holds what no film can have.
    """
    read = None
    if lot is not None:
        read = LotPart(lot=lot.lot, vlt_percent=100 * lot.vlt, pm_points=100 * lot.pm, readings=lot.readings)
    return FilmPart(**record.facts, id=record.id, lot=read)


def _lot_on_rack(
    part: FilmPart,
    all_stock: Sequence[StockRecord],
    sums: Mapping[tuple[str, str], ReadingSums],
    starting: StartingValues,
) -> LotFigure | None:
    """The own figure of the lot on the rack: where there is just one lot and it has been read."""
    lots = {record.lot for record in all_stock if record.film_id == part.id and record.left_count > 0}
    if len(lots) != 1 or "" in lots:
        return None
    return lot_figure_of(part, lots.pop(), sums, starting)


def lot_figure_of(
    part: FilmPart, lot: str, sums: Mapping[tuple[str, str], ReadingSums], starting: StartingValues
) -> LotFigure | None:
    """One lot's figure from the readings taken of it; None while there is none."""
    found = sums.get((part.id, lot))
    return None if found is None else lot_figure(core_film(part), lot, found, starting=starting)
