"""How much film must shrink on a pane: the map of 1 − J, its largest value, and the work of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from shapely import Point, Polygon, contains_xy

from elumbra.core.geom import area
from elumbra.core.glass import Face
from elumbra.core.shrink.net import FOLDS, Anchor, Array, Net, ShrinkError, laid_out

_SEGMENT_MM = 30.0
_ON_GLASS_MM = 1.0
_NODES, _PLACES = 17, 32
_HAIR = 1e-9


@dataclass(frozen=True)
class Glass:
    """A pane, or a part of it that gets a piece of its own, on the face that film lies on."""

    face: Face
    ring: Array  # (n, 2) of the face's chart, counter-clockwise, its end left out [mm]


@dataclass(frozen=True)
class Required:
    """What one piece of film needs to lie on its glass."""

    largest: float  # the most that it must shrink anywhere, a share; 0 where it must not
    where: tuple[float, float]  # there, in film coordinates [mm]
    stretch: float  # the most that it would have to stretch anywhere, a share: there it stands off
    work: float  # ∫∫ max(0, 1 − J) du dv: film that must go [mm²]
    glass_area: float  # ∫∫ J du dv over the piece, which is the pane's own area [mm²]
    ring: Array  # the pane's outline on the flat film, (n, 2) [mm]
    shrink: Array  # 1 − J along it, (n,)

    @property
    def film_area(self) -> float:
        """Of the flat piece that just covers the pane [mm²]."""
        return abs(area(self.ring))


@dataclass(frozen=True)
class Field:
    """1 − J over a grid of the film, the pane and the film round it."""

    u: Array  # (n,)
    v: Array  # (m,)
    shrink: Array  # (m, n)
    inside: NDArray[np.bool_]  # (m, n), on the pane


def required(glass: Glass, anchor: Anchor) -> Required:
    """What a piece needs that is anchored there.

    Raises
    ------
    ShrinkError
        No flat film lies there; or the anchor is off the glass.
    """
    if Polygon(glass.ring).distance(Point(anchor.at)) > _ON_GLASS_MM:
        raise ShrinkError(
            "The cross line starts off the glass: film is pressed on at a line across the pane. Move it onto the pane."
        )
    found = required_of_each(glass, [anchor], segment=_SEGMENT_MM)[0]
    if found is None:
        raise ShrinkError(FOLDS)
    return found


def required_of_each(
    glass: Glass, anchors: Sequence[Anchor], *, segment: float, rough: bool = False
) -> list[Required | None]:
    """What pieces need by where they are anchored; None where no flat film lies.

    The largest is sought along the outline, points at most ``segment`` mm apart: where glass bends one
    way, what must go grows all the way to the edge. ``rough`` is enough to find the better of two anchors.
    """
    ring = densified(glass.ring, segment)
    films, here, good = laid_out(glass.face, anchors, ring, rough=rough)
    found: list[Required | None] = []
    for film, j, spare, j_sum, sound in zip(films, here.j, here.spare, here.j_sum, good, strict=True):
        found.append(_of_ring(film, j, spare, j_sum) if sound else None)
    return found


def _of_ring(film: Array, j: Array, spare: Array, j_sum: Array) -> Required:
    worst = int(np.argmax(1 - j))
    return Required(
        largest=max(float(1 - j[worst]), 0.0),
        where=(float(film[worst, 0]), float(film[worst, 1])),
        stretch=max(float(np.max(j) - 1), 0.0),
        work=abs(_round(film[:, 0], spare)),
        glass_area=abs(_round(film[:, 0], j_sum)),
        ring=film,
        shrink=1 - j,
    )


def _round(u: Array, sums: Array) -> float:
    """∫∫ over what the outline encloses, from the sums along v at the outline: −∮ sum du (Green)."""
    return float(np.sum((sums + np.roll(sums, -1)) / 2 * (np.roll(u, -1) - u)))


def field_of(glass: Glass, anchor: Anchor, piece: Required, *, columns: int = 60, rows: int = 40) -> Field:
    """The map of what must go, over a grid of the flat piece."""
    low, high = piece.ring.min(axis=0), piece.ring.max(axis=0)
    u, v = np.linspace(low[0], high[0], columns), np.linspace(low[1], high[1], rows)
    over_u, over_v = np.meshgrid(u, v)
    shrink = 1 - Net(glass.face, anchor).marched(u, v)
    inside = contains_xy(Polygon(piece.ring), over_u.ravel(), over_v.ravel()).reshape(rows, columns)
    return Field(u, v, shrink, inside)


def with_inside(piece: Required, field: Field) -> Required:
    """The same, with what glass that bends both ways may need inside its outline."""
    inside = np.where(field.inside, field.shrink, np.nan)
    if np.all(np.isnan(inside)):
        return piece
    most = float(np.nanmax(inside))
    stretch = max(piece.stretch, -float(np.nanmin(inside)))
    if most <= piece.largest + _HAIR:
        return replace(piece, stretch=stretch)
    row, column = np.unravel_index(int(np.nanargmax(inside)), inside.shape)
    where = (float(field.u[column]), float(field.v[row]))
    return replace(piece, largest=most, where=where, stretch=stretch)


def changes_with(glass: Glass, anchor: Anchor, piece: Required, others: Sequence[Face]) -> list[float]:
    """By how much the largest shrink changes if the glass is another face, one change for each.

    Notes
    -----
    To first order, along the lines to places all round: δ(1 − J) = ∫ (v − s) δK(s) J(s) ds.
    """
    every = max(len(piece.ring) // _PLACES, 1)
    ends = np.vstack([piece.ring[::every], piece.where])
    share = np.linspace(0.0, 1.0, _NODES)
    u = np.repeat(ends[:, 0], _NODES)
    along = np.outer(ends[:, 1], share)
    here = Net(glass.face, anchor).at(u, along.ravel())
    own = glass.face.bending(here.x, here.y, here.dx, here.dy).gauss
    weights = (ends[:, 1:] - along) * here.j.reshape(along.shape)
    shrink = np.append(piece.shrink[::every], piece.largest)
    between = np.diff(along, axis=1)
    found = []
    for other in others:
        off = (other.bending(here.x, here.y, here.dx, here.dy).gauss - own).reshape(along.shape) * weights
        more = ((off[:, 1:] + off[:, :-1]) / 2 * between).sum(axis=1)
        found.append(float(np.max(np.maximum(shrink + more, 0.0))) - piece.largest)
    return found


def densified(ring: Array, segment: float) -> Array:
    """A closed ring with further points, so that no stretch is longer than ``segment`` [mm].

    Examples
    --------
    >>> densified(np.array([[0.0, 0.0], [10.0, 0.0], [0.0, 4.0]]), 5.0).shape
    (6, 2)
    """
    ends = np.roll(ring, -1, axis=0)
    parts = np.maximum(np.ceil(np.hypot(*(ends - ring).T) / segment).astype(int), 1)
    return np.vstack(
        [
            start + (end - start) * np.linspace(0.0, 1.0, n, endpoint=False)[:, None]
            for start, end, n in zip(ring, ends, parts, strict=True)
        ]
    )
