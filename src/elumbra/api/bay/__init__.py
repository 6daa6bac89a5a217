"""The bay: runs, what happens, conditions, schools."""
