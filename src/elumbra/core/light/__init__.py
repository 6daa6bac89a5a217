"""Light through glass with film, how sure the figure is, and how it looks."""

from elumbra.core.light.chain import Element, bare_glass_reflectance, chain, fit_film, stack, two_panes
from elumbra.core.light.choose import least_sheet_vlt
from elumbra.core.light.heat import (
    NOT_IN_DATA,
    HeatSide,
    PaneHeat,
    break_caution,
    heat_side,
    quality_words,
    radio_advice,
    warranty_words,
)
from elumbra.core.light.look import Hour, LitPane, Seat, cabin_light, look
from elumbra.core.light.lots import InstalledReading, lot_figure
from elumbra.core.light.transmission import (
    Combined,
    Glass,
    GlassSource,
    combine,
    film_alone,
    glass_pm,
    metered_glass,
    percent,
    probability_reads_below,
    risk_below,
    shade_hex,
    sheet_figure,
)

__all__ = [
    "NOT_IN_DATA",
    "Combined",
    "Element",
    "Glass",
    "GlassSource",
    "HeatSide",
    "Hour",
    "InstalledReading",
    "LitPane",
    "PaneHeat",
    "Seat",
    "bare_glass_reflectance",
    "break_caution",
    "cabin_light",
    "chain",
    "combine",
    "film_alone",
    "fit_film",
    "glass_pm",
    "heat_side",
    "least_sheet_vlt",
    "look",
    "lot_figure",
    "metered_glass",
    "percent",
    "probability_reads_below",
    "quality_words",
    "radio_advice",
    "risk_below",
    "shade_hex",
    "sheet_figure",
    "stack",
    "two_panes",
    "warranty_words",
]
