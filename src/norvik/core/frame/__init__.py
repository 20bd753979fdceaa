"""Measuring on a frame: points that a coach clicks, what they say, and how sure it is."""
