"""Tape readings and the panes that they draw."""

from elumbra.core.measure.checks import check_readings, not_a_reading
from elumbra.core.measure.crowns import Crown, Crowns, crowns_of
from elumbra.core.measure.drawing import LineKind, ReadingLine, Serves, reading_lines, serves, sketch
from elumbra.core.measure.faces import GlassFace, Lie, Tells, glass_face
from elumbra.core.measure.figures import Figure, label, plan_of, short_label
from elumbra.core.measure.fit import Closing, ClosingChange, Problem, Solved, problem_of, solve
from elumbra.core.measure.mirror import leans, mirrored_readings, other_way_round, read_mirrored
from elumbra.core.measure.pane import CornerFit, MeasuredPane, measure_pane, unreadable_pane
from elumbra.core.measure.readings import (
    CROWN_KEYS,
    FIT_KEYS,
    QUARTER_KEYS,
    STRIP_KEYS,
    FrozenReadings,
    Level,
    Measures,
    Reading,
    Readings,
    TapeMode,
    asked_keys,
    corner_names,
    edges,
    known_keys,
    missing_keys,
    refining_keys,
)
from elumbra.core.measure.slips import Suspicion, describe_change, describe_swap

__all__ = [
    "CROWN_KEYS",
    "FIT_KEYS",
    "QUARTER_KEYS",
    "STRIP_KEYS",
    "Closing",
    "ClosingChange",
    "CornerFit",
    "Crown",
    "Crowns",
    "Figure",
    "FrozenReadings",
    "GlassFace",
    "Level",
    "Lie",
    "LineKind",
    "MeasuredPane",
    "Measures",
    "Problem",
    "Reading",
    "ReadingLine",
    "Readings",
    "Serves",
    "Solved",
    "Suspicion",
    "TapeMode",
    "Tells",
    "asked_keys",
    "check_readings",
    "corner_names",
    "crowns_of",
    "describe_change",
    "describe_swap",
    "edges",
    "glass_face",
    "known_keys",
    "label",
    "leans",
    "measure_pane",
    "mirrored_readings",
    "missing_keys",
    "not_a_reading",
    "other_way_round",
    "plan_of",
    "problem_of",
    "read_mirrored",
    "reading_lines",
    "refining_keys",
    "serves",
    "short_label",
    "sketch",
    "solve",
    "unreadable_pane",
]
