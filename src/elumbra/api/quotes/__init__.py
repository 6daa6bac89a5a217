"""Quotes: the price list, versions, what was accepted, and what a later wish costs."""
