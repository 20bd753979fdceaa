"""Norvik: stroke review for swimming coaches."""

__version__ = "0.1.0"
