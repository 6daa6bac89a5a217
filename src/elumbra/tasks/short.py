"""What is short of one film, and what would do: more of it, less extra, another film, or fewer windows."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import partial
from math import ceil

from elumbra.core.cut import WAYS, Laid, PaneToCut, blank_for
from elumbra.core.film import Film
from elumbra.core.law import VerdictWord
from elumbra.core.nest import (
    Blank,
    CutPlan,
    PatternRules,
    Unplaced,
    all_fit,
    box_of,
    inner_of,
    least_reduction,
    what_is_short,
)
from elumbra.core.starting import StartingValues
from elumbra.core.units import inches
from elumbra.core.work import Car, ToCut, look_over
from elumbra.documents.plan_short import (
    PlanLessExtra,
    PlanLonger,
    PlanMost,
    PlanNewRoll,
    PlanOtherFilm,
    PlanPlay,
    PlanShort,
)
from elumbra.tasks.order import FilmOrder, OtherFilms

_STEP = inches(1) / 16
_MOST_FILMS = 3  # told


def short_of(plan: CutPlan, without: Sequence[Unplaced], order: FilmOrder) -> PlanShort | None:
    """What would make all pieces of a film fit, and the most that fits as it is; None of a bought sheet, of which its
    own length is told, and of rolls that nobody has.
    """
    if order.hypothetical or order.sheet is not None:
        return None
    to_cut, rules = order.to_cut, PatternRules.from_starting(order.starting)
    blanks = [*to_cut.blanks, *(box_of(one, rules) for one in to_cut.patterns)]
    rough = bool(to_cut.patterns)  # their rectangles surely do; of less nothing is known
    stocks = [inner_of(one, rules) for one in order.stocks] if rough else order.stocks
    found = what_is_short(
        blanks, stocks, order.costing, replace(plan.layout, unplaced=tuple(without)),
        roll_widths=order.starting.roll_widths_mm, two_lots=order.two_lots,
    )  # fmt: skip
    labels = {stock.id: stock.label or stock.id for stock in order.stocks}
    windows = list(dict.fromkeys(to_cut.panes[item.blank_id].window_id for item in without))
    return PlanShort(
        longer=[
            PlanLonger(
                stock_id=one.stock_id, label=labels[one.stock_id], more_mm=one.more,
                at_least_mm=0.0 if rough else one.at_least,
            )
            for one in found.longer
        ],
        new_rolls=[
            PlanNewRoll(width_mm=one.width, length_mm=one.length, at_least_mm=0.0 if rough else one.at_least)
            for one in found.new_rolls
        ],
        less_extra=None if rough else _less_extra(order),
        other_films=_other_films(order.others, _with_twins(windows, to_cut)) if order.others else [],
        most=_most(windows, to_cut),
    )  # fmt: skip


def _less_extra(order: FilmOrder) -> PlanLessExtra | None:
    """The one smallest reduction of extra for all hand-cut blanks with which all fit."""
    usual = order.starting["blank_play_mm"]
    panes = [pane for pane in order.to_cut.panes.values() if WAYS[pane.method].laid is Laid.BLANK]
    extra = {pane.id: usual if pane.play is None else pane.play for pane in panes}
    smaller = partial(_with_less, panes, extra, order.starting)
    most = ceil(max(extra.values(), default=0.0) / _STEP)
    steps = least_reduction(smaller, most, order.stocks, order.costing, two_lots=order.two_lots)
    if steps is None:
        return None
    left = {pane.window_id: max(0.0, extra[pane.id] - steps * _STEP) for pane in panes}
    return PlanLessExtra(
        less_mm=steps * _STEP,
        windows=[PlanPlay(window_id=window_id, play_mm=round(play, 4)) for window_id, play in left.items()],
    )


def _with_less(
    panes: Sequence[PaneToCut], extra: Mapping[str, float], starting: StartingValues, steps: int
) -> list[Blank]:
    return [
        blank_for(replace(pane, play=max(0.0, extra[pane.id] - steps * _STEP)), starting=starting) for pane in panes
    ]


def _with_twins(windows: Sequence[str], to_cut: ToCut) -> list[str]:
    """Windows and their mirror images: the two sides of a car do not differ in shade."""
    pairs = {pane.pair for pane in to_cut.panes.values() if pane.window_id in windows and pane.pair}
    also = [pane.window_id for pane in to_cut.panes.values() if pane.window_id in windows or pane.pair in pairs]
    return list(dict.fromkeys(also))


def _other_films(others: OtherFilms, windows: Sequence[str]) -> list[PlanOtherFilm]:
    """Films of which the rack has enough, and that clear on these windows with the others as planned; the nearest."""
    car = others.car
    chosen = {car.window(one).film_id for one in windows}
    wished = next(film.vlt for film in car.job.films.values() if film.id in chosen)
    found: list[PlanOtherFilm] = []
    for film in sorted(others.films, key=lambda one: (abs(one.vlt - wished), one.name)):
        if film.id not in chosen and len(found) < _MOST_FILMS and _would_do(film, others, windows):
            found.append(
                PlanOtherFilm(
                    film_id=film.id, film_name=film.name, window_ids=list(windows),
                    labels=[car.window(one).label for one in windows],
                )
            )  # fmt: skip
    return found


def _would_do(film: Film, others: OtherFilms, windows: Sequence[str]) -> bool:
    car = others.car
    stocks = [stock for stock in others.stocks if stock.film_id == film.id and stock.length > 0]
    if not stocks:
        return False
    changed = tuple(
        replace(one, film_id=film.id, reason=None, ordered=None) if one.id in windows else one
        for one in car.job.windows
    )
    films = {**car.job.films, film.id: film}
    tried = look_over(replace(car.job, windows=changed, films=films), car.law, starting=car.starting)
    if tried.held.keys() - car.held.keys() or not all(_clears(tried, one) for one in windows):
        return False
    return all_fit(tried.to_cut[film.id].blanks, stocks, two_lots=car.job.vehicle.two_lots_allowed)


def _clears(car: Car, window_id: str) -> bool:
    worst = car.shades[window_id].worst
    return worst is not None and worst.word is VerdictWord.CLEARS


def _most(left_out: Sequence[str], to_cut: ToCut) -> PlanMost:
    """How many windows are cut, which are not, and which are cut without their twin."""
    labels: dict[str, str] = {}
    pairs: dict[str, str] = {}
    for pane in to_cut.panes.values():
        labels.setdefault(pane.window_id, pane.label)
        pairs[pane.window_id] = pane.pair
    torn = {pairs[one] for one in left_out if pairs[one]}
    return PlanMost(
        windows=len(labels) - len(left_out),
        of=len(labels),
        left_out=[labels[one] for one in left_out],
        split=[labels[one] for one in labels if pairs[one] in torn and one not in left_out],
    )
