"""Panes of glass: where they sit in the vehicle, how they are made, what they look like."""

from elumbra.core.glass.pane import (
    Curve,
    GlassType,
    Outline,
    Position,
    Side,
    WindowKind,
    rectangle_outline,
)
from elumbra.core.glass.surface import Barrel, Paths, radius_from_gap

__all__ = [
    "Barrel",
    "Curve",
    "GlassType",
    "Outline",
    "Paths",
    "Position",
    "Side",
    "WindowKind",
    "radius_from_gap",
    "rectangle_outline",
]
