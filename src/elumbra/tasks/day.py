"""The task “day”: several cars cut together, film by film, never dearer than each by itself."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from pydantic import BaseModel, ConfigDict

from elumbra.car import assemble
from elumbra.core.cut import CutLine, PaneToCut
from elumbra.core.film import Film, Stock
from elumbra.core.law import LawFile
from elumbra.core.nest import Blank, Costing, Layout, Pattern, Score, by_id, moved, plan_by_lot, score
from elumbra.core.starting import StartingValues
from elumbra.core.work import Car, ToCut, readiness
from elumbra.documents.job_core import core_stock
from elumbra.documents.job_file import JobFile, StockPart
from elumbra.documents.plan import FilmPlan, PlanCar, PlanDocument
from elumbra.tasks.film_plan import score_told
from elumbra.tasks.layouts import better_and_better, with_films
from elumbra.tasks.order import FilmOrder
from elumbra.tasks.plan import plan_shell, unlawful_windows


class DayCar(BaseModel):
    """One of the cars, as its job file has it."""

    model_config = ConfigDict(extra="forbid")

    job_id: str
    number: int
    job: JobFile


class DayInput(BaseModel):
    """Cars that are cut together, first promised first, and the stock that is free for them."""

    model_config = ConfigDict(extra="forbid")

    cars: list[DayCar]
    stock: list[StockPart]


_RUNNING = {"finished": False, "proven": False}


@dataclass(frozen=True)
class _Looked:
    """A car of the day, looked over, with what its plan tells before anything is laid out."""

    part: DayCar
    car: Car
    shell: PlanDocument


def plan_day(day: DayInput, shipped: LawFile, defaults: StartingValues, *, today: str) -> Iterator[PlanDocument]:
    """Yield ever better plans of a day, each with every film; the last one has ``finished`` set.

    Raises
    ------
    CoreError
        One of the jobs holds something that cannot be.
    """
    looked = []
    for part in day.cars:
        car = assemble(part.job, shipped, defaults, today=today)
        looked.append(_Looked(part, car, plan_shell(part.job, car)))
    starting = looked[0].car.starting
    stocks = [core_stock(part) for part in day.stock]
    shell = _together(looked)
    costing = Costing.from_starting(starting)
    films = {film_id: one.car.job.films[film_id] for one in looked for film_id in one.car.to_cut}
    orders = [_order(film, looked, stocks, costing, starting, shell) for film in films.values()]
    first = next(better_and_better(orders))
    yield with_films(shell, [film.model_copy(update=_RUNNING) for film in first], ready=_ready(looked, first))
    alone = [_each_alone(order, looked) for order in orders]
    starts = [[layout] if layout is not None else [] for layout, _ in alone]
    for plans in better_and_better(orders, starts):
        told = [_with_cars(plan, looked, one) for plan, (_, one) in zip(plans, alone, strict=True)]
        yield with_films(shell, told, ready=_ready(looked, told))


def _together(looked: Sequence[_Looked]) -> PlanDocument:
    """One document for all cars; what is said of a window says of which car it is."""
    first = looked[0].shell

    def of(one: _Looked, label: str) -> dict[str, str]:
        return {"label": f"{one.part.number} {label}"}

    return first.model_copy(
        update={
            "title": f"{_cars(len(looked))} together",
            "customer": "",
            "vehicle": ", ".join(str(one.part.number) for one in looked),
            "states": sorted({state for one in looked for state in one.shell.states}),
            "held": [item.model_copy(update=of(one, item.label)) for one in looked for item in one.shell.held],
            "notes": [item.model_copy(update=of(one, item.label)) for one in looked for item in one.shell.notes],
            "verdicts": [item.model_copy(update=of(one, item.label)) for one in looked for item in one.shell.verdicts],
            "cars": [
                PlanCar(
                    job_id=one.part.job_id, number=one.part.number, vehicle=one.part.job.job.vehicle.label,
                    ready=readiness(one.car).headline,
                )
                for one in looked
            ],
        }
    )  # fmt: skip


def _ready(looked: Sequence[_Looked], films: Sequence[FilmPlan]) -> str:
    cut = sum(
        len({pane.window_id for pane in to_cut.panes.values()}) for one in looked for to_cut in one.car.to_cut.values()
    )
    short = len({item.window_id for film in films for item in film.unplaced})
    held = sum(len(one.shell.held) for one in looked)
    told = [f"{cut - short} windows of {_cars(len(looked))} ready"]
    told += [f"{held} held back"] if held else []
    told += [f"{short} without film"] if short else []
    return "; ".join(told)


def _cars(count: int) -> str:
    return "1 car" if count == 1 else f"{count} cars"


def _order(
    film: Film,
    looked: Sequence[_Looked],
    stocks: Sequence[Stock],
    costing: Costing,
    starting: StartingValues,
    shell: PlanDocument,
) -> FilmOrder:
    return FilmOrder(
        film, _merged(film.id, looked), [one for one in stocks if one.film_id == film.id and one.length > 0], costing,
        starting, sides={window.id: window.side for one in looked for window in one.car.job.windows},
        unlawful=unlawful_windows(shell), two_lots=all(one.car.job.vehicle.two_lots_allowed for one in looked),
        turn_of={window.id: turn for turn, one in enumerate(looked) for window in one.car.job.windows},
    )  # fmt: skip


def _merged(film_id: str, looked: Sequence[_Looked]) -> ToCut:
    """What all cars get of one film; each label begins with its job's number."""
    blanks: list[Blank] = []
    patterns: list[Pattern] = []
    panes: dict[str, PaneToCut] = {}
    lines: dict[str, CutLine] = {}
    ready_cut: list[PaneToCut] = []
    for one in looked:
        to_cut = one.car.to_cut.get(film_id)
        if to_cut is None:
            continue
        number = f"{one.part.number} "
        blanks += [replace(blank, label=number + blank.label) for blank in to_cut.blanks]
        patterns += [replace(pattern, label=number + pattern.label) for pattern in to_cut.patterns]
        panes |= {name: replace(pane, label=number + pane.label) for name, pane in to_cut.panes.items()}
        lines |= dict(to_cut.lines)
        ready_cut += [replace(pane, label=number + pane.label) for pane in to_cut.ready_cut]
    return ToCut(film_id, tuple(blanks), panes, tuple(patterns), lines, tuple(ready_cut))


