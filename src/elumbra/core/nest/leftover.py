"""The largest rectangle that patterns leave on a strip."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from shapely import Polygon, box, contains_xy

from elumbra.core.geom.polygon import Points

_CELL = 6.0  # mm: found to this, then grown no further


def largest_rectangle(
    rings: Sequence[Points], *, length: float, width: float, gap: float
) -> tuple[float, float, float, float]:
    """The largest free rectangle found on a grid: x, y, along, across [mm]; zeros where there is none.

    Parameters
    ----------
    rings
        What is cut, each shape ``(n, 2)``.
    length, width
        Of the strip [mm].
    gap
        Kept free round every piece [mm].

    Examples
    --------
    The grid's cells are about 6 mm, so that much may be given away.

    >>> square = np.array([[0.0, 0.0], [600.0, 0.0], [600.0, 600.0], [0.0, 600.0]])
    >>> [round(mm) for mm in largest_rectangle([square], length=600.0, width=1000.0, gap=0.0)]
    [0, 605, 600, 395]
    """
    columns, rows = max(1, int(np.ceil(length / _CELL))), max(1, int(np.ceil(width / _CELL)))
    step_x, step_y = length / columns, width / rows
    xs, ys = (np.arange(columns) + 0.5) * step_x, (np.arange(rows) + 0.5) * step_y
    free = np.ones((columns, rows), dtype=bool)
    reach = gap + np.hypot(step_x, step_y) / 2
    for ring in rings:
        around = Polygon(ring).buffer(reach - _HAIR, join_style="mitre")
        low_x, low_y, high_x, high_y = around.bounds
        i = slice(*np.searchsorted(xs, [low_x, high_x]))
        j = slice(*np.searchsorted(ys, [low_y, high_y]))
        grid_x, grid_y = np.meshgrid(xs[i], ys[j], indexing="ij")
        free[i, j] &= ~contains_xy(around, grid_x, grid_y)
    x, y, across_cells, along_cells = _largest(free)
    if not along_cells:
        return 0.0, 0.0, 0.0, 0.0
    found = x * step_x, y * step_y, along_cells * step_x, across_cells * step_y
    cells = box(found[0], found[1], found[0] + found[2], found[1] + found[3]).buffer(-_HAIR)
    if any(cells.intersects(Polygon(ring)) for ring in rings):
        return 0.0, 0.0, 0.0, 0.0
    return found


_HAIR = 1e-6


def _largest(free: np.ndarray) -> tuple[int, int, int, int]:
    """Largest all-true rectangle: first column, first row, rows, columns (histogram method)."""
    best, found = 0, (0, 0, 0, 0)
    heights = np.zeros(free.shape[1], dtype=int)
    for i in range(free.shape[0]):
        heights = np.where(free[i], heights + 1, 0)
        stack: list[tuple[int, int]] = []
        for j, height in enumerate([*heights.tolist(), 0]):
            start = j
            while stack and stack[-1][1] >= height:
                start, tall = stack.pop()
                if tall * (j - start) > best:
                    best, found = tall * (j - start), (i - tall + 1, start, j - start, tall)
            stack.append((start, height))
    return found
