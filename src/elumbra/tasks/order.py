"""What a plan is asked of one film."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from elumbra.core.film import Film, Stock
from elumbra.core.glass import Side
from elumbra.core.nest import Costing
from elumbra.core.starting import StartingValues
from elumbra.core.work import Car, ToCut
from elumbra.documents.plan import PlanSheet


@dataclass(frozen=True)
class OtherFilms:
    """The car and what else lies on the rack, to try another film on windows for which one is short."""

    car: Car
    films: Sequence[Film]
    stocks: Sequence[Stock]


@dataclass(frozen=True)
class FilmOrder:
    """What is cut of one film, from what, and how that is told."""

    film: Film
    to_cut: ToCut
    stocks: Sequence[Stock]
    costing: Costing
    starting: StartingValues
    sides: Mapping[str, Side]  # by window
    unlawful: Mapping[str, str]  # by window, what stands on what is cut though the law says no
    two_lots: bool = False  # a pair may come from two
    turn_of: Mapping[str, int] = field(default_factory=dict)  # by window, how many cars are promised before its own
    hypothetical: bool = False  # no such roll is on the rack
    sheet: PlanSheet | None = None
    others: OtherFilms | None = None  # to try where this film is short
