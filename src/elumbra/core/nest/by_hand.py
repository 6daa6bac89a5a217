"""Blanks that somebody placed by hand, and the plan of all others around them.

A blank placed by hand keeps its stock, its way round and its neighbours; it goes up to those before it, for
film between them would be cut off for nothing. The planner fills what such sections leave, lays the rest
anew on what is left of the stock, and puts sections in an order that leaves every blank near to where it
was put.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from elumbra.core.film import LinerSide, Stock
from elumbra.core.nest.check import between_cuts, cuttable
from elumbra.core.nest.layout import (
    TOUCHING,
    Blank,
    Costing,
    Lane,
    Layout,
    Placed,
    Section,
    Turn,
    Unplaced,
    by_id,
    lot_of,
    option_of,
    section_cost,
)
from elumbra.core.nest.lots import plan_by_lot, split_pairs
from elumbra.core.nest.pool import moved
from elumbra.core.nest.search import CutPlan, verified_plan

SNAP = 15.0  # mm: what is put as near as this to an edge or another blank lies on it


@dataclass(frozen=True)
class HandPlace:
    """Where somebody put a piece: on which stock, which way round, its least corner as seen from above [mm]."""

    stock: str
    x: float
    y: float
    turn: Turn

    def seen_otherwise(self, stock: Stock, across: float) -> HandPlace:
        """The same between seen from above and seen liner side up: mirrored where film lies liner down.

        Parameters
        ----------
        stock
            The one that it is on.
        across
            How far the piece reaches across it [mm].
        """
        return replace(self, y=stock.width - self.y - across) if stock.liner is LinerSide.DOWN else self


@dataclass(frozen=True)
class Tried:
    """A place that was tried, drawn up to what lies near; ``refused`` says why it cannot be."""

    place: HandPlace
    along: float
    across: float
    refused: str


@dataclass(frozen=True)
class Settled:
    """Sections of blanks placed by hand, with where they were put, and why others could not be."""

    sections: tuple[Section, ...]
    refused: Mapping[str, str]

    @property
    def ids(self) -> frozenset[str]:
        """Blanks that keep their place."""
        return frozenset(item.blank_id for one in self.sections for lane in one.lanes for item in lane.placed)


def try_place(
    blank: Blank, place: HandPlace, *, held: Mapping[str, HandPlace], blanks: Sequence[Blank], stocks: Sequence[Stock]
) -> Tried:
    """Whether a blank can be cut where somebody puts it, beside those placed by hand before.

    Parameters
    ----------
    blank, place
        What is put where.
    held
        By blank, the places that stand; see ``standing_places``.
    blanks, stocks
        All that is cut of this film, and from what.
    """
    stock = {one.id: one for one in stocks}.get(place.stock)
    if stock is None:
        return Tried(place, 0.0, 0.0, NO_STOCK)
    try:
        option = option_of(blank, place.turn)
    except KeyError:
        return Tried(place, 0.0, 0.0, NO_TURN)
    known = by_id(blanks)
    others = [_put(known[name], at) for name, at in held.items() if name != blank.id and at.stock == stock.id]
    x = _near(place.x, option.along, [0.0], [(one.x, one.x + one.along) for one in others])
    y = _near(place.y, option.across, [0.0, stock.width], [(one.y, one.y + one.across) for one in others])
    at = replace(place, x=x, y=y)
    item = _put(blank, at)
    return Tried(at, option.along, option.across, _refusal(item, others, stock, known))


NO_STOCK = "The film it was put on is not on the rack any more, or all of it is held for others."
NO_TURN = "It may not lie this way round: this glass takes film shrunk across it, or its way of cutting says so."


def _near(at: float, size: float, walls: Sequence[float], others: Iterable[tuple[float, float]]) -> float:
    """A coordinate drawn up to a wall or a neighbour's edge where that is near."""
    edges = [*walls, *(edge for span in others for edge in span)]
    best = min((abs(start - at), start) for edge in edges for start in (edge, edge - size))
    return max(0.0, best[1]) if best[0] <= SNAP else at


def _put(blank: Blank, place: HandPlace) -> Placed:
    option = option_of(blank, place.turn)
    return Placed(blank.id, place.turn, place.x, place.y, option.along, option.across, on_factory_edge=False)


