"""Blanks, where they lie on the stock, and what a layout costs.

Vocabulary
----------
blank
    A rectangle of film cut from the roll for one pane, larger than the pane by its play.
along, across
    Directions on the stock: along the roll (machine direction) and across its width.
section
    A full-width length of stock, freed by a first cut across the roll.
lane
    A section's share of the width, freed by cuts along the roll. Cuts across a lane free its
    blanks. Section, lane, blank: three stages, and no knife needs more.
spare width
    What a section's lanes leave of the width. It stands by itself or widens one lane.

A layout seen from above, liner as the stock lies, unrolling to the right::

      across ▲  ┌──────────────┬────────┐
             │  │ lane 2   │   │        │
             │  ├──────────┴───┤  next  │
             │  │ lane 1     │ │ section│
             │  └────────────┴─┴────────┘──▶ along

All lengths in mm, prices in dollars per mm².
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import IntEnum

from elumbra.core.film import Stock, StockKind
from elumbra.core.starting import StartingValues

TOUCHING = 1e-6
_MINUTES_PER_HOUR = 60


class Turn(IntEnum):
    """How a piece is turned on the stock, degrees counter-clockwise seen liner side up."""

    UPRIGHT = 0  # width along the roll, foot on the near edge
    SIDEWAYS = 90  # height along the roll: the factory edge is lost
    UPSIDE_DOWN = 180  # width along the roll, foot on the far edge
    SIDEWAYS_BACK = 270  # as sideways, the head to the right: patterns only


@dataclass(frozen=True)
class TurnOption:
    """One way in which a blank may lie."""

    turn: Turn  # UPRIGHT stands for UPSIDE_DOWN as well
    along: float
    across: float
    extra_minutes: float = 0.0  # work that this way always adds
    edge_minutes: float = 0.0  # work saved when its foot lies on a factory edge


@dataclass(frozen=True)
class Blank:
    """A rectangle to be cut, with its allowed turns; ``pair`` joins mirrored twins, ``window`` the pieces of one."""

    id: str
    label: str
    turns: tuple[TurnOption, ...]
    pair: str = ""
    window: str = ""  # empty: a window of its own
    price: float = 0.0  # of its window [$]: of two that do not both fit, the dearer one is cut

    @property
    def area(self) -> float:
        """Least area over its turns [mm²]."""
        return min(option.along * option.across for option in self.turns)


@dataclass(frozen=True)
class Placed:
    """A blank in its lane; ``x`` along and ``y`` across, from the stock's near free corner."""

    blank_id: str
    turn: Turn
    x: float
    y: float
    along: float
    across: float
    on_factory_edge: bool


@dataclass(frozen=True)
class Lane:
    """A share of a section's width, at ``y``; ``spare`` is the part its blanks do not need."""

    y: float
    width: float
    placed: tuple[Placed, ...]
    spare: float = 0.0

    @property
    def length(self) -> float:
        """Length that the lane's blanks take [mm]."""
        return sum(item.along for item in self.placed)


@dataclass(frozen=True)
class Section:
    """A full-width length of one stock, from ``x`` on."""

    stock_id: str
    x: float
    length: float
    lanes: tuple[Lane, ...]


@dataclass(frozen=True)
class Unplaced:
    """A blank for which the rack has nothing, why, and the width that would do."""

    blank_id: str
    reason: str
    width_needed: float
    length_needed: float
    pull_width: float | None  # narrowest customary roll that holds it
    two_lots: bool = False  # no one lot holds it and its twin


@dataclass(frozen=True)
class Layout:
    """Sections in the order they are cut, and what found no place."""

    sections: tuple[Section, ...]
    unplaced: tuple[Unplaced, ...] = ()

    def used_length(self, stock_id: str) -> float:
        """Length taken from one stock [mm]."""
        return sum(section.length for section in self.sections if section.stock_id == stock_id)


@dataclass(frozen=True)
class Leftover:
    """A rectangle left over: kept as an offcut when usable, else waste."""

    stock_id: str
    x: float
    y: float
    along: float
    across: float
    usable: bool


