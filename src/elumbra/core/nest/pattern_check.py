"""One independent checker for every layout of patterns, whoever made it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from shapely import Polygon

from elumbra.core.errors import LayoutError
from elumbra.core.film import Stock
from elumbra.core.nest.check import check_lots
from elumbra.core.nest.pattern_layout import Pattern, PatternPlaced, PatternRules, PatternStrip

_SLACK = 1e-3


def check_patterns(
    strips: Sequence[PatternStrip],
    patterns: dict[str, Pattern],
    stocks: dict[str, Stock],
    rules: PatternRules,
    *,
    one_lot: bool = False,
) -> None:
    """Verify a layout of patterns from scratch: inside, margin, gap, turn, hand, size, each once, stock.

    With ``one_lot``, that every pair comes from one lot too.

    Raises
    ------
    LayoutError
        ``fields`` names each piece or stock and what is wrong with it.
    """
    problems: dict[str, str] = {}
    seen: list[str] = []
    for strip in strips:
        stock = stocks.get(strip.stock_id)
        if stock is None:
            problems[strip.stock_id] = "Not on the rack."
            continue
        if strip.x < -_SLACK or strip.x + strip.length > stock.length + _SLACK:
            problems[strip.stock_id] = f"Needs {strip.length:.0f} mm, and has {stock.length:.0f} mm."
        polygons = []
        for item in strip.placed:
            seen.append(item.pattern_id)
            polygons.append(Polygon(item.ring))
            _check_item(item, strip, stock, patterns, rules, problems)
        for i, one in enumerate(polygons):
            for j in range(i):
                if one.distance(polygons[j]) < rules.gap - _SLACK or one.intersects(polygons[j]):
                    name = strip.placed[i].pattern_id
                    problems.setdefault(name, f"Lies nearer than the gap to {strip.placed[j].pattern_id}.")
    for name in set(seen) | set(patterns):
        if seen.count(name) != 1:
            problems[name] = f"Stands {seen.count(name)} times in the layout; must stand once."
    if one_lot:
        where = {item.pattern_id: strip.stock_id for strip in strips for item in strip.placed}
        check_lots(where, {one.id: one.pair for one in patterns.values()}, stocks, problems)
    if problems:
        raise LayoutError(f"The patterns cannot be cut so: {next(iter(problems.values()))}", fields=problems)


def _check_item(
    item: PatternPlaced,
    strip: PatternStrip,
    stock: Stock,
    patterns: dict[str, Pattern],
    rules: PatternRules,
    problems: dict[str, str],
) -> None:
    pattern = patterns.get(item.pattern_id)
    if pattern is None:
        problems[item.pattern_id] = "Nobody asked for this pattern."
        return
    if item.turn not in pattern.turns:
        problems[item.pattern_id] = f"May not be turned by {int(item.turn)} degrees."
        return
    due = Polygon(pattern.turned(item.turn) + np.array([item.x, item.y]))
    own = Polygon(item.ring)
    if not own.is_valid:
        problems[item.pattern_id] = "Its cut line crosses itself."
    elif due.symmetric_difference(own).area > _SLACK * max(1.0, due.length):
        problems[item.pattern_id] = "Has another outline, or another hand, than was asked for."
    (low_x, low_y), (high_x, high_y) = item.ring.min(axis=0), item.ring.max(axis=0)
    inside = low_x >= strip.x + rules.margin - _SLACK and high_x <= strip.x + strip.length - rules.margin + _SLACK
    if not inside or low_y < rules.margin - _SLACK or high_y > stock.width - rules.margin + _SLACK:
        problems.setdefault(item.pattern_id, f"Lies nearer than the margin to the edge of {stock.label or stock.id}.")
