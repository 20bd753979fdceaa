"""The footage store that the settings name."""

from __future__ import annotations

import os
from functools import lru_cache
from pathlib import Path

from norvik.files.bucket import AT_HAND_GB, BucketFootage
from norvik.files.footage import FolderFootage, Footage
from norvik.settings import Settings


def footage_of(settings: Settings) -> Footage:
    return _opened(settings.footage, settings.files)


@lru_cache(maxsize=32)
def _opened(at: str, root: Path) -> Footage:
    if not at.startswith("s3://"):
        return FolderFootage(root)
    most_gb = float(os.environ.get("NORVIK_AT_HAND_GB", AT_HAND_GB))
    return BucketFootage(at, root, os.environ.get("NORVIK_S3", ""), most_gb * 1e9)
