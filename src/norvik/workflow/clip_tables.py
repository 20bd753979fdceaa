"""A clip as tables: its numbers with both plus-minus, its measures, and what all of it means."""

from __future__ import annotations

import io
import json
import sqlite3
import zipfile

from norvik import __version__
from norvik.core.time.marker import FAMILIES, Marker
from norvik.core.time.plus_minus import k95
from norvik.core.time.quantities import QUANTITIES
from norvik.core.time.quantities.rate import rate_unit, stroke_rate
from norvik.formats.table_rows import Cell, write_rows
from norvik.formats.timing_json import timing_object
from norvik.formats.tracks_csv import Row as TrackRow
from norvik.formats.tracks_csv import write_tracks
from norvik.store.clips import Clip
from norvik.workflow.clip_drawings import drawings_of
from norvik.workflow.clip_files import chapters_file, events_file
from norvik.workflow.clip_timing import ClipTiming
from norvik.workflow.clip_tracks import tracks_of
from norvik.workflow.marker import marker_of

NUMBERS = (
    "quantity", "name", "unit", "value", "n", "u_clip", "clip_95", "u_swimmer", "dof", "k95",
    "swimmer_95",
)  # fmt: skip
MEASURES = (
    "measure", "name", "side", "frame", "time_s", "value", "unit", "u", "verdict", "points_px",
)  # fmt: skip


def numbers_file(timed: ClipTiming) -> str:
    """numbers.csv: every quantity that the marks tell."""
    timing, rows = timed.timing, list[list[Cell]]()
    rate = stroke_rate(timing)
    named = [("rate", "Stroke rate", rate_unit(timing), False, rate)] if rate else []
    named += [
        (q.id, q.name, q.unit, q.counted, reading)
        for q in QUANTITIES.values()
        if timing.stroke in q.strokes and (reading := q.read(timing)) is not None
    ]
    for id_, name, unit, counted, reading in named:
        row: list[Cell] = [id_, name, unit, reading.value, len(reading.occurrences)]
        u = None if counted or reading.u is None else reading.u
        row += [u, None if u is None else 2 * u]
        own = None if counted else reading.own
        row += [own.u, own.dof, k95(own), k95(own) * own.u] if own else [None] * 4
        rows.append(row)
    return write_rows(NUMBERS, rows)


def numbers_json(timed: ClipTiming) -> str:
    """The object of `norvik timing --json` of a stored clip."""
    return json.dumps(timing_object(timed.timing), indent=1, allow_nan=False)


def measures_file(connection: sqlite3.Connection, timed: ClipTiming) -> str:
    """measures.csv: every taking of every measure on the frame, and what was chosen."""
    rows: list[list[Cell]] = []
    at = timed.time_base.time_of
    drawn = drawings_of(connection, timed)
    for row in drawn.rows:
        for t in row.taken:
            points = " ".join(f"{p.x:.2f};{p.y:.2f}" for p in t.stored.points)
            value, u = (t.value.value, t.value.u) if t.value else (None, None)
            m, d = row.measure, t.stored
            rows.append(
                [m.id, m.name, d.side, d.frame, at(d.frame), value, m.unit, u, t.verdict, points]
            )
    for choice in drawn.choices:
        rows += [
            [choice.choice.id, choice.choice.name, d.side, d.frame, at(d.frame), o.name, "", None,
             o.verdict, ""]
            for d, o in choice.taken
        ]  # fmt: skip
    return write_rows(MEASURES, rows)


def tracks_file(connection: sqlite3.Connection, timed: ClipTiming) -> str:
    """tracks.csv; only its header where nothing is followed."""
    return write_tracks(
        TrackRow(p.frame, timed.time_base.time_of(p.frame), t.stored.name, p.x, p.y, p.state,
                 p.confidence)
        for t in tracks_of(connection, timed).tracks
        for p in t.points
    )  # fmt: skip


def about(connection: sqlite3.Connection, timed: ClipTiming) -> dict[str, str]:
    """What has to be known to read a clip's tables, by name; written beside them."""
    clip, timing = timed.clip, timed.timing
    interval = timing.frame_interval_s
    factors = ", ".join(f"{s.factor:g} from frame {s.from_frame}"
                        for s in timed.time_base.stretches)  # fmt: skip
    return {
        "program": f"Norvik {__version__}",
        "swimmer": clip.swimmer_name or "",
        "filmed on": clip.filmed_on,
        "stroke": clip.stroke,
        "view": clip.view,
        "film": clip.recording.original_name,
        "frames a second, in real time": "" if not interval else f"{1 / interval:.6g}",
        "slow-motion factor": factors,
        "relative standard uncertainty of it": f"{timing.marking.scale_u:.3g}",
        "pool, metres": "" if timing.pool_m is None else f"{timing.pool_m:g}",
        "times": "real seconds from the first frame of the recording",
        "u_clip, u": "standard uncertainty of this clip: frames and marker; clip_95 is twice it",
        "u_swimmer": "standard uncertainty of the swimmer's own value, from how cycles differ",
        "coverage": "value plus-minus k95 times u_swimmer covers 95 of 100, Student's t with dof",
        "marking error": _errors(marker_of(connection, clip.id)),
        "pixels": "of the source, upright; x to the right, y down",
        "doubts about the time base": " ".join(timed.doubts),
    }


def _errors(marker: Marker) -> str:
    return "; ".join(
        f"{FAMILIES[f][0]}: {e.spread_ms:g} ms or {e.spread_frames:g} frames from mark to mark, "
        f"{e.habit_ms:g} ms or {e.habit_frames:g} frames alike"
        for f, e in marker.errors.items()
        if f in FAMILIES
    )


def about_text(connection: sqlite3.Connection, timed: ClipTiming) -> str:
    """The same as a text to read."""
    return "".join(f"{name}: {value}\n" for name, value in about(connection, timed).items())


def name_of(clip: Clip) -> str:
    """What a clip's files are called."""
    return f"{clip.swimmer_name or 'clip'} {clip.filmed_on} {clip.id}"


def clip_zip(connection: sqlite3.Connection, timed: ClipTiming) -> bytes:
    """Every table of a clip, with what they mean."""
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, text in files_of(connection, timed).items():
            archive.writestr(name, text)
    return made.getvalue()


def files_of(connection: sqlite3.Connection, timed: ClipTiming) -> dict[str, str]:
    """By name."""
    return {
        "about.txt": about_text(connection, timed),
        "about.json": json.dumps(about(connection, timed), ensure_ascii=False, indent=1),
        "events.csv": events_file(timed),
        "chapters.vtt": chapters_file(timed),
        "numbers.csv": numbers_file(timed),
        "numbers.json": numbers_json(timed),
        "measures.csv": measures_file(connection, timed),
        "tracks.csv": tracks_file(connection, timed),
    }
