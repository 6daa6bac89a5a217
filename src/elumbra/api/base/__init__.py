"""What all features are made of: bodies, refusals, roles. Knows no web framework."""
