"""The glass shelf: panes measured once, for every car like it."""
