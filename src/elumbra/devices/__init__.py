"""Devices that the shop plugs in. Bytes in, readings out."""
