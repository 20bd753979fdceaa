"""Footage through FFmpeg's libraries: what a file is, its frame times, its review copy, stills."""
