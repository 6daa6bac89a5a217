"""Layouts being worked out, Quick cut, and the papers made from them."""
