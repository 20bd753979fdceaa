"""Filming the model swimmer for a comparison."""

from __future__ import annotations

import sqlite3

from norvik.files.footage import MODEL_FILMS, Footage
from norvik.files.opened import footage_of
from norvik.model.wish import ModelWish
from norvik.settings import Settings
from norvik.store.jobs import Job

#: Films that are kept; the one that was not looked at for longest goes first.
KEPT = 40


def order(connection: sqlite3.Connection, settings: Settings, job: Job) -> ModelWish:
    """args: those of ModelWish."""
    return ModelWish(**job.args)


def keep(connection: sqlite3.Connection, settings: Settings, job: Job, result: None) -> None:
    forget_old(footage_of(settings))


def forget_old(footage: Footage) -> None:
    """Delete films of the model so that KEPT are left."""
    oldest_first = sorted(footage.listed(f"{MODEL_FILMS}/"), key=lambda s: s.modified)
    for old in oldest_first[:-KEPT]:
        footage.remove(old.name)
