"""Jobs, their windows, and what follows from them."""