def _each_alone(order: FilmOrder, looked: Sequence[_Looked]) -> tuple[Layout | None, Score | None]:
    """Every car's own plan, one after another on what the last one left; None where one finds too little."""
    left = list(order.stocks)
    sections = []
    for one in looked:
        to_cut = one.car.to_cut.get(order.film.id)
        if to_cut is None or not to_cut.blanks:
            continue
        plan = list(
            plan_by_lot(
                to_cut.blanks, [stock for stock in left if stock.length > 0], order.costing,
                roll_widths=order.starting.roll_widths_mm, two_lots_allowed=order.two_lots,
            )
        )[-1]  # fmt: skip
        if plan.layout.unplaced:
            return None, None
        start = {whole.id: whole.length - rest.length for whole, rest in zip(order.stocks, left, strict=True)}
        sections += [moved(section, start[section.stock_id]) for section in plan.layout.sections]
        left = [replace(stock, length=max(0.0, stock.length - plan.layout.used_length(stock.id))) for stock in left]
    if not sections:
        return None, None
    layout = Layout(tuple(sections))
    stocks = {stock.id: stock for stock in order.stocks}
    return layout, score(layout, blanks=by_id(order.to_cut.blanks), stocks=stocks, costing=order.costing)


def _with_cars(plan: FilmPlan, looked: Sequence[_Looked], alone: Score | None) -> FilmPlan:
    """A film's plan with the cars that share it, and what it would cost to cut each by itself."""
    shared = [str(one.part.number) for one in looked if plan.film_id in one.car.to_cut]
    by_blanks = all(piece.kind == "blank" for piece in plan.pieces)
    each = score_told(alone) if alone is not None and by_blanks and len(shared) > 1 else None
    return plan.model_copy(update={"shared_by": shared, "each_alone": each})
