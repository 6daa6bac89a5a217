"""The job: one car from readings to shade, law and cut plan."""

from elumbra.core.work.choose import (
    Tried,
    darkest_that_clears,
    least_sheet_for,
    nearest_match,
    rear_vlt,
    shades_by_film,
)
from elumbra.core.work.cutting import ToCut, cannot_cut, goes_on, lay_out_strip, windows_to_cut
from elumbra.core.work.job import (
    Feature,
    Job,
    Vehicle,
    Window,
    measure_window,
    measure_windows,
    resolve_same_glass,
)
from elumbra.core.work.propose import TITLES, Proposal, ProposalKind, ProposedWindow, propose
from elumbra.core.work.reasons import (
    KIND_WORDS,
    Reason,
    ReasonKind,
    check_reason,
    has_expired,
    reason_words,
)
from elumbra.core.work.shade import (
    ShadedCar,
    WindowShade,
    car_facts,
    glass_under,
    pane_facts,
    shade_car,
    shade_job,
)

__all__ = [
    "KIND_WORDS",
    "TITLES",
    "Feature",
    "Job",
    "Proposal",
    "ProposalKind",
    "ProposedWindow",
    "Reason",
    "ReasonKind",
    "ShadedCar",
    "ToCut",
    "Tried",
    "Vehicle",
    "Window",
    "WindowShade",
    "cannot_cut",
    "car_facts",
    "check_reason",
    "darkest_that_clears",
    "glass_under",
    "goes_on",
    "has_expired",
    "lay_out_strip",
    "least_sheet_for",
    "measure_window",
    "measure_windows",
    "nearest_match",
    "pane_facts",
    "propose",
    "rear_vlt",
    "reason_words",
    "resolve_same_glass",
    "shade_car",
    "shade_job",
    "shades_by_film",
    "windows_to_cut",
]