def _refusal(item: Placed, others: Sequence[Placed], stock: Stock, known: Mapping[str, Blank]) -> str:
    name = stock.label or stock.id
    if item.y < -TOUCHING or item.y + item.across > stock.width + TOUCHING:
        return f"It reaches over the edge of {name}."
    if item.x < -TOUCHING or item.x + item.along > stock.length + TOUCHING:
        return f"It reaches over the end of {name}."
    for other in others:
        if (
            item.x < other.x + other.along - TOUCHING
            and other.x < item.x + item.along - TOUCHING
            and item.y < other.y + other.across - TOUCHING
            and other.y < item.y + item.across - TOUCHING
        ):
            return f"It lies on {known[other.blank_id].label}."
    if not cuttable([*others, item], stages=3):
        return "Three rounds of straight cuts (across, along, across) do not free it so."
    if sum(one.length for one in _sections([*others, item], stock, known)) > stock.length + TOUCHING:
        return f"There is not so much left of {name}."
    return ""


def standing_places(
    places: Mapping[str, HandPlace], blanks: Sequence[Blank], stocks: Sequence[Stock]
) -> tuple[dict[str, HandPlace], dict[str, str]]:
    """Places of blanks that can be, one after another in the order given, and why the others cannot."""
    known = by_id(blanks)
    held: dict[str, HandPlace] = {}
    refused: dict[str, str] = {}
    for name, place in places.items():
        if name not in known:
            continue
        tried = try_place(known[name], place, held=held, blanks=blanks, stocks=stocks)
        if tried.refused:
            refused[name] = tried.refused
        else:
            held[name] = tried.place
    return held, refused


def settle(places: Mapping[str, HandPlace], blanks: Sequence[Blank], stocks: Sequence[Stock]) -> Settled:
    """Sections of all blanks whose places can be; one after another, in the order given."""
    known, by_stock = by_id(blanks), {one.id: one for one in stocks}
    held, refused = standing_places(places, blanks, stocks)
    sections: list[Section] = []
    for stock_id in dict.fromkeys(place.stock for place in held.values()):
        items = [_put(known[name], place) for name, place in held.items() if place.stock == stock_id]
        sections += _sections(items, by_stock[stock_id], known)
    return Settled(tuple(sections), refused)


def _sections(items: Sequence[Placed], stock: Stock, known: Mapping[str, Blank]) -> list[Section]:
    """Rectangles that three stages of cuts free, as sections; each from where its first blank was put."""
    return [_section(group, stock, known) for group in between_cuts(items, along=True)]


def _section(items: Sequence[Placed], stock: Stock, known: Mapping[str, Blank]) -> Section:
    x = min(item.x for item in items)
    lanes = [_lane(group, x, stock, known) for group in between_cuts(items, along=False)]
    return Section(stock.id, x, max(lane.length for lane in lanes), tuple(lanes))


def _lane(items: Sequence[Placed], x: float, stock: Stock, known: Mapping[str, Blank]) -> Lane:
    low, high = min(item.y for item in items), max(item.y + item.across for item in items)
    placed = []
    for item in sorted(items, key=lambda one: one.x):
        near = item.y <= TOUCHING and item.turn is Turn.UPRIGHT
        far = item.y + item.across >= stock.width - TOUCHING and item.turn is Turn.UPSIDE_DOWN
        on_edge = (near or far) and option_of(known[item.blank_id], item.turn).edge_minutes > 0
        placed.append(replace(item, x=x, on_factory_edge=on_edge))
        x += item.along
    return Lane(low, high - low, tuple(placed), 0.0)


def layout_of(
    places: Mapping[str, HandPlace], blanks: Sequence[Blank], stocks: Sequence[Stock], costing: Costing
) -> Layout | None:
    """The layout that has every blank where it lay before; None where one has no place any more."""
    settled = settle(places, blanks, stocks)
    if not blanks or settled.ids != {blank.id for blank in blanks}:
        return None
    on, known = {stock.id: stock for stock in stocks}, by_id(blanks)
    return Layout(_in_order([_widened(one, on[one.stock_id], costing, known) for one in settled.sections], []))


