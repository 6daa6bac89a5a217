"""Short words for the tables of findings."""

from __future__ import annotations

from types import MappingProxyType

from elumbra.core.glass import WindowKind
from elumbra.core.survey.findings import Consequence, ReadBy

FIXED = frozenset(
    {
        WindowKind.QUARTER,
        WindowKind.FIXED_SIDE,
        WindowKind.BACK_GLASS,
        WindowKind.HATCH,
        WindowKind.SLIDER,
        WindowKind.WINDSHIELD,
        WindowKind.SUNROOF,
    }
)
BACK = frozenset({WindowKind.BACK_GLASS, WindowKind.HATCH, WindowKind.SLIDER})
HATCH = frozenset({WindowKind.HATCH})
WINDSHIELD = frozenset({WindowKind.WINDSHIELD})


YES_NO = MappingProxyType({"no": "no", "yes": "yes"})


def then(
    words: str,
    read_by: ReadBy,
    section: str,
    *,
    minutes: float = 0.0,
    dollars: float = 0.0,
    tool: str = "",
    caution: str = "",
    no_film: bool = False,
) -> Consequence:
    """What an answer changes: in words, read by which station, from which section of the handbook."""
    return Consequence(
        words=words, read_by=read_by, section=section, minutes=minutes, dollars=dollars, tool=tool, caution=caution,
        no_film=no_film,
    )  # fmt: skip


def no_film(words: str) -> Consequence:
    """No film goes on."""
    return then(words, ReadBy.CUT, "3", no_film=True)
