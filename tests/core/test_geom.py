from math import pi

import numpy as np
import pytest

from elumbra.core.errors import ReadingError
from elumbra.core.geom import arc_through, area, is_simple, mirrored, rounded
from tests.catalogue.panes import QUADS


@pytest.mark.parametrize("name", QUADS)
def test_mirror_keeps_area_and_comes_back(name: str) -> None:
    ring = QUADS[name]
    turned = mirrored(ring)
    assert area(turned) == pytest.approx(area(ring))
    assert area(turned) > 0
    assert sorted(map(tuple, mirrored(turned).round(9))) == sorted(map(tuple, ring.round(9)))


def test_bow_has_the_area_of_its_circle_segment() -> None:
    chord, bow = 1000.0, 40.0
    points = arc_through(np.array([0.0, 0.0]), np.array([chord, 0.0]), bow=bow, points=400)
    assert points[:, 1].min() == pytest.approx(-bow, abs=1e-6), "outward is right of the way, below the foot"
    radius = chord**2 / (8 * bow) + bow / 2
    angle = 2 * np.arcsin(chord / 2 / radius)
    segment = radius**2 / 2 * (angle - np.sin(angle))
    ring = np.vstack([points, [[chord, 0.0]]])
    assert area(ring) == pytest.approx(segment, rel=1e-4)


def test_straight_edge_is_one_point() -> None:
    assert arc_through(np.zeros(2), np.array([5.0, 0.0]), bow=0.0).tolist() == [[0.0, 0.0]]


@pytest.mark.parametrize("radius", [5.0, 40.0, 150.0])
def test_rounding_a_square_corner_takes_what_a_circle_leaves(radius: float) -> None:
    ring = QUADS["rectangle"]
    cut = rounded(ring, ring, [radius, 0, 0, 0])
    assert area(ring) - area(cut) == pytest.approx(radius**2 * (1 - pi / 4), rel=0.02)


def test_rounding_leaves_other_corners_alone() -> None:
    ring = QUADS["front door"]
    cut = rounded(ring, ring, [0, 0, 60, 0])
    for kept in (ring[0], ring[1], ring[3]):
        assert np.min(np.hypot(*(cut - kept).T)) < 0.01
    assert np.min(np.hypot(*(cut - ring[2]).T)) > 5


def test_radius_larger_than_the_pane_is_refused() -> None:
    ring = QUADS["narrow slider"]
    with pytest.raises(ReadingError, match="larger than the pane allows"):
        rounded(ring, ring, [400, 0, 0, 0])


def test_crossing_ring_is_not_simple() -> None:
    assert is_simple(QUADS["rectangle"])
    assert not is_simple(QUADS["rectangle"][[0, 2, 1, 3]])