def plan_with_hand(
    blanks: Sequence[Blank],
    stocks: Sequence[Stock],
    costing: Costing,
    *,
    places: Mapping[str, HandPlace],
    roll_widths: Sequence[float],
    two_lots_allowed: bool = False,
    starts: Sequence[Layout] = (),
) -> Iterator[CutPlan]:
    """As ``plan_by_lot``, with blanks where somebody put them; places that cannot be are planned as any other."""
    settled = settle(places, blanks, stocks)
    if not settled.sections:
        yield from plan_by_lot(
            blanks, stocks, costing, roll_widths=roll_widths, two_lots_allowed=two_lots_allowed, starts=starts
        )
        return
    maker = _Around(blanks, stocks, costing, roll_widths, two_lots_allowed)
    best: CutPlan | None = None
    for sections in dict.fromkeys((_filled(settled, blanks, stocks), settled.sections)):
        for plan in maker.plans(sections):
            if best is None or _rank(plan) < _rank(best):
                best = plan
                yield plan
    assert best is not None
    yield replace(best, finished=True)


def _rank(plan: CutPlan) -> tuple[int, float]:
    return len(plan.layout.unplaced), round(plan.score.net, 6)


def _filled(settled: Settled, blanks: Sequence[Blank], stocks: Sequence[Stock]) -> tuple[Section, ...]:
    """The same sections with further blanks where they leave room, largest first."""
    widths = {stock.id: stock.width for stock in stocks}
    sections = list(settled.sections)
    for blank in sorted((one for one in blanks if one.id not in settled.ids), key=lambda one: (-one.area, one.id)):
        for i, section in enumerate(sections):
            if fuller := _with(blank, section, widths[section.stock_id]):
                sections[i] = fuller
                break
    return tuple(sections)


def _with(blank: Blank, section: Section, width: float) -> Section | None:
    """A section with one blank more, at the end of a lane or in a lane of its own; None where there is no room."""
    end = section.x + section.length
    for option in blank.turns:
        for lane in section.lanes:
            x = section.x + lane.length
            if option.across <= lane.width + TOUCHING and x + option.along <= end + TOUCHING:
                at_edge = lane.y <= TOUCHING and option.turn is Turn.UPRIGHT and option.edge_minutes > 0
                item = Placed(blank.id, option.turn, x, lane.y, option.along, option.across, at_edge)
                lanes = tuple(replace(one, placed=(*one.placed, item)) if one is lane else one for one in section.lanes)
                return replace(section, lanes=lanes)
        if option.along > section.length + TOUCHING:
            continue
        for y, room in _gaps(section, width):
            if option.across <= room + TOUCHING:
                at_edge = y <= TOUCHING and option.turn is Turn.UPRIGHT and option.edge_minutes > 0
                item = Placed(blank.id, option.turn, section.x, y, option.along, option.across, at_edge)
                return replace(section, lanes=(*section.lanes, Lane(y, option.across, (item,), 0.0)))
    return None


def _widened(section: Section, stock: Stock, costing: Costing, known: Mapping[str, Blank]) -> Section:
    """Width that makes no usable offcut stays on the lane before it, and other width where that saves its cut."""
    ways = [_with_spare(section, stock, costing, keep_usable=keep) for keep in (True, False)]
    return min(ways, key=lambda one: section_cost(one, blanks=known, stock=stock, costing=costing))


def _with_spare(section: Section, stock: Stock, costing: Costing, *, keep_usable: bool) -> Section:
    lanes: list[Lane] = []
    ordered = sorted(section.lanes, key=lambda one: one.y)
    ends = [lane.y for lane in ordered[1:]] + [stock.width]
    for lane, end in zip(ordered, ends, strict=True):
        spare = end - lane.y - lane.width
        kept = spare <= TOUCHING or (keep_usable and costing.usable(section.length, spare))
        lanes.append(lane if kept else replace(lane, width=lane.width + spare, spare=lane.spare + spare))
    first = lanes[0]
    if first.y > TOUCHING and not (keep_usable and costing.usable(section.length, first.y)):
        lanes[0] = replace(first, y=0.0, width=first.width + first.y, spare=first.spare + first.y)
    return replace(section, lanes=tuple(lanes))


def _gaps(section: Section, width: float) -> list[tuple[float, float]]:
    found, y = [], 0.0
    for lane in sorted(section.lanes, key=lambda one: one.y):
        found.append((y, lane.y - y))
        y = lane.y + lane.width
    return [*found, (y, width - y)]


