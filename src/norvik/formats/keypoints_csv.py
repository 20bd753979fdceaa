"""Followed points as keypoints, the table of general libraries of animal and human movement.

They read and write it as one of DeepLabCut's: three header rows (scorer, bodyparts, coords), then
a row a frame: its number, and x, y, likelihood of each point. A point that is lost has no number,
or likelihood 0. Frames count from the beginning of the clip.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Mapping, Sequence

from norvik.core.errors import TracksFileError
from norvik.formats.cells import as_meant, plain_text
from norvik.formats.named_rows import refuse
from norvik.formats.tables import (
    TableEncodingError,
    number_in,
    records,
    separator_of,
    text_of,
    text_or,
)
from norvik.formats.tracks_csv import MOST_ROWS, Row, read_tracks

_HEADER = ("scorer", "bodyparts", "coords")
_COORDS = ["x", "y", "likelihood"]
#: Whole words that say a side, as data sets of joints write them.
_SIDES = {"left": "left", "l": "left", "right": "right", "r": "right"}
#: One part of the body has many names.
_PARTS = {"toe": "toes", "bigtoe": "toes", "big toe": "toes", "foot index": "toes"}
_SIDED = ("wrist", "elbow", "shoulder", "hip", "knee", "ankle", "toes", "ear", "fingertips")
_MOST_LETTERS = 40


def write_keypoints(
    first: int, last: int, points: Mapping[str, Mapping[int, tuple[float, float, float]]]
) -> str:
    """points: name to frame to x, y and confidence. Every frame from first to last has a row."""
    names = list(points)
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow(["scorer", *(["norvik"] * 3 * len(names))])
    writer.writerow(["bodyparts", *(n for name in names for n in [_written(name)] * 3)])
    writer.writerow(["coords", *(_COORDS * len(names))])
    for frame in range(first, last + 1):
        cells: list[str] = []
        for name in names:
            at = points[name].get(frame)
            cells += (
                ["", "", "0"] if at is None else [f"{at[0]:.2f}", f"{at[1]:.2f}", f"{at[2]:.3f}"]
            )
        writer.writerow([frame - first, *cells])
    return text.getvalue()


def read_points(data: bytes, first: int) -> list[Row]:
    """Rows of a tracks.csv or of a table of keypoints, whichever it is. TracksFileError as below.

    first: the frame of the recording at which the clip begins.
    """
    return read_keypoints(data, first) if _is_keypoints(data) else read_tracks(data)


def read_keypoints(data: bytes, first: int) -> list[Row]:
    """A row a point and frame. Raises TracksFileError naming the lines that are wrong, at once."""
    text = text_or(TracksFileError, data)
    separator, text = separator_of(text, _HEADER)
    rows = records(text, separator)
    names = _names([cells for _, (_, cells, _) in zip(range(3), rows, strict=False)])
    found: list[Row] = []
    wrong: list[str] = []
    seen: set[int] = set()
    for number, cells, broken in rows:
        if broken is None and not any(cell.strip() for cell in cells):
            continue
        try:
            if broken is not None:
                raise ValueError(broken)
            frame = _frame(cells[0], seen)
            found += _points(first + frame, names, cells[1:])
        except ValueError as error:
            wrong.append(f"line {number}: {error}")
        if len(found) > MOST_ROWS:
            raise TracksFileError(
                f"This file has more than {MOST_ROWS:,} points. Split it; nothing was taken over."
            )
    refuse(wrong, "Nothing was imported", TracksFileError)
    if not found:
        raise TracksFileError("This file holds no point.")
    return found


def point_name(written: str) -> str:
    """What we call a joint that a data set calls `LWrist`, `left_wrist` or `wrist_l`."""
    apart = re.sub(r"(?<=[a-z])(?=[A-Z])|(?<=\bL)(?=[A-Z][a-z])|(?<=\bR)(?=[A-Z][a-z])", " ",
                   as_meant(written.strip()))  # fmt: skip
    words = re.sub(r"[\s_.-]+", " ", apart).lower().split()
    sides = [_SIDES[word] for word in words if word in _SIDES]
    rest = " ".join(word for word in words if word not in _SIDES)
    part = _PARTS.get(rest, rest)
    if len(sides) == 1 and part in _SIDED:
        return f"{sides[0]} {part}"
    return " ".join(words)


def _written(name: str) -> str:
    return plain_text(name.replace(" ", "_"))


def _is_keypoints(data: bytes) -> bool:
    try:
        text = text_of(data[:4096], old_encoding=True)
    except TableEncodingError:
        return False
    return separator_of(text, _HEADER)[1].lstrip().lower().startswith("scorer")


def _names(header: Sequence[Sequence[str]]) -> list[str]:
    """The points in their order, from the three header rows."""
    told = [row[0].strip().lower() if row else "" for row in header]
    if "individuals" in told:
        raise TracksFileError(
            "This file holds several people. Export the keypoints of one swimmer alone."
        )
    if told != list(_HEADER):
        raise TracksFileError(
            "Keypoints begin with three rows: scorer, bodyparts and coords. This file does not."
        )
    parts, coords = ([cell.strip() for cell in row[1:]] for row in header[1:])
    if not coords or [c.lower() for c in coords] != _COORDS * (len(coords) // 3):
        raise TracksFileError("Each keypoint needs the columns x, y and likelihood, in this order.")
    triples = [parts[n : n + 3] for n in range(0, len(coords), 3)]
    names = [point_name(triple[0]) if len(set(triple)) == 1 else "" for triple in triples]
    for name in names:
        if not name or len(name) > _MOST_LETTERS:
            raise TracksFileError(
                f"Each keypoint needs one name of at most {_MOST_LETTERS} letters over its three "
                "columns."
            )
    twice = sorted({name for name in names if names.count(name) > 1})
    if twice:
        raise TracksFileError(f"The keypoint {twice[0]} is in this file twice.")
    return names


def _frame(cell: str, seen: set[int]) -> int:
    number = number_in(cell, "the frame")
    if number is None or number < 0 or number != int(number):
        raise ValueError("the frame must be a whole number, 0 or more")
    if int(number) in seen:
        raise ValueError(f"frame {int(number)} appears twice")
    seen.add(int(number))
    return int(number)


def _points(frame: int, names: Sequence[str], cells: Sequence[str]) -> list[Row]:
    if len(cells) != 3 * len(names):
        raise ValueError(f"{1 + 3 * len(names)} cells are needed, not {1 + len(cells)}")
    found = []
    for n, name in enumerate(names):
        x, y, sure = (
            _place(cell, of) for cell, of in zip(cells[3 * n : 3 * n + 3], _COORDS, strict=True)
        )
        if (x is None) != (y is None):
            raise ValueError(f"one of x and y of {name} is missing")
        sure = 1.0 if sure is None else sure
        if not 0 <= sure <= 1:
            raise ValueError(f"the likelihood of {name} lies between 0 and 1")
        if x is None or sure == 0:
            found.append(Row(frame, None, name, None, None, "lost", 0.0))
        else:
            found.append(Row(frame, None, name, x, y, "followed", sure))
    return found


def _place(cell: str, of: str) -> float | None:
    """Some programs write nan where nothing was seen."""
    return None if cell.strip().lower() == "nan" else number_in(cell, of)
