"""Sizes that glass of a kind hardly has are asked: a slip of the tape, of the unit, of a digit."""

from __future__ import annotations

import pytest

from elumbra.core.glass import WindowKind, rectangle_outline
from elumbra.core.measure import MeasuredPane
from elumbra.core.work import size_in_doubt
from tests.catalogue.panes import INCH, starting

START = starting()
USUAL = {  # inches, longer by shorter, as glass of the kind is met on cars, trucks and vans
    WindowKind.FRAMED_DOOR: [(34, 17), (20, 16), (42, 24)],
    WindowKind.FRAMELESS_DOOR: [(36, 18), (48, 20)],
    WindowKind.QUARTER: [(5, 4), (12, 9), (30, 12)],
    WindowKind.FIXED_SIDE: [(20, 15), (48, 22), (80, 24)],
    WindowKind.BACK_GLASS: [(50, 28), (22, 18), (62, 14)],
    WindowKind.HATCH: [(48, 22), (36, 14)],
    WindowKind.SLIDER: [(12, 12), (20, 15)],
    WindowKind.WINDSHIELD: [(56, 30), (70, 40)],
    WindowKind.SUNROOF: [(32, 18), (60, 40)],
}


def pane(width: float, height: float) -> MeasuredPane:
    return MeasuredPane(rectangle_outline(width=width, height=height), None, (), ())


@pytest.mark.parametrize("kind", list(WindowKind))
def test_usual_glass_is_not_asked_and_a_slip_of_the_unit_is(kind: WindowKind) -> None:
    for width, height in USUAL[kind]:
        for way in ((width, height), (height, width)):
            assert size_in_doubt(kind, pane(*(INCH * one for one in way)), starting=START) is None
            assert size_in_doubt(kind, pane(*way), starting=START) is not None  # inches taken for mm
            over = size_in_doubt(kind, pane(*(INCH * INCH * one for one in way)), starting=START)
            assert over is not None  # mm typed as inches


def test_a_sliver_and_a_back_glass_of_50_by_40_mm_are_asked() -> None:
    assert size_in_doubt(WindowKind.BACK_GLASS, pane(50, 40), starting=START) is not None
    assert size_in_doubt(WindowKind.BACK_GLASS, pane(1200, 100), starting=START) is not None
    assert size_in_doubt(WindowKind.BACK_GLASS, MeasuredPane(None, None, (), ()), starting=START) is None
