"""Panes of glass: where they sit in the vehicle, how they are made, what they look like."""

from elumbra.core.glass.face import (
    BarrelFace,
    Bending,
    Face,
    GraphFace,
    Height,
    Slopes,
    inside_face,
)
from elumbra.core.glass.fitted import Fit, Fitted, Straightedge, fit_gaps
from elumbra.core.glass.gathered import Bow, Gathered, Gathers, bow_from_gaps
from elumbra.core.glass.pane import (
    DOORS,
    Curve,
    GlassType,
    Outline,
    Position,
    Side,
    WindowKind,
    rectangle_outline,
)
from elumbra.core.glass.surface import Barrel, Paths, gap_from_radius, radius_from_gap

__all__ = [
    "DOORS",
    "Barrel",
    "BarrelFace",
    "Bending",
    "Bow",
    "Curve",
    "Face",
    "Fit",
    "Fitted",
    "Gathered",
    "Gathers",
    "GlassType",
    "GraphFace",
    "Height",
    "Outline",
    "Paths",
    "Position",
    "Side",
    "Slopes",
    "Straightedge",
    "WindowKind",
    "bow_from_gaps",
    "fit_gaps",
    "gap_from_radius",
    "inside_face",
    "radius_from_gap",
    "rectangle_outline",
]
