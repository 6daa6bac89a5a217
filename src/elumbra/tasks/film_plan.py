"""One film of a plan document: pieces in their places, cuts, leftovers, money."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import count, product
from string import ascii_uppercase

from elumbra.core.cut import (
    GLASS_WORDS,
    WAYS,
    CutMethod,
    Glass,
    Laid,
    PaneToCut,
    allowances_of,
    cut_steps,
    minutes_of,
    offcut_uses,
    outline_on_blank,
    points_on_blank,
)
from elumbra.core.film import FACING, Stock
from elumbra.core.glass import Side
from elumbra.core.nest import Blank, Costing, CutPlan, Score, Turn, Unplaced, settle
from elumbra.core.starting import StartingValues
from elumbra.core.units import inches
from elumbra.core.work import ToCut
from elumbra.documents.plan import (
    FilmPlan,
    PlanCut,
    PlanLeftover,
    PlanPiece,
    PlanReady,
    PlanScore,
    PlanStock,
    PlanUnplaced,
    PlanWay,
)
from elumbra.tasks.order import FilmOrder
from elumbra.tasks.patterns import (
    OnFilm,
    edge_points,
    edges_told,
    part_of,
    pattern_cuts,
    pattern_leftovers,
    pattern_pieces,
    pattern_score,
)
from elumbra.tasks.short import short_of
from elumbra.tasks.why import why_words


def _marks(number: int) -> str:
    """A, B, … Z, AA, AB …"""
    mark = ""
    while number >= 0:
        mark = ascii_uppercase[number % 26] + mark
        number = number // 26 - 1
    return mark


def film_plan(found: tuple[CutPlan, OnFilm | None], order: FilmOrder) -> FilmPlan:
    """All that is cut of one film, blanks and patterns, as the papers and screens show it."""
    plan, on_film = found
    film, to_cut, stocks, starting, costing = order.film, order.to_cut, order.stocks, order.starting, order.costing
    by_stock = {stock.id: stock for stock in stocks}
    laid = _laid(plan, to_cut, by_stock, starting)
    if on_film is not None:
        laid = _with_patterns(laid, on_film, to_cut, by_stock, costing)
    return FilmPlan(
        film_id=film.id,
        film_name=film.name,
        film_vlt_percent=100 * film.vlt,
        stocks=[_stock(stock, laid.used[stock.id]) for stock in stocks],
        pieces=_told(laid.pieces, order),
        cuts=laid.cuts,
        leftovers=[_with_use(rest, starting) for rest in laid.rests],
        unplaced=[_unplaced(item, to_cut, stocks, starting) for item in laid.without],
        short=short_of(plan, laid.without, order) if plan.finished and laid.without else None,
        ready_cut=[PlanReady(window_id=pane.window_id, label=pane.label) for pane in to_cut.ready_cut],
        ways=_ways(to_cut, starting),
        why=why_words(plan, to_cut, stocks, costing, starting) if plan.finished and not order.hypothetical else [],
        by_hand_refused=_refused(to_cut, stocks, on_film),
        score=laid.score,
        bound_area=laid.bounds[0],
        bound_free=laid.bounds[1],
        baseline_narrowest=score_told(plan.narrowest.score) if plan.narrowest and on_film is None else None,
        baseline_single=score_told(plan.single.score) if plan.single and on_film is None else None,
        proven=plan.proven and on_film is None,
        finished=plan.finished,
        hypothetical=order.hypothetical,
        sheet=order.sheet,
    )


@dataclass(frozen=True)
class _Laid:
    """What is laid on one film's stock, and what that costs."""

    pieces: list[PlanPiece]
    cuts: list[PlanCut]
    rests: list[PlanLeftover]
    without: list[Unplaced]
    used: dict[str, float]
    score: PlanScore
    bounds: tuple[float, float]


def _laid(plan: CutPlan, to_cut: ToCut, stocks: Mapping[str, Stock], starting: StartingValues) -> _Laid:
    """Blanks and their knife cuts."""
    steps = [
        PlanCut(
            number=step.number, stock_id=step.stock_id, kind=step.kind.value, at_mm=step.at,
            measured_from=step.measured_from, start=list(step.start), end=list(step.end),
        )
        for step in cut_steps(plan.layout, stocks)
    ]  # fmt: skip
    rests = [
        PlanLeftover(
            stock_id=rest.stock_id, x_mm=rest.x, y_mm=rest.y, along_mm=rest.along,
            across_mm=rest.across, usable=rest.usable,
        )
        for rest in plan.score.leftovers
    ]  # fmt: skip
    used = {stock_id: plan.layout.used_length(stock_id) for stock_id in stocks}
    without = list(plan.layout.unplaced)
    bounds = plan.bounds.area, plan.bounds.free
    return _Laid(
        _blank_pieces(plan, to_cut, stocks, starting), steps, rests, without, used, score_told(plan.score), bounds
    )


