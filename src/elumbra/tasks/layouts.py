"""The search for every film of a plan: each has its first layout before any is improved."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from functools import partial

from elumbra.core.nest import CutPlan, Layout, Section, by_id, packed, plan_with_hand, score
from elumbra.documents.plan import FilmPlan, PlanDocument
from elumbra.tasks.film_plan import film_plan
from elumbra.tasks.order import FilmOrder
from elumbra.tasks.patterns import OnFilm, patterns_after

_PATTERN_SECONDS = (1, 3, 6)


def better_and_better(orders: Sequence[FilmOrder], starts: Sequence[Sequence[Layout]] = ()) -> Iterator[list[FilmPlan]]:
    """Ever better plans of all films; whenever it is stopped, none is missing.

    Parameters
    ----------
    orders
        One a film.
    starts
        By order, layouts of the same blanks that a plan is never worse than.
    """
    searches = [
        map(partial(film_plan, order=order), _layouts(order, starts[i] if starts else ()))
        for i, order in enumerate(orders)
    ]
    plans = [next(search) for search in searches]
    yield list(plans)
    for i, search in enumerate(searches):
        for better in search:
            plans[i] = better
            yield list(plans)


def with_films(shell: PlanDocument, films: Sequence[FilmPlan], *, ready: str) -> PlanDocument:
    """A plan document with its films as they stand."""
    finished = all(film.finished for film in films)
    proven = finished and all(film.proven for film in films)
    return shell.model_copy(
        update={"films": list(films), "finished": finished, "proven": proven, "ready": ready}
    )  # fmt: skip


def _layouts(order: FilmOrder, starts: Sequence[Layout]) -> Iterator[tuple[CutPlan, OnFilm | None]]:
    """Blanks first, ever better; then the patterns on what they leave, ever better."""
    blanks: CutPlan | None = None
    on_film: OnFilm | None = None
    patterned = bool(order.to_cut.patterns)
    for blanks in plan_with_hand(
        order.to_cut.blanks, order.stocks, order.costing, places=order.to_cut.places,
        roll_widths=order.starting.roll_widths_mm, two_lots_allowed=order.two_lots, starts=starts,
    ):  # fmt: skip
        if order.turn_of:
            blanks = _first_promised_first(blanks, order)
        if patterned:
            on_film = next(_patterns(blanks, order, seconds=()))
        yield (replace(blanks, finished=False) if patterned else blanks), on_film
    if patterned and blanks is not None:
        for on_film in _patterns(blanks, order, seconds=_PATTERN_SECONDS):
            yield replace(blanks, finished=on_film.plan.finished), on_film


def _first_promised_first(plan: CutPlan, order: FilmOrder) -> CutPlan:
    """The same sections in the order in which their cars are promised."""
    turns = {name: order.turn_of[pane.window_id] for name, pane in order.to_cut.panes.items()}

    def turn(section: Section) -> int:
        return min(turns[item.blank_id] for lane in section.lanes for item in lane.placed)

    layout = packed(tuple(sorted(plan.layout.sections, key=turn)))
    blanks, stocks = by_id(order.to_cut.blanks), {stock.id: stock for stock in order.stocks}
    again = score(layout, blanks=blanks, stocks=stocks, costing=order.costing)
    return replace(plan, layout=replace(layout, unplaced=plan.layout.unplaced), score=again)


def _patterns(blanks: CutPlan, order: FilmOrder, *, seconds: Sequence[int]) -> Iterator[OnFilm]:
    return patterns_after(
        blanks, order.to_cut, order.stocks, order.costing, order.starting, two_lots_allowed=order.two_lots,
        seconds=seconds,
    )  # fmt: skip
