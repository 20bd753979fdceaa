"""A coach's own marking error as a JSON file: what `--marker FILE` reads."""

from __future__ import annotations

import msgspec

from norvik.core.errors import EventsFileError
from norvik.core.time.marker import DEFAULT_MARKER, FAMILIES, Marker, MarkError

VERSION = 1


class ErrorOfFamily(msgspec.Struct, forbid_unknown_fields=True):
    """Standard error of one mark: milliseconds and frames, of which the larger holds."""

    spread_ms: float = 0.0
    spread_frames: float = 0.0
    habit_ms: float = 0.0
    habit_frames: float = 0.0


class MarkerFile(msgspec.Struct, forbid_unknown_fields=True):
    """families: by their ids; one that is not named keeps the shipped setting."""

    version: int
    families: dict[str, ErrorOfFamily]


def read_marker(data: bytes) -> Marker:
    """Raises EventsFileError for what is no such file, naming what is wrong."""
    try:
        file = msgspec.json.decode(data, type=MarkerFile)
    except (msgspec.DecodeError, UnicodeDecodeError) as error:
        raise EventsFileError(f"This is no file of marking errors: {error}.") from error
    if file.version != VERSION:
        raise EventsFileError(
            f"This file of marking errors is of version {file.version}; "
            f"this Norvik reads {VERSION}."
        )
    unknown = sorted(set(file.families) - set(FAMILIES))
    if unknown:
        raise EventsFileError(
            f"Unknown family “{unknown[0]}” of events; known: {', '.join(FAMILIES)}."
        )
    errors = {}
    for family, given in file.families.items():
        numbers = [getattr(given, name) for name in given.__struct_fields__]
        if min(numbers) < 0:
            raise EventsFileError(f"The marking error of “{family}” must not be below 0.")
        errors[family] = MarkError(*numbers)
    return Marker({**DEFAULT_MARKER.errors, **errors})


def write_marker(marker: Marker) -> str:
    """The file as text, indented for people to read."""
    families = {
        name: ErrorOfFamily(e.spread_ms, e.spread_frames, e.habit_ms, e.habit_frames)
        for name, e in marker.errors.items()
    }
    made = msgspec.json.encode(MarkerFile(VERSION, families))
    return msgspec.json.format(made, indent=1).decode() + "\n"
