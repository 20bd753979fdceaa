"""A clip's marks as files, and marks from a file on a clip's frames."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from norvik.core.strokes import STROKES
from norvik.formats.events_csv import BadRow, read_events, write_events
from norvik.formats.webvtt import Chapter, write_chapters
from norvik.store import marks
from norvik.store.marks import NewMark
from norvik.workflow.clip_timing import ClipTiming
from norvik.workflow.side_by_side.twin_marks import in_both


@dataclass(frozen=True, slots=True)
class Imported:
    """What came of an events file. outside: rows that lie beyond the clip's edges."""

    placed: int
    there_already: int
    outside: tuple[int, ...]
    bad_rows: tuple[BadRow, ...]


def events_file(timed: ClipTiming) -> str:
    """The clip's marks as events.csv (docs/formats.md); frames are those of the recording."""
    return write_events(timed.events)


def import_events(
    connection: sqlite3.Connection, timed: ClipTiming, user_id: int | None, data: bytes
) -> Imported:
    """Place the marks of an events file, all as one step of the history.

    Each goes on the frame nearest to its time; what the frame column says is not needed. Marks
    that stand there already stay. Raises EventsFileError when the file cannot be read at all.
    """
    found = read_events(data, STROKES[timed.clip.stroke], old_encoding=True)
    new, outside = [], []
    wrong_sides: list[BadRow] = []
    stroke = STROKES[timed.clip.stroke]
    for m in found.marks:
        frame = timed.frame_of(m.time_s)
        beyond = m.time_s < timed.from_s - _GRACE_S or m.time_s > timed.to_s + _GRACE_S
        if beyond or not timed.clip.holds(frame):
            outside.append(m.key or 0)
            continue
        # A dolphin kick and the arms of butterfly have both sides: here they have none.
        side = "" if m.lane in ("arm", "leg") and m.side == "both" else m.side
        if side not in stroke.sides_of(m.lane):
            sides = " or ".join(s or "empty" for s in stroke.sides_of(m.lane))
            reason = f"side “{side or 'empty'}” in the {m.lane} lane of {stroke.name}; use {sides}"
            wrong_sides.append(BadRow(m.key or 0, reason))
            continue
        note = f"{m.metres:g} m" if m.metres is not None else m.note
        new.append(NewMark(frame, m.lane, side, m.event, note[:_LONGEST_NOTE]))
    with in_both(connection, timed.clip):
        placed = marks.place_many(connection, timed.clip.id, user_id, new)
    bad = sorted((*found.bad_rows, *wrong_sides), key=lambda b: b.row)
    return Imported(placed, len(new) - placed, tuple(outside), tuple(bad))


_GRACE_S = 0.02
_LONGEST_NOTE = 200


def chapters_file(timed: ClipTiming) -> str:
    """WebVTT chapters on the clock of the film as it was brought: walls, and between them cycles.

    The cycles are those of the arm with the most.
    """
    base, resolved = timed.time_base, timed.timing.resolved

    def film_s(time_s: float) -> float:
        return float(base.media_s[timed.frame_of(time_s)])

    chapters = []
    for wall in timed.timing.walls:
        for from_s, to_s, text in (
            (wall.touch_s, wall.push_s, "Turn"),
            (wall.push_s, wall.breakout_s, "Under water"),
        ):
            if from_s is not None and to_s is not None:
                chapters.append(Chapter(film_s(from_s), film_s(to_s), text))
    arms = resolved.stroke.arms
    leading = max(arms, key=lambda arm: sum(c.side == arm for c in resolved.cycles))
    cycles = [c for c in resolved.cycles if c.side == leading and c.start and c.end]
    word = f"{leading.capitalize()} arm, cycle" if len(arms) > 1 else "Cycle"
    for n, c in enumerate(cycles, 1):
        assert c.start is not None
        assert c.end is not None
        text = f"{word} {n}: {c.seconds:.2f} s, {60 / c.seconds:.1f} cycles/min"
        chapters.append(Chapter(film_s(c.start.time_s), film_s(c.end.time_s), text))
    return write_chapters(chapters)