def _with_patterns(laid: _Laid, on_film: OnFilm, to_cut: ToCut, stocks: Mapping[str, Stock], costing: Costing) -> _Laid:
    """The same with patterns on what the blanks left."""
    of_pattern = {strip.stock_id for strip in on_film.plan.strips}
    rests = [one for one in laid.rests if not _behind_all(one, laid.used, of_pattern, stocks)]
    used = dict(laid.used)
    for strip in on_film.plan.strips:
        used[strip.stock_id] += strip.length
    area, free = laid.bounds
    return _Laid(
        [*laid.pieces, *pattern_pieces(on_film, to_cut, stocks)],
        [*laid.cuts, *pattern_cuts(on_film, stocks, after=len(laid.cuts))],
        [*rests, *pattern_leftovers(on_film, stocks)],
        [*laid.without, *on_film.plan.unplaced],
        used,
        _together(laid.score, pattern_score(on_film.plan, costing), on_film),
        (area + on_film.plan.bound, free + on_film.plan.bound),
    )


def _behind_all(rest: PlanLeftover, used: Mapping[str, float], of: set[str], stocks: Mapping[str, Stock]) -> bool:
    """Whether a leftover is the rest of an offcut on which patterns lie now."""
    return rest.stock_id in of and rest.x_mm >= used[rest.stock_id] - 1 and rest.across_mm >= (
        stocks[rest.stock_id].width - 1
    )  # fmt: skip


def _together(one: PlanScore, other: PlanScore, on_film: OnFilm) -> PlanScore:
    taken = on_film.plan.taken_area
    blank_taken = one.roll_length_mm  # weights: film of blanks by their length, of patterns by theirs
    pattern_taken = other.roll_length_mm
    whole = blank_taken + pattern_taken
    share = (
        (one.yield_percent * blank_taken + other.yield_percent * pattern_taken) / whole
        if whole
        else (other.yield_percent if taken else one.yield_percent)
    )
    sums = {
        name: getattr(one, name) + getattr(other, name)
        for name in ("new_film", "offcuts_used", "minutes", "labour", "offcuts_kept", "net", "roll_length_mm")
    }
    return PlanScore(**sums, yield_percent=share)


def _ways(to_cut: ToCut, starting: StartingValues) -> list[PlanWay]:
    """Ways of cutting in use by the glass they meet, with the minutes of their pieces."""
    minutes = _minutes(list(to_cut.panes.values()), starting)
    ways = []
    for method, glass in product(CutMethod, Glass):
        panes = [
            pane for pane in to_cut.panes.values()
            if pane.method is method and WAYS[method].glass_of(pane.kind, is_strip=pane.is_strip) is glass
        ]  # fmt: skip
        if panes:
            way = WAYS[method]
            ways.append(
                PlanWay(
                    method=method, words=", ".join(filter(None, (way.words, GLASS_WORDS[glass]))),
                    steps=list(way.steps_on(glass)), labels=[pane.label for pane in panes],
                    minutes=sum(minutes[pane.id] for pane in panes),
                )
            )  # fmt: skip
    return ways


_CUT_DOUBLE = frozenset({CutMethod.BULK, CutMethod.BULK_UPRIGHT, CutMethod.BULK_SIDEWAYS})


def _minutes(panes: Sequence[PaneToCut], starting: StartingValues) -> dict[str, float]:
    """Minutes of each piece; the second of a pair takes half, cut with the first (handbook, section 14)."""
    seen: set[str] = set()
    found = {}
    for pane in panes:
        whole = minutes_of(pane.method, starting=starting)
        double = pane.method in _CUT_DOUBLE and pane.pair in seen
        found[pane.id] = whole / 2 if double else whole
        if pane.pair:
            seen.add(pane.pair)
    return found


def _unplaced(item: Unplaced, to_cut: ToCut, stocks: Sequence[Stock], starting: StartingValues) -> PlanUnplaced:
    pane = to_cut.panes[item.blank_id]
    return PlanUnplaced(
        window_id=pane.window_id, label=pane.label, reason=item.reason, width_needed_mm=item.width_needed,
        length_needed_mm=item.length_needed, pull_width_mm=item.pull_width, two_lots=item.two_lots,
        fits_with_play_mm=_less_play(item, stocks, pane, starting),
    )  # fmt: skip


def _less_play(item: Unplaced, stocks: Sequence[Stock], pane: PaneToCut, starting: StartingValues) -> float | None:
    """The play that a piece could do with on the widest stock; None where that is too little to cut by.

    Rounded down to a sixteenth, so that the blank still fits once it is rounded up to one.
    """
    if WAYS[pane.method].laid is not Laid.BLANK:
        return None
    usual = starting["blank_play_mm"] if pane.play is None else pane.play
    widest = max((stock.width for stock in stocks if stock.length >= item.length_needed), default=0.0)
    short = item.width_needed - widest
    if item.two_lots or not 0 < short < 2 * usual:
        return None
    sixteenth = inches(1) / 16
    play = int((usual - short / 2) / sixteenth + 1e-6) * sixteenth
    return play if play >= starting["least_play_mm"] else None


