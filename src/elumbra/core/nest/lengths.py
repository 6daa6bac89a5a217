"""The least length of film of one width that holds each set of blanks, exact within three stages of cuts.

Money plays no part here, so nothing is known in advance that would let a section be left out: only what is both
wider and longer than another one of the same blanks is.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import inf

import numpy as np
from numpy.typing import NDArray

from elumbra.core.nest.lanes import Floats, Ints, Kinds, TooManySectionsError
from elumbra.core.nest.layout import TOUCHING, Blank, Lane, Placed, Section, Turn

_MOST_LOOKED_AT = 200_000_000  # sections and lanes joined, all together


@dataclass(frozen=True)
class _Ways:
    """For each set, its ways that no other is both narrower and shorter than; rows are filled up with infinity."""

    width: Floats  # (codes, ways)
    length: Floats  # (codes, ways)


@dataclass(frozen=True)
class Lengths:
    """Least lengths of one width of film.

    Attributes
    ----------
    width
        Of the film [mm].
    least
        By code, shape (codes,), the least length that holds that set [mm]; infinite where none does.
    """

    kinds: Kinds
    width: float
    least: Floats
    _part: Ints  # (codes,): the first section's set
    _lanes: _Ways
    _sections: _Ways
    _joined: dict[int, tuple[Ints, Ints, Ints]]  # by code, each way's lane set, its way, and the way of the rest

    def sections(self, code: int, stock_id: str, waiting: Sequence[list[Blank]]) -> list[Section]:
        """The sections that hold a set in its least length, end to end; its blanks are taken from those that wait."""
        sections: list[Section] = []
        x, left = 0.0, code
        while left:
            part = int(self._part[left])
            way = int(np.argmin(self._sections.length[part]))
            length = float(self._sections.length[part, way])
            sections.append(Section(stock_id, x, length, self._lanes_of(part, way, x, waiting)))
            x, left = x + length, left - part
        return sections

    def _lanes_of(self, code: int, way: int, x: float, waiting: Sequence[list[Blank]]) -> tuple[Lane, ...]:
        lanes, y = [], 0.0
        while code:
            own, lane_way, rest_way = (int(column[way]) for column in self._joined[code])
            width = float(self._lanes.width[own, lane_way])
            lanes.append(self._lane(own, width, x, y, waiting))
            y, code, way = y + width, code - own, rest_way
        return tuple(lanes)

    def _lane(self, code: int, width: float, x: float, y: float, waiting: Sequence[list[Blank]]) -> Lane:
        placed = []
        for kind, count in enumerate(self.kinds.digits[code].tolist()):
            fitting = [o for o in self.kinds.members[kind][0].turns if o.across <= width + TOUCHING]
            for _ in range(count):
                option = min(fitting, key=lambda one: one.along)
                on_edge = y == 0.0 and option.edge_minutes > 0 and option.turn is Turn.UPRIGHT
                name = waiting[kind].pop(0).id
                placed.append(Placed(name, option.turn, x, y, option.along, option.across, on_edge))
                x += option.along
        return Lane(y, width, tuple(placed))


def least_lengths(kinds: Kinds, width: float) -> Lengths:
    """Least lengths of film of a width [mm], for all sets at once.

    Raises
    ------
    TooManySectionsError
        Too many to be looked at.
    """
    lanes = _lanes(kinds, width)
    has_first = _has_first(kinds)
    sections, joined = _sections(kinds, width, lanes, has_first)
    shortest = sections.length.min(axis=1)
    least = np.full(len(kinds.digits), inf)
    least[0] = 0.0
    part = np.zeros(len(least), dtype=np.int64)
    for code in range(1, len(least)):
        parts = np.flatnonzero(kinds.within[code] & has_first[code])
        totals = shortest[parts] + least[code - parts]
        at = int(np.argmin(totals))
        least[code], part[code] = totals[at], parts[at]
    return Lengths(kinds, width, least, part, lanes, sections, joined)


def _has_first(kinds: Kinds) -> NDArray[np.bool_]:
    """Whether a set has a blank of the first kind of another, shape (codes, codes): ``[whole, part]``."""
    held = kinds.digits > 0
    first = np.argmax(held, axis=1)
    return np.asarray(held[:, first].T)


def _lanes(kinds: Kinds, width: float) -> _Ways:
    """Each set as one lane: in a lane of some width every blank lies the shortest way that is no wider."""
    options = [option for group in kinds.members for option in group[0].turns]
    widths = sorted({option.across for option in options if option.across <= width + TOUCHING})
    if not widths:
        none = np.full((len(kinds.digits), 1), inf)
        return _Ways(none, none)
    along = np.array(
        [
            [min((o.along for o in group[0].turns if o.across <= wide + TOUCHING), default=inf) for wide in widths]
            for group in kinds.members
        ]
    )
    finite = np.isfinite(along)
    length = kinds.digits @ np.where(finite, along, 0.0)
    length[(kinds.digits[:, :, None] * ~finite[None]).any(axis=1)] = inf
    length[0] = inf  # a lane holds something
    better = np.ones_like(length, dtype=bool)
    better[:, 1:] = length[:, 1:] < np.minimum.accumulate(length, axis=1)[:, :-1] - TOUCHING
    return _left_first(np.where(better, np.array(widths), inf), np.where(better, length, inf))


def _left_first(width: Floats, length: Floats) -> _Ways:
    """The same with what is finite at the left, and no column that is infinite throughout."""
    length = np.where(np.isfinite(width), length, inf)
    width = np.where(np.isfinite(length), width, inf)
    order = np.argsort(~np.isfinite(width), axis=1, kind="stable")
    many = max(1, int(np.isfinite(width).sum(axis=1).max()))
    return _Ways(
        np.take_along_axis(width, order, axis=1)[:, :many], np.take_along_axis(length, order, axis=1)[:, :many]
    )


def _sections(
    kinds: Kinds, width: float, lanes: _Ways, has_first: NDArray[np.bool_]
) -> tuple[_Ways, dict[int, tuple[Ints, Ints, Ints]]]:
    """Each set as one section: a lane with its first blank, beside a section of the others."""
    codes = len(kinds.digits)
    joined: dict[int, tuple[Ints, Ints, Ints]] = {}
    wide = np.full((codes, 1), inf)
    long = np.full((codes, 1), inf)
    wide[0], long[0] = 0.0, 0.0
    looked_at = 0
    for code in range(1, codes):
        own = np.flatnonzero(kinds.within[code] & has_first[code])
        i, ways = np.nonzero(np.isfinite(lanes.width[own]))
        own = own[i]
        looked_at += len(own) * wide.shape[1]
        if looked_at > _MOST_LOOKED_AT:
            raise TooManySectionsError
        rest = code - own
        widths = lanes.width[own, ways][:, None] + wide[rest]
        row, rest_way = np.nonzero(widths <= width + TOUCHING)
        if not len(row):
            continue
        own, lane_way = own[row], ways[row]
        found = widths[row, rest_way]
        length = np.maximum(lanes.length[own, lane_way], long[rest[row], rest_way])
        order = np.lexsort((found, length))
        narrowest = np.minimum.accumulate(found[order])
        fresh = np.concatenate([[True], found[order][1:] < narrowest[:-1] - TOUCHING])
        kept = order[fresh]
        joined[code] = own[kept], lane_way[kept], rest_way[kept]
        if len(kept) > wide.shape[1]:
            more = ((0, 0), (0, len(kept) - wide.shape[1]))
            wide = np.pad(wide, more, constant_values=inf)
            long = np.pad(long, more, constant_values=inf)
        wide[code, : len(kept)], long[code, : len(kept)] = found[kept], length[kept]
    long[0] = inf  # a section holds something
    return _Ways(wide, long), joined
