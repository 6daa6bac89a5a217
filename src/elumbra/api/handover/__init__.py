"""Handover: what is checked, signed and given along."""
