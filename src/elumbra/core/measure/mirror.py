"""A pane read as its own mirror image, which always closes: how it is caught."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from elumbra.core.glass import Outline
from elumbra.core.measure.figures import Figure, plan_of
from elumbra.core.measure.readings import Reading, Readings

_TURNED_OVER = {
    "left": "right", "diagonal_rising": "diagonal_falling", "bottom_left": "bottom_right", "top_left": "top_right",
}  # fmt: skip
_OF_FACE = {
    "crown_across_left": "crown_across_right",
    "crown_across_quarter_left": "crown_across_quarter_right",
    **{f"gap_{row}_left": f"gap_{row}_right" for row in ("low", "mid", "high")},
    "rise_left": "rise_right",
    "rise_left_low": "rise_right_low",
}
_FACE_TURNED_OVER = {**_OF_FACE, **{other: one for one, other in _OF_FACE.items()}}


def mirrored_readings(readings: Readings, figure: Figure) -> dict[str, Reading]:
    """The readings of the pane turned over left for right.

    Examples
    --------
    >>> left = {"left": Reading("20", 508.0), "bow_right": Reading("1", 25.4)}
    >>> {key: one.typed for key, one in mirrored_readings(left, Figure.FOUR).items()}
    {'right': '20', 'bow_left': '1'}
    """
    return {_turned_over(key, figure): reading for key, reading in readings.items()}


def _turned_over(key: str, figure: Figure) -> str:
    if key in _FACE_TURNED_OVER:
        return _FACE_TURNED_OVER[key]
    n = figure.corners
    if n >= 5:
        return _numbered(key, n)
    for one, two in _TURNED_OVER.items():
        for start in ("", "bow_", "radius_", "more_", "less_"):
            if key == start + one or key == start + two:
                return start + (two if key == start + one else one)
    for one, two in (("bottom_left_to_", "bottom_right_to_"), ("top_left_to_", "top_right_to_")):
        if key.startswith((one, two)):
            head, tail = (two, key.removeprefix(one)) if key.startswith(one) else (one, key.removeprefix(two))
            return head + {"left": "right", "right": "left"}.get(tail, tail)
    return key


def _numbered(key: str, n: int) -> str:
    """Corners 1 and 2 change places, 3 with n, 4 with n − 1 and so on; sides keep their order round."""
    *head, kind = key.rstrip("0123456789_").split("_")
    numbers = [int(one) for one in key.split("_") if one.isdigit()]
    turned = [(2 - k) % n + 1 for k in numbers]
    start = "_".join([*head, kind])
    if kind == "corner" and turned:
        return f"{start}_{turned[0]}"
    if kind not in ("side", "diagonal") or len(turned) != 2:
        return key
    one, two = sorted(turned)
    if kind == "side" and (one, two) == (1, n):
        one, two = n, 1
    plan = plan_of({5: Figure.FIVE, 6: Figure.SIX, 7: Figure.SEVEN, 8: Figure.EIGHT}[n])
    name = f"{start}_{one}_{two}"
    known = f"{kind}_{one}_{two}"
    return name if known in plan.all else key


def leans(outline: Outline) -> float:
    """How far the pane is from its own mirror image: greatest distance between their corners [mm].

    Examples
    --------
    >>> from elumbra.core.glass import rectangle_outline
    >>> leans(rectangle_outline(width=900.0, height=450.0))
    0.0
    """
    return _apart(outline.corners, outline.mirrored().corners)


def _apart(one: np.ndarray, other: np.ndarray) -> float:
    """Greatest distance from a corner of one to the nearest of the other, laid over each other by their middles."""
    a, b = one - one.mean(axis=0), other - other.mean(axis=0)
    gaps = np.hypot(*(a[:, None, :] - b[None, :, :]).transpose(2, 0, 1))
    return float(round(max(gaps.min(axis=1).max(), gaps.min(axis=0).max()), 6))


def read_mirrored(pane: Outline, other_side: Outline, *, tell_from: float) -> bool:
    """Whether a pane is like the other side's as it is, and not like its mirror image as it should be.

    Parameters
    ----------
    pane, other_side
        Both seen from outside.
    tell_from
        How much better the wrong way round must fit [mm].
    """
    as_it_is = _apart(pane.corners, other_side.corners)
    as_mirror = _apart(pane.corners, other_side.mirrored().corners)
    return as_it_is + tell_from < as_mirror


def other_way_round(readings: Readings, figure: Figure) -> Mapping[str, Reading | None]:
    """Changes that turn a pane's readings over: what goes is None."""
    turned = mirrored_readings(readings, figure)
    gone = {key: None for key in readings if key not in turned}
    return {**gone, **turned}