@dataclass(frozen=True)
class _Around:
    """Plans the rest around sections that stand."""

    blanks: Sequence[Blank]
    stocks: Sequence[Stock]
    costing: Costing
    roll_widths: Sequence[float]
    two_lots_allowed: bool

    def plans(self, held: Sequence[Section]) -> Iterator[CutPlan]:
        """Ever better plans with these sections in them, twins from one lot where two are not allowed."""
        layout: Layout | None = None
        for layout in self._layouts(self._free(held), held, self.stocks):
            if self._allowed(layout):
                yield self._verified(layout)
        if layout is not None and not self._allowed(layout):
            for layout in self._twins_first(held):
                yield self._verified(layout)

    def _allowed(self, layout: Layout) -> bool:
        return self.two_lots_allowed or not split_pairs(layout, self.blanks, self.stocks)

    def _verified(self, layout: Layout) -> CutPlan:
        return verified_plan(layout, self.blanks, self.stocks, self.costing, finished=False)

    def _free(self, held: Sequence[Section]) -> list[Blank]:
        standing = Settled(tuple(held), {}).ids
        return [blank for blank in self.blanks if blank.id not in standing]

    def _layouts(self, free: Sequence[Blank], held: Sequence[Section], stocks: Sequence[Stock]) -> Iterator[Layout]:
        """Ever better layouts of what stands and these free ones; of other blanks nothing is said."""
        taken = Layout(tuple(held))
        rest = [replace(one, length=max(0.0, one.length - taken.used_length(one.id))) for one in stocks]
        on, known = {stock.id: stock for stock in self.stocks}, by_id(self.blanks)
        standing = [_widened(one, on[one.stock_id], self.costing, known) for one in held]
        for plan in plan_by_lot(
            free, [one for one in rest if one.length > TOUCHING], self.costing, roll_widths=self.roll_widths,
            two_lots_allowed=self.two_lots_allowed,
        ):  # fmt: skip
            yield Layout(_in_order(standing, plan.layout.sections), plan.layout.unplaced)

    def _twins_first(self, held: Sequence[Section]) -> Iterator[Layout]:
        """The twins of what stands, each from the lot of its own, then all others."""
        lots = {stock.id: lot_of(stock) for stock in self.stocks}
        known = by_id(self.blanks)
        wanted: dict[str, list[Blank]] = {}
        for section in held:
            for item in (one for lane in section.lanes for one in lane.placed):
                pair = known[item.blank_id].pair
                twins = [one for one in self._free(held) if pair and one.pair == pair]
                wanted.setdefault(lots[section.stock_id], []).extend(twins)
        sections = list(held)
        unplaced: list[Unplaced] = []
        for lot, twins in wanted.items():
            of_lot = [stock for stock in self.stocks if lot_of(stock) == lot]
            on_lot = [one for one in sections if lots[one.stock_id] == lot]
            layout = list(self._layouts(twins, on_lot, of_lot))[-1]
            sections = [*(one for one in sections if lots[one.stock_id] != lot), *layout.sections]
            unplaced += layout.unplaced
        without = {one.blank_id for one in unplaced}
        free = [blank for blank in self._free(sections) if blank.id not in without]
        for layout in self._layouts(free, sections, self.stocks):
            yield replace(layout, unplaced=(*layout.unplaced, *unplaced))


def _in_order(held: Sequence[Section], free: Sequence[Section]) -> tuple[Section, ...]:
    """Sections one behind another on each stock, those that stand as near as can be to where they were put."""
    found: list[Section] = []
    for stock_id in dict.fromkeys(one.stock_id for one in (*held, *free)):
        waiting = sorted((one for one in free if one.stock_id == stock_id), key=lambda one: -one.length)
        x = 0.0
        for section in sorted((one for one in held if one.stock_id == stock_id), key=lambda one: one.x):
            while (before := next((one for one in waiting if x + one.length <= section.x + SNAP), None)) is not None:
                waiting.remove(before)
                found.append(moved(before, x - before.x))
                x += before.length
            found.append(moved(section, x - section.x))
            x += section.length
        for section in waiting:
            found.append(moved(section, x - section.x))
            x += section.length
    return tuple(found)
