"""Panes, films and stock shared by all tests. Distances are worked out here from corners, not by the code under test."""

from __future__ import annotations

import json
from collections.abc import Mapping
from pathlib import Path

import numpy as np

from elumbra.core.film import Colour, Construction, Film, LinerSide, Stock, StockKind, VltBasis
from elumbra.core.glass import Curve
from elumbra.core.measure import Figure, Level, Measures, Reading, measure_pane
from elumbra.core.measure.pane import CornerFit
from elumbra.core.starting import StartingValues, parse_starting_values

DATA = Path(__file__).resolve().parents[2] / "src" / "elumbra" / "data"
INCH = 25.4

# Corners bottom left, bottom right, top right, top left in mm, seen from outside.
QUADS: dict[str, np.ndarray] = {
    "rectangle": np.array([[0, 0], [900, 0], [900, 450], [0, 450]], float),
    "front door": np.array([[0, 0], [980, 15], [905, 445], [335, 470]], float),
    "rear door": np.array([[0, 0], [775, 0], [600, 462], [25, 470]], float),
    "back glass": np.array([[0, 0], [1330, 0], [1150, 645], [185, 640]], float),
    "narrow slider": np.array([[0, 0], [330, 4], [322, 610], [6, 606]], float),
}
LENGTHS = json.loads((Path(__file__).parent / "lengths.json").read_text(encoding="utf-8"))


def starting() -> StartingValues:
    """The shipped starting values."""
    return parse_starting_values(json.loads((DATA / "starting_values.json").read_text(encoding="utf-8")))


def _middle(corners: np.ndarray, i: int) -> np.ndarray:
    return (corners[i] + corners[(i + 1) % 4]) / 2


def true_lengths(corners: np.ndarray) -> dict[str, float]:
    """Every straight reading of a four-cornered pane [mm], by plain geometry."""
    bl, br, tr, tl = corners
    bottom, right, top, left = (_middle(corners, i) for i in range(4))
    pairs = {
        "bottom": (bl, br), "right": (br, tr), "top": (tr, tl), "left": (tl, bl),
        "diagonal_rising": (bl, tr), "diagonal_falling": (tl, br),
        "mid_width": (left, right), "mid_height": (bottom, top),
        "bottom_left_to_top": (bl, top), "bottom_left_to_right": (bl, right),
        "bottom_right_to_top": (br, top), "bottom_right_to_left": (br, left),
        "top_left_to_bottom": (tl, bottom), "top_left_to_right": (tl, right),
        "top_right_to_bottom": (tr, bottom), "top_right_to_left": (tr, left),
    }  # fmt: skip
    return {key: float(np.hypot(*(a - b))) for key, (a, b) in pairs.items()}


SIX = ("bottom", "right", "top", "left", "diagonal_rising", "diagonal_falling")


def readings(lengths: Mapping[str, float]) -> dict[str, Reading]:
    """Readings with exact millimetres, as if the tape were perfect."""
    return {key: Reading(f"{mm} mm", mm) for key, mm in lengths.items()}


def tape(lengths: Mapping[str, float], *, rng: np.random.Generator | None = None) -> dict[str, Reading]:
    """Readings as a hand takes them: to a sixteenth, with the tape's spread when a generator is given."""
    taken = {}
    for key, mm in lengths.items():
        noisy = mm + (rng.normal(0, INCH / 16) if rng is not None else 0.0)
        sixteenths = round(noisy / INCH * 16)
        whole, rest = divmod(sixteenths, 16)
        taken[key] = Reading(f"{whole} {rest}/16" if rest else str(whole), sixteenths / 16 * INCH)
    return taken


SHARES = (
    "vlt", "reflectance", "reflectance_inside", "solar_transmittance", "solar_reflectance", "shrink_limit",
    "uv_rejection",
)  # fmt: skip


def in_percent(shares: Mapping[str, object]) -> dict[str, object]:
    """Light given in fractions, as a film's sheet says it."""
    return {
        f"{name}_percent" if name in SHARES else name: round(100 * value, 10)  # type: ignore[operator]
        if name in SHARES and value is not None
        else value
        for name, value in shares.items()
    }


def fit_corners(given: Mapping[str, Reading], *, figure: Figure, starting: StartingValues) -> CornerFit | None:
    """Corners of a flat pane from its readings; None while some are missing."""
    return measure_pane(Measures(Level.SHAPE, figure, Curve.FLAT, given), starting=starting).fit


def film(vlt: float = 0.35, **over: object) -> Film:
    """A plain carbon film; light in fractions."""
    given: dict[str, object] = {
        "id": "f", "name": "Test film", "construction": Construction.CARBON, "colours": (Colour.GREY,), "vlt": vlt,
        "vlt_basis": VltBasis.ON_3MM_CLEAR, "reflectance": 0.08,
    }  # fmt: skip
    return Film(**in_percent(given | over))  # type: ignore[arg-type]


def roll(name: str, width_in: float, length_in: float = 1200, price_per_sq_in: float = 0.01) -> Stock:
    """A roll of the test film."""
    return Stock(name, "f", StockKind.ROLL, width_in * INCH, length_in * INCH, price_per_sq_in / INCH**2, label=name)


def offcut(name: str, width_in: float, length_in: float, price_per_sq_in: float = 0.01) -> Stock:
    """An offcut of the test film."""
    return Stock(
        name, "f", StockKind.OFFCUT, width_in * INCH, length_in * INCH, price_per_sq_in / INCH**2,
        liner=LinerSide.UP, label=name,
    )  # fmt: skip
