"""Elumbra: plans film cuts for car glass and checks them against state tint law."""

__version__ = "0.11.2"
