"""The rule book: every jurisdiction's record, the shop's own word on it, and quick look-ups."""
