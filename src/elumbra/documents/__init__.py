"""Documents in and out: job files, plans, cut sheets, drawings. Imports the core only."""
