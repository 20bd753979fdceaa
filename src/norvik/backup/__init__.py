"""Backups: made while Norvik runs, looked through, and brought back on an empty machine.

A backup folder holds each file once, by its checksum (`objects`), and generations: a copy of the
database with a manifest of the files that belonged to it. A generation without a manifest was
never finished, and counts for nothing.
"""
