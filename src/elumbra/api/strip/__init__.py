"""Strip-off: how old film comes off, what it risks, what was signed."""
