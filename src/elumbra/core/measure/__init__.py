"""Tape readings and the panes that they draw."""

from elumbra.core.measure.fit import ClosingChange, CornerFit, describe_change, fit_corners
from elumbra.core.measure.pane import MeasuredPane, measure_pane
from elumbra.core.measure.readings import (
    STRIP_KEYS,
    Figure,
    Level,
    Reading,
    TapeMode,
    check_readings,
    corner_names,
    edges,
    extra_keys,
    known_keys,
    label,
    shape_keys,
)

__all__ = [
    "STRIP_KEYS",
    "ClosingChange",
    "CornerFit",
    "Figure",
    "Level",
    "MeasuredPane",
    "Reading",
    "TapeMode",
    "check_readings",
    "corner_names",
    "describe_change",
    "edges",
    "extra_keys",
    "fit_corners",
    "known_keys",
    "label",
    "measure_pane",
    "shape_keys",
]
