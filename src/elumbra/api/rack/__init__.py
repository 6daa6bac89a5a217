"""Films and the rolls, offcuts and sheets on the rack."""