@dataclass(frozen=True)
class Costing:
    """Figures that turn a layout into money."""

    minute_price: float
    knife_cut_minutes: float
    offcut_share: float
    offcut_short: float
    offcut_long: float
    pull_minutes: float = 0.0  # to fetch, lay on and put back a roll after the first

    @property
    def pull_price(self) -> float:
        """What a roll after the first costs to fetch [$]."""
        return self.pull_minutes * self.minute_price

    @classmethod
    def from_starting(cls, starting: StartingValues) -> Costing:
        """The shop's figures."""
        return cls(
            starting["labour_per_hour"] / _MINUTES_PER_HOUR,
            starting["knife_cut_minutes"],
            starting["offcut_worth_share"],
            starting["offcut_short_mm"],
            starting["offcut_long_mm"],
            starting["pull_minutes"],
        )

    def usable(self, along: float, across: float) -> bool:
        """Whether a leftover is worth labelling."""
        return min(along, across) >= self.offcut_short - TOUCHING and max(along, across) >= self.offcut_long - TOUCHING

    def least_rest(self, width: float) -> float | None:
        """Least length that makes a leftover of this width usable; None where none does."""
        if width >= self.offcut_long - TOUCHING:
            return self.offcut_short
        return self.offcut_long if width >= self.offcut_short - TOUCHING else None

    def worth(self, along: float, across: float, price: float) -> float:
        """Worth of a leftover [$]: a share of its price as new film, nothing below usable size."""
        return self.offcut_share * along * across * price if self.usable(along, across) else 0.0


@dataclass(frozen=True)
class Score:
    """What a layout costs and leaves; ``net`` is what is made least."""

    new_film: float  # rolls, length times price [$]
    offcuts_used: float  # book worth of the offcuts taken from the rack [$]
    minutes: float  # knife cuts, what the turns add, further rolls to fetch
    labour: float  # [$]
    offcuts_kept: float  # worth of usable leftovers [$]
    net: float  # [$]
    roll_length: float  # new film off rolls [mm]
    placed_area: float
    taken_area: float
    leftovers: tuple[Leftover, ...]

    def credited(self, least_film: float) -> Score:
        """The same with the worth of leftovers less the film bought beyond the least [$] (heart, section 5)."""
        kept = max(0.0, self.offcuts_kept - max(0.0, self.new_film - least_film))
        return replace(self, offcuts_kept=kept, net=self.new_film + self.offcuts_used + self.labour - kept)

    @property
    def yield_share(self) -> float:
        """Share of the film taken that goes onto the car; 0 when nothing is taken."""
        return self.placed_area / self.taken_area if self.taken_area else 0.0


def score(layout: Layout, *, blanks: Mapping[str, Blank], stocks: Mapping[str, Stock], costing: Costing) -> Score:
    """Cost a layout from its geometry alone, however it was found.

    New film by length and price, plus minutes of cutting, less the worth of usable leftovers.
    A section longer than its longest lane is charged in full and credited only up to that
    lane: buying film to make offcuts never pays.
    """
    new_film = used = kept = minutes = roll_length = placed_area = taken_area = 0.0
    leftovers: list[Leftover] = []
    for section in layout.sections:
        stock = stocks[section.stock_id]
        area = stock.width * section.length
        taken_area += area
        if stock.kind is StockKind.ROLL:
            new_film += area * stock.price
            roll_length += section.length
        minutes += section_cuts(section, stock.width) * costing.knife_cut_minutes
        for lane in section.lanes:
            for item in lane.placed:
                placed_area += item.along * item.across
                minutes += _item_minutes(blanks[item.blank_id], item)
        for rest in section_leftovers(section, stock.width, costing):
            leftovers.append(rest)
            kept += costing.worth(rest.along, rest.across, stock.price)
    for stock_id in {section.stock_id for section in layout.sections}:
        stock = stocks[stock_id]
        if stock.kind is not StockKind.ROLL:
            taken = layout.used_length(stock_id)
            rest = Leftover(stock_id, taken, 0.0, stock.length - taken, stock.width, usable=False)
            used += costing.worth(stock.length, stock.width, stock.price)
            kept += costing.worth(rest.along, rest.across, stock.price)
            if rest.along > TOUCHING:
                usable = costing.usable(rest.along, rest.across)
                leftovers.append(Leftover(stock_id, rest.x, 0.0, rest.along, rest.across, usable))
    opened = sum(stocks[stock_id].kind is StockKind.ROLL for stock_id in {s.stock_id for s in layout.sections})
    minutes += costing.pull_minutes * max(0, opened - 1)
    labour = minutes * costing.minute_price
    net = new_film + used + labour - kept
    return Score(
        new_film, used, minutes, labour, kept, net, roll_length, placed_area, taken_area, tuple(leftovers)
    )  # fmt: skip


