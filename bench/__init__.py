"""Benchmarks: `make bench` prints figures; nothing here passes or fails."""
