"""The job: one car from readings to shade, law and cut plan."""

from elumbra.core.work.choose import darkest_that_clears, shades_by_film
from elumbra.core.work.job import (
    Job,
    ToCut,
    Vehicle,
    Window,
    WindowShade,
    cannot_cut,
    measure_window,
    measure_windows,
    resolve_same_glass,
    shade_job,
    shade_window,
    windows_to_cut,
)

__all__ = [
    "Job",
    "ToCut",
    "Vehicle",
    "Window",
    "WindowShade",
    "cannot_cut",
    "darkest_that_clears",
    "measure_window",
    "measure_windows",
    "resolve_same_glass",
    "shade_job",
    "shade_window",
    "shades_by_film",
    "windows_to_cut",
]
