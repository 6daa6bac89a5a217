"""Copies of the shop, their rehearsal and return, the whole shop as a file, and how large it grows."""
