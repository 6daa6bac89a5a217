"""Whole jobs as files, out and in."""
