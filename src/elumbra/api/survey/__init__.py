"""The windows of a car: what they are, and their readings."""