def _stock(stock: Stock, used: float) -> PlanStock:
    return PlanStock(
        id=stock.id,
        label=stock.label,
        kind=stock.kind.value,
        width_mm=stock.width,
        length_mm=stock.length,
        used_mm=used,
        lot=stock.lot,
        liner=stock.liner.value,
        facing=FACING[stock.liner],
    )


def score_told(score: Score) -> PlanScore:
    """A score as a plan tells it."""
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


def _with_use(rest: PlanLeftover, starting: StartingValues) -> PlanLeftover:
    """A leftover with what it can still become, so that it is left in one piece."""
    uses = offcut_uses(rest.along_mm, rest.across_mm, starting=starting) if rest.usable else ()
    return rest.model_copy(update={"use": " or ".join(uses)})


def _refused(to_cut: ToCut, stocks: Sequence[Stock], on_film: OnFilm | None) -> list[str]:
    """Pieces that cannot lie where somebody put them, and why."""
    refused = {**settle(to_cut.places, to_cut.blanks, stocks).refused, **(on_film.refused if on_film else {})}
    return [f"{to_cut.panes[name].label}: {why} It is planned like the others." for name, why in refused.items()]


def _turns(blank: Blank) -> list[float]:
    """Every way in which a blank may lie, upside down too where it may lie upright."""
    given = [option.turn for option in blank.turns]
    return [float(turn) for turn in ([*given, Turn.UPSIDE_DOWN] if Turn.UPRIGHT in given else given)]


def _blank_pieces(
    plan: CutPlan, to_cut: ToCut, stocks: Mapping[str, Stock], starting: StartingValues
) -> list[PlanPiece]:
    usual = starting["blank_play_mm"]
    by_hand = settle(to_cut.places, to_cut.blanks, list(stocks.values())).ids
    turns = {blank.id: _turns(blank) for blank in to_cut.blanks}
    pieces = []
    for section in plan.layout.sections:
        for lane in sorted(section.lanes, key=lambda lane: lane.y):
            for item in lane.placed:
                pane = to_cut.panes[item.blank_id]
                play = usual if pane.play is None else pane.play
                liner = stocks[section.stock_id].liner
                ring = outline_on_blank(pane.outline, item, liner=liner, play=play)
                edges = points_on_blank(edge_points(pane.outline.ring), pane.outline, item, liner=liner, play=play)
                reach = allowances_of(
                    pane.kind, edge=pane.edge, is_strip=pane.is_strip, inner=pane.inner, starting=starting
                )
                pieces.append(
                    PlanPiece(
                        mark="", window_id=pane.window_id, label=pane.label, side=Side.CENTRE,
                        stock_id=section.stock_id, x_mm=item.x, y_mm=item.y, along_mm=item.along,
                        across_mm=item.across, turn=float(item.turn.value), factory_edge=item.on_factory_edge,
                        measured=pane.outline.measured, outline=[[round(x, 2), round(y, 2)] for x, y in ring.tolist()],
                        pair_mark=None, play_mm=pane.play, unlawful="", method=pane.method.value,
                        by_hand=item.blank_id in by_hand, part=part_of(pane), turns=turns[item.blank_id],
                        allowances=edges_told(reach, pane.outline.ring, edges),
                    )
                )  # fmt: skip
    return pieces


def _told(pieces: Sequence[PlanPiece], order: FilmOrder) -> list[PlanPiece]:
    """Pieces with their marks, sides, minutes and twins."""
    numbers = count()
    pair_of = {pane.window_id: pane.pair for pane in order.to_cut.panes.values()}
    labels = {pane.label: pane.id for pane in order.to_cut.panes.values()}
    minutes = _minutes(list(order.to_cut.panes.values()), order.starting)
    marked = [
        piece.model_copy(
            update={
                "mark": _marks(next(numbers)), "side": order.sides[piece.window_id],
                "unlawful": order.unlawful.get(piece.window_id, ""), "minutes": minutes[labels[piece.label]],
            }
        )
        for piece in pieces
    ]  # fmt: skip
    twins: dict[str, list[str]] = {}
    for piece in marked:
        if pair := pair_of[piece.window_id]:
            twins.setdefault(pair, []).append(piece.mark)
    return [piece.model_copy(update=_twin(piece, twins.get(pair_of[piece.window_id], []))) for piece in marked]


def _twin(piece: PlanPiece, marks: Sequence[str]) -> dict[str, object]:
    """The mark of a piece's twin, and whether the piece is the later of the two."""
    other = next((mark for mark in marks if mark != piece.mark), None)
    return {"pair_mark": other, "second_of_pair": other is not None and marks[0] != piece.mark}
