"""One independent checker for every layout, whoever made it.

No overlap, inside the stock, allowed turns and sizes, every blank once, and that three stages
of straight cuts really free them: a pinwheel, which does not overlap and which no knife can cut,
is refused. Sections follow each other from the free end without gap or overlap, lanes lie side by
side within their section, and every piece lies within its lane.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from itertools import combinations
from math import inf

from elumbra.core.errors import LayoutError
from elumbra.core.film import Stock
from elumbra.core.nest.layout import Blank, Layout, Placed, Section, lot_of, option_of

_SLACK = 1e-3  # mm: far below a knife, far above rounding


def check_layout(
    layout: Layout, *, blanks: Mapping[str, Blank], stocks: Mapping[str, Stock], one_lot: bool = False
) -> None:
    """Verify a layout from scratch; with ``one_lot``, that every pair comes from one lot too.

    Raises
    ------
    LayoutError
        ``fields`` names each piece or stock and what is wrong with it.
    """
    problems: dict[str, str] = {}
    _check_presence(layout, blanks, problems)
    for stock_id in dict.fromkeys(section.stock_id for section in layout.sections):
        if stock_id not in stocks:
            problems[stock_id] = "Not on the rack."
            continue
        items = [
            item
            for section in layout.sections
            if section.stock_id == stock_id
            for lane in section.lanes
            for item in lane.placed
        ]
        _check_items(items, stocks[stock_id], blanks, problems)
        _check_lengths(layout, stocks[stock_id], problems)
        if not cuttable(items, stages=3):
            problems.setdefault(stock_id, "Three stages of straight cuts do not free these blanks.")
    if one_lot:
        where = {
            item.blank_id: section.stock_id
            for section in layout.sections
            for lane in section.lanes
            for item in lane.placed
        }
        check_lots(where, {blank.id: blank.pair for blank in blanks.values()}, stocks, problems)
    if problems:
        raise LayoutError(f"The layout cannot be cut: {next(iter(problems.values()))}", fields=problems)


def check_lots(
    where: Mapping[str, str], pair_of: Mapping[str, str], stocks: Mapping[str, Stock], problems: dict[str, str]
) -> None:
    """Note every piece whose twin lies on another lot: two windows side by side must not differ in shade."""
    lots: dict[str, set[str]] = {}
    for piece, stock_id in where.items():
        if (pair := pair_of.get(piece)) and stock_id in stocks:
            lots.setdefault(pair, set()).add(lot_of(stocks[stock_id]))
    for piece in where:
        if len(lots.get(pair_of.get(piece, ""), ())) > 1:
            problems.setdefault(piece, "Its twin comes from another lot.")


def _check_presence(layout: Layout, blanks: Mapping[str, Blank], problems: dict[str, str]) -> None:
    seen = Counter(item.blank_id for s in layout.sections for lane in s.lanes for item in lane.placed)
    seen.update(item.blank_id for item in layout.unplaced)
    for blank_id in blanks:
        if seen[blank_id] != 1:
            problems[blank_id] = f"Stands {seen[blank_id]} times in the layout; must stand once."
    for blank_id in seen:
        if blank_id not in blanks:
            problems[blank_id] = "Nobody asked for this blank."


def _check_items(items: Sequence[Placed], stock: Stock, blanks: Mapping[str, Blank], problems: dict[str, str]) -> None:
    for item in items:
        blank = blanks.get(item.blank_id)
        if blank is None:
            continue
        try:
            option = option_of(blank, item.turn)
        except KeyError:
            problems[item.blank_id] = f"May not be turned by {int(item.turn)} degrees."
            continue
        if _over(abs(option.along - item.along), 0.0) or _over(abs(option.across - item.across), 0.0):
            problems[item.blank_id] = "Has another size than was asked for."
        end, side = item.x + item.along, item.y + item.across
        if item.on_factory_edge and _over(item.y, 0.0) and _over(stock.width, side):
            problems[item.blank_id] = "Is said to lie on the factory edge and does not."
        before = _over(0.0, item.x) or _over(0.0, item.y)
        if before or _over(end, stock.length) or _over(side, stock.width):
            problems[item.blank_id] = f"Lies outside {stock.label or stock.id}."
    for one, other in combinations(items, 2):
        if _overlap(one, other):
            problems[one.blank_id] = f"Overlaps {other.blank_id}."


def _overlap(one: Placed, other: Placed) -> bool:
    along = _over(one.x + one.along, other.x) and _over(other.x + other.along, one.x)
    across = _over(one.y + one.across, other.y) and _over(other.y + other.across, one.y)
    return along and across


def _over(one: float, other: float) -> bool:
    """Whether a length is more than another, and by more than rounding [mm]."""
    return one > other + _SLACK


def _check_lengths(layout: Layout, stock: Stock, problems: dict[str, str]) -> None:
    used = layout.used_length(stock.id)
    if _over(used, stock.length):
        problems[stock.id] = f"Needs {used:.0f} mm of {stock.label or stock.id}, which has {stock.length:.0f} mm."
    sections = sorted((s for s in layout.sections if s.stock_id == stock.id), key=lambda section: section.x)
    end = 0.0
    for section in sections:
        if _over(end, section.x):
            problems[stock.id] = "Two sections take the same length of film."
        elif _over(section.x, end):
            problems[stock.id] = "There is a gap between two sections: film that nobody cuts off."
        end = section.x + section.length
        longest = max((lane.length for lane in section.lanes), default=0.0)
        if _over(section.length, longest):
            problems[stock.id] = "A section is longer than its blanks: film bought for nothing."
        _check_lanes(section, stock, problems)


def _check_lanes(section: Section, stock: Stock, problems: dict[str, str]) -> None:
    reach = 0.0
    for lane in sorted(section.lanes, key=lambda lane: lane.y):
        if _over(reach, lane.y):
            problems[stock.id] = "Two lanes take the same width of film."
        reach = lane.y + lane.width
        if _over(0.0, lane.spare) or _over(lane.spare, lane.width):
            problems[stock.id] = "A lane has more spare width than it is wide."
        for item in lane.placed:
            if _over(item.across, lane.width):
                problems.setdefault(item.blank_id, "Is wider than its lane.")
            elif _over(lane.y, item.y) or _over(item.y + item.across, reach):
                problems.setdefault(item.blank_id, "Lies outside its lane.")
            if _over(section.x, item.x) or _over(item.x + item.along, section.x + section.length):
                problems.setdefault(item.blank_id, "Reaches out of its section.")
    if _over(reach, stock.width):
        problems[stock.id] = f"The lanes need {reach:.0f} mm of width; there are {stock.width:.0f} mm."


def cuttable(items: Sequence[Placed], *, stages: int, across_first: bool = True) -> bool:
    """Whether alternating rounds of straight cuts free every rectangle.

    Parameters
    ----------
    items
        Rectangles that do not overlap.
    stages
        Rounds of cuts left.
    across_first
        Whether the first round cuts across the roll; the next then cuts along it, and so on.
    """
    if len(items) <= 1:
        return True
    if stages == 0:
        return False
    groups = between_cuts(items, along=across_first)
    return all(cuttable(group, stages=stages - 1, across_first=not across_first) for group in groups)


def between_cuts(items: Sequence[Placed], *, along: bool) -> list[list[Placed]]:
    """Groups between full-length straight cuts at right angles to the given direction."""
    spans = sorted(
        ((i.x, i.x + i.along, i) if along else (i.y, i.y + i.across, i) for i in items),
        key=lambda span: (span[0], span[1]),
    )
    groups: list[list[Placed]] = []
    reach = -inf
    for start, end, item in spans:
        if not _over(reach, start):
            groups.append([])
        groups[-1].append(item)
        reach = max(reach, end)
    return groups
