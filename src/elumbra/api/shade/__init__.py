"""Films on windows and what the law says of them."""
