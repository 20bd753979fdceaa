"""Talking a review through: the path, recording, mending, and the films that come of it."""
