"""Mark a clip: place, move and delete events, and step back or forward through what was done."""

from __future__ import annotations

import sqlite3

from norvik.core.errors import MarkError
from norvik.core.strokes import STROKES
from norvik.core.strokes.names import Lane, Side, is_lane, is_side
from norvik.core.time.expect import expected_arm, expected_breath, expected_wall
from norvik.store import marks
from norvik.store.clips import Clip
from norvik.store.marks import Change, StoredMark
from norvik.workflow.clip_timing import ClipTiming, time_clip
from norvik.workflow.hidden_marks import hidden_marks
from norvik.workflow.side_by_side.twin_marks import in_both

#: The event of a mark that asks for whatever comes next in its lane.
NEXT = "next"
LONGEST_POOL_M = 100.0


def mark(
    connection: sqlite3.Connection, user_id: int, clip: Clip, frame: int, lane: str, side: str,
    event: str, metres: float | None = None,
) -> StoredMark:  # fmt: skip
    """Place an event on a frame. event: NEXT for the one that is expected there.

    metres: of a pass, from the start of the length. Raises FrameError outside of the clip, and
    MarkError for an event, side or distance that the stroke or the pool does not have.
    """
    clip.require(frame)
    if not is_lane(lane) or not is_side(side):
        raise MarkError(f"“{event}” can't be marked here. Reload the page.")
    if event == NEXT:
        event = _expected(time_clip(connection, clip), lane, side, frame)
        side = "" if event == "down" else side
    stroke = STROKES[clip.stroke]
    if side not in stroke.sides_of(lane) or event not in stroke.events_of(lane):
        raise MarkError(f"“{event}” can't be marked here. Reload the page.")
    note = _note_of_pass(clip, metres) if lane == "course" else ""
    with in_both(connection, clip):
        return marks.place(connection, clip.id, user_id, frame, lane, side, event, note)


def move_mark(
    connection: sqlite3.Connection, user_id: int, clip: Clip, mark_id: int, frame: int
) -> StoredMark:
    """Move a mark to another frame of its clip."""
    clip.require(frame)
    with in_both(connection, clip):
        return marks.move(connection, clip.id, user_id, mark_id, frame)


def delete_mark(
    connection: sqlite3.Connection, user_id: int, clip: Clip, mark_id: int
) -> StoredMark:
    """Delete one mark; gives how it was."""
    with in_both(connection, clip):
        return marks.delete(connection, clip.id, user_id, mark_id)


def step_back(connection: sqlite3.Connection, user_id: int, clip: Clip) -> Change | None:
    """Undo this person's last change of the clip's marks; None without one."""
    with in_both(connection, clip):
        return marks.undo(connection, clip.id, user_id)


def step_on(connection: sqlite3.Connection, user_id: int, clip: Clip) -> Change | None:
    """Redo this person's last undone change; None without one."""
    with in_both(connection, clip):
        return marks.redo(connection, clip.id, user_id)


def delete_cycle(
    connection: sqlite3.Connection, user_id: int, clip: Clip, mark_id: int
) -> tuple[int, int]:
    """Delete the whole cycle that a mark of an arm opens or lies in, as one step.

    Gives how many marks went, and the first frame of them. Raises MarkError outside of a cycle.
    """
    slot = time_clip(connection, clip).timing.resolved.slot_of(mark_id)
    if slot is None:
        raise MarkError("This mark belongs to no arm cycle. Delete it by itself.")
    inside = [p.mark for p in (slot.start, *slot.inner.values(), *slot.loose) if p is not None]
    ids = [m.key for m in inside if m.key is not None]
    with in_both(connection, clip):
        count = marks.delete_many(connection, clip.id, user_id, ids)
    return count, min(m.frame for m in inside if m.frame is not None)


def delete_hidden(connection: sqlite3.Connection, user_id: int, clip: Clip) -> int:
    """Delete the marks that belong to another stroke than the clip's; gives how many went."""
    ids = [m.id for m in hidden_marks(time_clip(connection, clip))]
    if not ids:
        return 0
    with in_both(connection, clip):
        return marks.delete_many(connection, clip.id, user_id, ids)


def _expected(timed: ClipTiming, lane: Lane, side: Side, frame: int) -> str:
    at_s = timed.time_base.time_of(frame)
    if lane == "breath":
        return expected_breath(timed.events, at_s)
    if lane == "wall":
        return expected_wall(timed.events, at_s)
    return expected_arm(timed.events, timed.timing.resolved.stroke, side, at_s)


def _note_of_pass(clip: Clip, metres: float | None) -> str:
    """How a pass is noted: how far from the start of the length it is."""
    most = clip.facts.pool_m or LONGEST_POOL_M
    if metres is None or not 0 <= metres <= most:
        raise MarkError(f"A pass needs its distance from the wall, 0 to {most:g} m.")
    return f"{metres:g} m"
