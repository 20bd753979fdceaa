"""The coach's own drills, hidden ones and cues as one JSON file, out and in."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import asdict, replace

import msgspec

from norvik.core.errors import CatalogueError
from norvik.core.judging.coaching_model import Drill

#: Grows when a field changes its meaning.
VERSION = 1


class DrillsFile(msgspec.Struct):
    """norvik_drills: version. cues: fault id to cue."""

    norvik_drills: int
    drills: list[Drill]
    hidden: list[str]
    cues: dict[str, str]


def write_drills(drills: Iterable[Drill], hidden: Iterable[str], cues: Mapping[str, str]) -> str:
    """The file as text, indented for people to read."""
    plain = []
    for drill in drills:
        said = asdict(drill)
        del said["own"]
        plain.append(said)
    made = {"norvik_drills": VERSION, "drills": plain, "hidden": sorted(hidden),
            "cues": dict(sorted(cues.items()))}  # fmt: skip
    return json.dumps(made, indent=2, ensure_ascii=False) + "\n"


def read_drills(data: bytes) -> DrillsFile:
    """Raises CatalogueError for what is no such file, naming the first thing that is wrong."""
    try:
        file = msgspec.json.decode(data, type=DrillsFile)
    except (msgspec.DecodeError, UnicodeDecodeError) as error:
        raise CatalogueError(
            f"This is no file of drills from Norvik: {error}. Choose a file that was saved there."
        ) from error
    if file.norvik_drills != VERSION:
        raise CatalogueError(
            f"This file of drills is of version {file.norvik_drills}; this Norvik reads {VERSION}."
        )
    file.drills = [replace(d, own=True) for d in file.drills]
    return file
