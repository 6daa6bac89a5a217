"""What a removal hangs on: the film, the glass, the day and what is at hand."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from elumbra.core.glass import GlassType, WindowKind


class Way(StrEnum):
    """How old film comes off (handbook, section 13)."""

    HEAT = "heat"
    STEAM = "steam"
    BAG = "bag"
    SOAK = "soak"


class GlueWay(StrEnum):
    """How glue that stays comes off."""

    RAZOR = "razor"
    DEGREASER = "degreaser"
    PAD = "pad"


class Tool(StrEnum):
    """What a shop may have at hand."""

    GUN = "gun"
    STEAMER = "steamer"
    BAG = "bag"
    DEGREASER = "degreaser"
    RAZOR = "razor"
    PAD = "pad"


class OldLook(StrEnum):
    """How old film looks."""

    SOUND = "sound"
    PURPLE = "purple"
    BUBBLED = "bubbled"
    BRITTLE = "brittle"


ALL_TOOLS = frozenset(Tool)


@dataclass(frozen=True, kw_only=True)
class Case:
    """One window with old film; None where nobody said."""

    kind: WindowKind
    glass: GlassType
    years: int | None = None
    two_layers: bool = False
    looks: frozenset[OldLook] = frozenset()
    lines: bool | None = None  # defroster or printed antenna
    chipped: bool = False
    celsius: float | None = None
    sun: bool = False
    night: bool = False  # the car may stay overnight
    tools: frozenset[Tool] = ALL_TOOLS

    @property
    def group(self) -> str:
        """Which customary minutes hold."""
        if self.kind in (WindowKind.FRAMED_DOOR, WindowKind.FRAMELESS_DOOR):
            return "door"
        back = (WindowKind.BACK_GLASS, WindowKind.HATCH, WindowKind.WINDSHIELD, WindowKind.SLIDER)
        return "back" if self.kind in back else "other"
