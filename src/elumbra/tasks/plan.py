"""The task “plan”: from a job file's car to ever better plan documents."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

from pydantic import BaseModel, ConfigDict

from elumbra.car import assemble
from elumbra.core.film import Film, Stock, StockKind
from elumbra.core.law import LawFile
from elumbra.core.nest import Costing, HandPlace, Turn, layout_of
from elumbra.core.starting import StartingValues
from elumbra.core.survey import ReadBy, car_follows
from elumbra.core.units import format_inches
from elumbra.core.work import (
    Car,
    Job,
    ToCut,
    Window,
    follows_of,
    goes_on_by_reason,
    readiness,
    reason_words,
    unmetered_of,
    unmetered_words,
)
from elumbra.documents.job_core import core_film, core_stock
from elumbra.documents.job_file import FilmPart, JobFile, StockPart
from elumbra.documents.plan import FilmPlan, HeldWindow, PlanDocument, PlanNote, PlanVerdict
from elumbra.tasks.layouts import better_and_better, with_films
from elumbra.tasks.order import FilmOrder, OtherFilms
from elumbra.tasks.sheets import fit_by_blanks

_PULLED_LENGTH = 30_480.0  # a full 100 ft roll
_PULLED_PRICE = 1e-5
_MM2_PER_M2 = 1e6


class PlanInput(BaseModel):
    """A job file as text, and where the pieces lay in the plan of an earlier state of the job."""

    model_config = ConfigDict(extra="forbid")

    job: str
    before: dict[str, tuple[str, float, float, Turn]] = {}
    prices: dict[str, float] = {}  # by window [$]
    films: list[FilmPart] = []  # further ones of the shop, to try where one is short
    stock: list[StockPart] = []  # of those

    @classmethod
    def after(cls, job: str, plan: PlanDocument | None) -> PlanInput:
        """To be planned after a plan of an earlier state; only knife cuts say anything for the next one."""
        pieces = [piece for film in plan.films for piece in film.pieces] if plan else []
        return cls(
            job=job,
            before={
                piece.id: (piece.stock_id, piece.x_mm, piece.y_mm, Turn(int(piece.turn)))
                for piece in pieces
                if piece.kind == "blank"
            },
        )

    @property
    def beside(self) -> Beside:
        """All but the job."""
        before = {name: HandPlace(*place) for name, place in self.before.items()}
        films = [core_film(part) for part in self.films]
        return Beside(before, self.prices, films, [core_stock(part) for part in self.stock])


@dataclass(frozen=True)
class Beside:
    """What a plan may look at beside its job."""

    before: Mapping[str, HandPlace] = field(default_factory=dict)  # by piece, where an earlier plan had it
    prices: Mapping[str, float] = field(default_factory=dict)  # by window [$]; else it counts how much film one takes
    films: Sequence[Film] = ()  # further ones, to try where one is short
    stocks: Sequence[Stock] = ()


def plan_job_file(
    document: JobFile,
    shipped: LawFile,
    defaults: StartingValues,
    *,
    today: str,
    pull_from_customary: bool = False,
    beside: Beside = Beside(),
) -> Iterator[PlanDocument]:
    """Yield ever better plans of a job, each with every film; the last one has ``finished`` set.

    Parameters
    ----------
    document
        Job, films, stock.
    shipped
        The law file for a job that does not bring the law it was judged by.
    today
        ISO day, for such a job.
    defaults
        Starting values; the file's own ones are laid over them.
    pull_from_customary
        Where a film has no stock at all, plan on full rolls of the customary widths and say
        which to pull (Quick cut). Such panes are of no car, and no law is asked.
    beside
        Where an earlier plan had the pieces: where all can still be cut so, the plan is never worse. What windows come
        to, and other films, for where the film is short.

    Raises
    ------
    CoreError
        The document holds something that cannot be; ``fields`` says where.
    """
    car = assemble(document, shipped, defaults, today=today, judged=not pull_from_customary)
    starting = car.starting
    stocks = [core_stock(part) for part in document.stock]
    shell = plan_shell(document, car)
    unlawful = unlawful_windows(shell)
    costing = Costing.from_starting(starting)
    orders = []
    others = OtherFilms(car, [*car.job.films.values(), *beside.films], [*stocks, *beside.stocks])
    for film_id, unpriced in car.to_cut.items():
        to_cut = _priced(unpriced, beside.prices)
        of_film = [stock for stock in stocks if stock.film_id == film_id and stock.length > 0]
        pulled = pull_from_customary and not of_film
        if pulled:
            of_film = _customary_rolls(film_id, starting.roll_widths_mm)
        sheet = None
        if pull_from_customary and len(of_film) == 1 and of_film[0].kind is StockKind.SHEET:
            sheet = fit_by_blanks(to_cut.blanks, of_film[0], costing, starting)
        orders.append(
            FilmOrder(
                car.job.films[film_id], to_cut, of_film, costing, starting, unlawful=unlawful, hypothetical=pulled,
                sheet=sheet, sides={window.id: window.side for window in car.job.windows},
                two_lots=car.job.vehicle.two_lots_allowed,
                others=None if pull_from_customary else others,
            )
        )  # fmt: skip
    known = [layout_of(_of(order, beside.before), order.to_cut.blanks, order.stocks, costing) for order in orders]
    for plans in better_and_better(orders, [[layout] if layout else [] for layout in known]):
        yield _with_films(shell, plans, car)


def _priced(to_cut: ToCut, prices: Mapping[str, float]) -> ToCut:
    """Blanks with what their windows come to, or without prices by size: of two that do not fit, the dearer is cut."""
    blanks = tuple(
        replace(one, price=prices.get(one.window, 0.0) if prices else one.area / _MM2_PER_M2) for one in to_cut.blanks
    )
    return replace(to_cut, blanks=blanks)


def _of(order: FilmOrder, before: Mapping[str, HandPlace]) -> dict[str, HandPlace]:
    return {blank.id: before[blank.id] for blank in order.to_cut.blanks if blank.id in before}


def final_plan(document: JobFile, shipped: LawFile, defaults: StartingValues, *, today: str) -> PlanDocument:
    """The best plan, for those who can wait."""
    return list(plan_job_file(document, shipped, defaults, today=today))[-1]


def _customary_rolls(film_id: str, widths: Sequence[float]) -> list[Stock]:
    return [
        Stock(
            f"pull-{width:.0f}", film_id, StockKind.ROLL, width, _PULLED_LENGTH, _PULLED_PRICE,
            label=f"a {format_inches(width)} in roll",
        )
        for width in widths
    ]  # fmt: skip


def plan_shell(document: JobFile, car: Car) -> PlanDocument:
    """What a plan tells of a car before anything is laid out."""
    job = car.job
    return PlanDocument(
        title=document.job.title,
        customer=document.job.customer,
        vehicle=document.job.vehicle.label,
        states=list(job.vehicle.states),
        ready=readiness(car).headline,
        films=[],
        held=[
            HeldWindow(window_id=k, label=car.window(k).label, reason=hold.reason, station=hold.station.value)
            for k, hold in car.held.items()
        ],
        notes=_notes(job),
        verdicts=[_verdict(window, car) for window in job.windows if window.film_id],
        law_version=car.law.version,
        law_day=car.law.day,
        starting_version=car.starting.version,
        finished=False,
        proven=False,
    )


def _notes(job: Job) -> list[PlanNote]:
    """What was found on the car and on the windows that get film, and counts at the knife."""
    found = [("", "Whole car", one) for one in car_follows(job.vehicle.findings)]
    found += [(window.id, window.label, one) for window in job.windows if window.film_id for one in follows_of(window)]
    return [
        PlanNote(
            window_id=window_id, label=label, found=one.found, words=one.what.words, caution=one.what.caution,
            minutes=one.what.minutes,
        )
        for window_id, label, one in found
        if one.what.read_by is ReadBy.CUT and not one.what.no_film
    ]  # fmt: skip


def _with_films(shell: PlanDocument, films: Sequence[FilmPlan], car: Car) -> PlanDocument:
    short = len({item.window_id for film in films for item in film.unplaced})
    return with_films(shell, films, ready=replace(readiness(car), short=short).headline)


def _verdict(window: Window, car: Car) -> PlanVerdict:
    film = car.job.films[window.film_id] if window.film_id else None
    shade = car.shades[window.id]
    verdict = shade.worst
    others = "; ".join(f"{one.law.name}: {one.word.value}" for one in shade.verdicts if one is not verdict)
    return PlanVerdict(
        window_id=window.id,
        label=window.label,
        film_name=film.name if film else None,
        vlt_percent=100 * shade.combined.vlt if shade.combined else None,
        pm_points=100 * shade.combined.pm if shade.combined else None,
        state=car.law.of(verdict.jurisdiction).name if verdict else None,
        word=verdict.word.value if verdict else None,
        sentence=verdict.sentence if verdict else "No film chosen.",
        citation=verdict.citation if verdict else "",
        unconfirmed=bool(verdict and verdict.deciding),
        tolerance_points=verdict.tolerance_points if verdict and verdict.whole.within else None,
        limit_percent=100 * verdict.limit if verdict and verdict.limit is not None else None,
        others=others,
        reason=reason_words(window.reason) if window.reason else "",
        goes_on=any(goes_on_by_reason(one, window.reason, window.film_id) for one in shade.verdicts),
        unmetered=unmetered_words(risk) if (risk := unmetered_of(car, window)) and not window.is_cut else "",
    )


def unlawful_windows(shell: PlanDocument) -> dict[str, str]:
    """By window, what stands on every drawing of an unlawful piece that is cut by a lead's reason."""
    return {
        verdict.window_id: f"{verdict.word} in {verdict.state}; goes on by reason: {verdict.reason}"
        for verdict in shell.verdicts
        if verdict.goes_on
    }
