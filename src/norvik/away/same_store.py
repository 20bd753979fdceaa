"""Do the house and a worker away speak of the same films?

A folder that is not mounted looks like an empty one: without this a worker would say of every clip
that its film is gone.
"""

from __future__ import annotations

import secrets
from pathlib import Path

from norvik.files.bucket import BucketFootage
from norvik.files.footage import PICTURES, Footage, scratch

_NAME = f"{PICTURES}/store.txt"


def mark(footage: Footage, folder: Path) -> str:
    """The word that stands in the footage store, written when there is none."""
    path = footage.at_hand(_NAME)
    if not path.is_file():
        with scratch(folder, "store") as own:
            written = own / "store.txt"
            written.write_text(secrets.token_hex(16), encoding="ascii")
            footage.put(written, _NAME)
        path = footage.at_hand(_NAME)
    return path.read_text(encoding="ascii")


def found(footage: Footage) -> str:
    """The word as this machine reads it anew; empty where there is none."""
    if isinstance(footage, BucketFootage):
        footage.forget(_NAME)
    path = footage.at_hand(_NAME)
    return path.read_text(encoding="ascii") if path.is_file() else ""
