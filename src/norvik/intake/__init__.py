"""Bringing clips in: receiving a file, checking it, queueing its preparation."""
