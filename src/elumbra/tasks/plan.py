"""The task “plan”: from a job file's car to ever better plan documents."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from functools import partial
from itertools import count
from string import ascii_uppercase

from elumbra.car import assemble
from elumbra.core.cut import PaneToCut, cut_steps, outline_on_blank
from elumbra.core.film import FACING, Film, Stock, StockKind
from elumbra.core.law import LawFile
from elumbra.core.nest import Costing, CutPlan, Score, Unplaced, plan_by_lot, plan_cuts
from elumbra.core.starting import StartingValues
from elumbra.core.survey import ReadBy, car_follows
from elumbra.core.units import format_inches, inches
from elumbra.core.work import Car, Job, ToCut, Window, follows_of, goes_on_by_reason, readiness, reason_words
from elumbra.documents.job_core import core_stock
from elumbra.documents.job_file import JobFile
from elumbra.documents.plan import (
    FilmPlan,
    HeldWindow,
    PlanCut,
    PlanDocument,
    PlanLeftover,
    PlanNote,
    PlanPiece,
    PlanScore,
    PlanSheet,
    PlanStock,
    PlanUnplaced,
    PlanVerdict,
)

_PULLED_LENGTH = 30_480.0  # a full 100 ft roll
_PULLED_PRICE = 1e-5


def plan_job_file(
    document: JobFile, shipped: LawFile, defaults: StartingValues, *, today: str, pull_from_customary: bool = False
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

    Raises
    ------
    CoreError
        The document holds something that cannot be; ``fields`` says where.
    """
    car = assemble(document, shipped, defaults, today=today, judged=not pull_from_customary)
    starting = car.starting
    stocks = [core_stock(part) for part in document.stock]
    shell = _shell(document, car)
    unlawful = _unlawful(shell)
    costing = Costing.from_starting(starting)
    plans: dict[str, FilmPlan] = {}
    searches: list[Iterator[FilmPlan]] = []
    for film_id, to_cut in car.to_cut.items():
        of_film = [stock for stock in stocks if stock.film_id == film_id and stock.length > 0]
        pulled = pull_from_customary and not of_film
        if pulled:
            of_film = _customary_rolls(film_id, starting.roll_widths_mm)
        found = plan_by_lot(
            to_cut.blanks, of_film, costing, roll_widths=starting.roll_widths_mm,
            two_lots_allowed=car.job.vehicle.two_lots_allowed,
        )  # fmt: skip
        sheet = None
        if pull_from_customary and len(of_film) == 1 and of_film[0].kind is StockKind.SHEET:
            sheet = _sheet(to_cut, of_film[0], costing, starting)
        as_plan = partial(
            _film_plan, film=car.job.films[film_id], to_cut=to_cut, stocks=of_film, car=car,
            unlawful=unlawful, hypothetical=pulled, sheet=sheet,
        )  # fmt: skip
        searches.append(map(as_plan, found))
        plans[film_id] = next(searches[-1])
    # Whenever it is stopped, no film is missing: each has its first layout before any is improved.
    yield _with_films(shell, plans, car)
    for film_id, search in zip(list(plans), searches, strict=True):
        for better in search:
            plans[film_id] = better
            yield _with_films(shell, plans, car)


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


def _shell(document: JobFile, car: Car) -> PlanDocument:
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


def _with_films(shell: PlanDocument, plans: Mapping[str, FilmPlan], car: Car) -> PlanDocument:
    films = list(plans.values())
    short = len({item.window_id for film in films for item in film.unplaced})
    ready = replace(readiness(car), short=short).headline
    finished = all(film.finished for film in films)
    proven = finished and all(film.proven for film in films)
    return shell.model_copy(update={"films": films, "finished": finished, "proven": proven, "ready": ready})


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
    )


def _unlawful(shell: PlanDocument) -> dict[str, str]:
    """By window, what stands on every drawing of an unlawful piece that is cut by a lead's reason."""
    return {
        verdict.window_id: f"{verdict.word} in {verdict.state}; goes on by reason: {verdict.reason}"
        for verdict in shell.verdicts
        if verdict.goes_on
    }


def _marks(number: int) -> str:
    """A, B, … Z, AA, AB …"""
    mark = ""
    while number >= 0:
        mark = ascii_uppercase[number % 26] + mark
        number = number // 26 - 1
    return mark


def _film_plan(
    plan: CutPlan,
    film: Film,
    to_cut: ToCut,
    stocks: Sequence[Stock],
    car: Car,
    unlawful: Mapping[str, str],
    *,
    hypothetical: bool,
    sheet: PlanSheet | None = None,
) -> FilmPlan:
    by_stock = {stock.id: stock for stock in stocks}
    return FilmPlan(
        film_id=film.id,
        film_name=film.name,
        film_vlt_percent=100 * film.vlt,
        stocks=[_stock(stock, plan) for stock in stocks],
        pieces=_pieces(plan, to_cut, by_stock, car, unlawful),
        cuts=[
            PlanCut(
                number=step.number, stock_id=step.stock_id, kind=step.kind.value, at_mm=step.at,
                measured_from=step.measured_from, start=list(step.start), end=list(step.end),
            )
            for step in cut_steps(plan.layout, by_stock)
        ],
        leftovers=[
            PlanLeftover(
                stock_id=rest.stock_id, x_mm=rest.x, y_mm=rest.y, along_mm=rest.along,
                across_mm=rest.across, usable=rest.usable,
            )
            for rest in plan.score.leftovers
        ],
        unplaced=[
            PlanUnplaced(
                window_id=to_cut.panes[item.blank_id].window_id, label=to_cut.panes[item.blank_id].label,
                reason=item.reason,
                width_needed_mm=item.width_needed, length_needed_mm=item.length_needed,
                pull_width_mm=item.pull_width, two_lots=item.two_lots,
                fits_with_play_mm=_less_play(item, stocks, to_cut.panes[item.blank_id], car.starting),
            )
            for item in plan.layout.unplaced
        ],
        score=_score(plan.score),
        bound_area=plan.bounds.area,
        bound_free=plan.bounds.free,
        baseline_narrowest=_score(plan.narrowest.score) if plan.narrowest else None,
        baseline_single=_score(plan.single.score) if plan.single else None,
        proven=plan.proven,
        finished=plan.finished,
        hypothetical=hypothetical,
        sheet=sheet,
    )  # fmt: skip


