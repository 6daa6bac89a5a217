"""Customers and their cars: found, merged, exported and erased by request; one search over everything."""
