"""Plane geometry of outlines: points are ``(n, 2)`` arrays in mm, y up, counter-clockwise."""

from elumbra.core.geom.polygon import arc_through, area, bounds, is_simple, mirrored, rounded, span_at

__all__ = ["arc_through", "area", "bounds", "is_simple", "mirrored", "rounded", "span_at"]
