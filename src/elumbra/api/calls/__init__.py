"""Calls: what a customer sees weeks or years later, and all panes of a lot."""