def section_cost(section: Section, *, blanks: Mapping[str, Blank], stock: Stock, costing: Costing) -> float:
    """What one section costs by itself [$]: film of a roll and work, less usable leftovers."""
    minutes = section_cuts(section, stock.width) * costing.knife_cut_minutes
    minutes += sum(_item_minutes(blanks[item.blank_id], item) for lane in section.lanes for item in lane.placed)
    film = stock.width * section.length * stock.price if stock.kind is StockKind.ROLL else 0.0
    rests = section_leftovers(section, stock.width, costing)
    kept = sum(costing.worth(rest.along, rest.across, stock.price) for rest in rests)
    return film + minutes * costing.minute_price - kept


def section_cuts(section: Section, stock_width: float) -> int:
    """Straight knife cuts that free a section's blanks."""
    count = 1 + len(section.lanes) - 1
    if stock_width - sum(lane.width for lane in section.lanes) > TOUCHING:
        count += 1
    for lane in section.lanes:
        count += len(lane.placed) - 1 + (1 if section.length - lane.length > TOUCHING else 0)
    return count


def section_leftovers(section: Section, stock_width: float, costing: Costing) -> list[Leftover]:
    """Spare width standing by itself and the ends of lanes, within the longest lane."""
    tight = max(lane.length for lane in section.lanes)
    found = []
    for y, width in _gaps(section, stock_width):
        found.append(_leftover(section.stock_id, section.x, y, tight, width, costing))
    for lane in section.lanes:
        end = tight - lane.length
        if end > TOUCHING:
            found.append(_leftover(section.stock_id, section.x + lane.length, lane.y, end, lane.width, costing))
    return found


def _leftover(stock_id: str, x: float, y: float, along: float, across: float, costing: Costing) -> Leftover:
    return Leftover(stock_id, x, y, along, across, costing.usable(along, across))


def _gaps(section: Section, stock_width: float) -> list[tuple[float, float]]:
    gaps, y = [], 0.0
    for lane in sorted(section.lanes, key=lambda lane: lane.y):
        if lane.y - y > TOUCHING:
            gaps.append((y, lane.y - y))
        y = lane.y + lane.width
    if stock_width - y > TOUCHING:
        gaps.append((y, stock_width - y))
    return gaps


def _item_minutes(blank: Blank, item: Placed) -> float:
    option = option_of(blank, item.turn)
    return option.extra_minutes + (0.0 if item.on_factory_edge else option.edge_minutes)


def option_of(blank: Blank, turn: Turn) -> TurnOption:
    """The allowed way of lying that a turn belongs to.

    Raises
    ------
    KeyError
        The blank may not be turned so.
    """
    plain = Turn.UPRIGHT if turn is Turn.UPSIDE_DOWN else turn
    for option in blank.turns:
        if option.turn is plain:
            return option
    raise KeyError(turn)


def by_id(blanks: Sequence[Blank]) -> dict[str, Blank]:
    """Blanks by their id."""
    return {blank.id: blank for blank in blanks}


def lot_of(stock: Stock) -> str:
    """A stock's lot; film of a lot that nobody noted is taken for a lot of its own."""
    return stock.lot or f"not noted: {stock.id}"