_SHEET_WIDTHS = (inches(20), inches(24))  # home sheets, handbook 3


def _sheet(to_cut: ToCut, sheet: Stock, costing: Costing, starting: StartingValues) -> PlanSheet:
    """The length that a sheet's width needs, and the least customary sheet that does."""
    lengths = {width: _length_needed(to_cut, width, costing, starting) for width in {*_SHEET_WIDTHS, sheet.width}}
    holding = [(width * length, width) for width in _SHEET_WIDTHS if (length := lengths[width]) is not None]
    least = min(holding, default=(None, None))[1]
    return PlanSheet(
        width_mm=sheet.width,
        length_mm=sheet.length,
        needed_mm=lengths[sheet.width],
        least_width_mm=least,
        least_length_mm=lengths[least] if least else None,
    )


def _length_needed(to_cut: ToCut, width: float, costing: Costing, starting: StartingValues) -> float | None:
    endless = Stock("endless", to_cut.film_id, StockKind.ROLL, width, 10 * _PULLED_LENGTH, _PULLED_PRICE)
    plan = list(plan_cuts(to_cut.blanks, [endless], costing, roll_widths=starting.roll_widths_mm))[-1]
    return None if plan.layout.unplaced else plan.layout.used_length(endless.id)


def _less_play(item: Unplaced, stocks: Sequence[Stock], pane: PaneToCut, starting: StartingValues) -> float | None:
    """The play that a piece could do with on the widest stock; None where that is too little to cut by.

    Rounded down to a sixteenth, so that the blank still fits once it is rounded up to one.
    """
    usual = starting["blank_play_mm"] if pane.play is None else pane.play
    widest = max((stock.width for stock in stocks if stock.length >= item.length_needed), default=0.0)
    short = item.width_needed - widest
    if item.two_lots or not 0 < short < 2 * usual:
        return None
    sixteenth = inches(1) / 16
    play = int((usual - short / 2) / sixteenth + 1e-6) * sixteenth
    return play if play >= starting["least_play_mm"] else None


def _stock(stock: Stock, plan: CutPlan) -> PlanStock:
    return PlanStock(
        id=stock.id,
        label=stock.label,
        kind=stock.kind.value,
        width_mm=stock.width,
        length_mm=stock.length,
        used_mm=plan.layout.used_length(stock.id),
        lot=stock.lot,
        liner=stock.liner.value,
        facing=FACING[stock.liner],
    )


def _score(score: Score) -> PlanScore:
    return PlanScore(
        new_film=score.new_film,
        offcuts_used=score.offcuts_used,
        minutes=score.minutes,
        labour=score.labour,
        offcuts_kept=score.offcuts_kept,
        net=score.net,
        roll_length_mm=score.roll_length,
        yield_percent=100 * score.yield_share,
    )


def _pieces(
    plan: CutPlan,
    to_cut: ToCut,
    stocks: dict[str, Stock],
    car: Car,
    unlawful: Mapping[str, str],
) -> list[PlanPiece]:
    numbers, usual = count(), car.starting["blank_play_mm"]
    pieces = []
    for section in plan.layout.sections:
        for lane in sorted(section.lanes, key=lambda lane: lane.y):
            for item in lane.placed:
                pane = to_cut.panes[item.blank_id]
                outline = pane.outline
                play = usual if pane.play is None else pane.play
                ring = outline_on_blank(outline, item, liner=stocks[section.stock_id].liner, play=play)
                pieces.append(
                    PlanPiece(
                        mark=_marks(next(numbers)), window_id=pane.window_id, label=pane.label,
                        side=car.window(pane.window_id).side, stock_id=section.stock_id, x_mm=item.x, y_mm=item.y,
                        along_mm=item.along, across_mm=item.across, turn=float(item.turn.value),
                        factory_edge=item.on_factory_edge, measured=outline.measured,
                        outline=[[round(x, 2), round(y, 2)] for x, y in ring.tolist()], pair_mark=None,
                        play_mm=pane.play, unlawful=unlawful.get(pane.window_id, ""),
                    )
                )  # fmt: skip
    return _with_pairs(pieces, to_cut)


def _with_pairs(pieces: list[PlanPiece], to_cut: ToCut) -> list[PlanPiece]:
    pair_of = {pane.window_id: pane.pair for pane in to_cut.panes.values()}
    marks: dict[str, list[str]] = {}
    for piece in pieces:
        if pair := pair_of[piece.window_id]:
            marks.setdefault(pair, []).append(piece.mark)
    paired = []
    for piece in pieces:
        twins = [mark for mark in marks.get(pair_of[piece.window_id], []) if mark != piece.mark]
        paired.append(piece.model_copy(update={"pair_mark": twins[0] if twins else None}))
    return paired
