"""The ledger: film, waste, redo, readings, time and money over the weeks."""
