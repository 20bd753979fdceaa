"""A talk over films: what was seen while the coach spoke, as a score beside the sound."""
