"""Light through glass with film, and how sure the figure is."""

from elumbra.core.light.transmission import (
    Combined,
    Glass,
    GlassSource,
    combine,
    probability_reads_below,
    shade_hex,
)

__all__ = ["Combined", "Glass", "GlassSource", "combine", "probability_reads_below", "shade_hex"]
