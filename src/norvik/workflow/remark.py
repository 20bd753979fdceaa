"""Remarks in the coach's own words: said, changed, worked on; doubts kept until answered."""

from __future__ import annotations

import sqlite3
from contextlib import AbstractContextManager

from norvik.core.errors import BreathHoldingError, ChoiceError, MarkError
from norvik.core.judging.coaching_model import Catalogue
from norvik.core.judging.remarks import KINDS, Remark, fault_of, read
from norvik.core.prescription.breath_holding import breath_holding
from norvik.core.strokes.names import BODY_SIDES, Side, StrokeName
from norvik.core.time.timebase import TimeBase
from norvik.store import clips, remarks
from norvik.store.clips import VIEWS, Clip
from norvik.store.remarks import StoredRemark
from norvik.store.undo import Step, undoable

LONGEST = 300
_MOST_DRILLS = 3


def say(
    connection: sqlite3.Connection, user_id: int, clip: Clip, typed: str, side: str = "",
    frame: int | None = None, drawn: bool = True, view: str = "", kind: str = "",
) -> Step:  # fmt: skip
    """Keep a remark on a frame. kind: of KINDS, or empty to go by the sign it begins with.

    Raises MarkError for one without words or too long.
    """
    by_sign, text = read(typed)
    kind = kind or by_sign
    known_side = _checked(kind, text, side)
    if frame is not None and not clip.holds(frame):
        frame = None
    with _step(connection, user_id, clip.id) as step:
        remarks.add(
            connection, clip.id, user_id, kind, text, known_side, frame, drawn,
            view if view in VIEWS else "",
        )  # fmt: skip
        step.text = f"{kind.capitalize()} saved."
    return step


def change(
    connection: sqlite3.Connection, user_id: int, clip: Clip, remark_id: int, typed: str, side: str
) -> Step:
    """Other words for a remark; without any it is deleted."""
    was = remarks.by_id(connection, clip.id, remark_id)
    text = " ".join(typed.split())
    with _step(connection, user_id, clip.id) as step:
        if not text:
            remarks.delete(connection, clip.id, remark_id)
            step.text = "Remark deleted."
        else:
            known_side = _checked(was.kind, text, side)
            remarks.change(connection, remark_id, was.kind, text, known_side)
            step.text = "Remark changed."
    return step


def work_on(
    connection: sqlite3.Connection, user_id: int, clip: Clip, remark_id: int, cue: str,
    drills: tuple[str, ...], tables: Catalogue,
) -> Step:  # fmt: skip
    """The cue and the drills of a point in own words. Raises ChoiceError, BreathHoldingError."""
    remarks.by_id(connection, clip.id, remark_id)
    cue = " ".join(cue.split())[:120]
    unknown = [d for d in drills if d not in tables.drills]
    if unknown or len(drills) > _MOST_DRILLS:
        raise ChoiceError("Choose at most three drills of the list. Reload the page.")
    asked = breath_holding((cue,))
    if asked:
        raise BreathHoldingError(
            f"“{asked.words}” may be read as holding the breath, which can kill. Change the cue."
        )
    with _step(connection, user_id, clip.id) as step:
        remarks.set_work(connection, remark_id, cue, drills)
        step.text = "Cue and drills saved."
    return step


def answer(
    connection: sqlite3.Connection, user_id: int, doubt: StoredRemark, on: Clip, said: str
) -> Step:
    """What a clip shows of a doubt; without words the doubt is open again."""
    said = " ".join(said.split())
    if len(said) > LONGEST:
        raise MarkError(f"An answer has at most {LONGEST} letters.")
    with _step(connection, user_id, doubt.clip_id) as step:
        remarks.set_answer(connection, doubt.id, said, on.id if said else None)
        step.text = "Doubt answered." if said else "Doubt open again."
    return step


def doubts_for(connection: sqlite3.Connection, clip: Clip) -> list[tuple[StoredRemark, Clip]]:
    """Open doubts that this clip may answer, each with its own clip.

    Of the same swimmer and stroke, from another clip, where this view is the one asked for or any
    will do.
    """
    if clip.swimmer_id is None:
        return []
    found = []
    for doubt in remarks.of_swimmer(connection, clip.swimmer_id, clip.stroke, "doubt"):
        if doubt.answer or doubt.clip_id == clip.id or doubt.view not in ("", clip.view):
            continue
        found.append((doubt, clips.by_id(connection, doubt.clip_id)))
    return found


def as_said(stored: StoredRemark, view: str, clip: Clip | None, base: TimeBase | None) -> Remark:
    """A stored remark with the time of its frame, where the frame is in the clip."""
    at = None
    if clip and base and stored.frame is not None and clip.holds(stored.frame):
        at = base.time_of(stored.frame)
    return Remark(
        stored.id, stored.kind, stored.text, stored.side, at, stored.cue, stored.drills, view
    )


def with_own_points(
    connection: sqlite3.Connection, tables: Catalogue, swimmer_id: int, stroke: StrokeName
) -> Catalogue:
    """The tables with the points that were said of a swimmer in own words."""
    said = remarks.of_swimmer(connection, swimmer_id, stroke, "point")
    if not said:
        return tables
    own = [fault_of(as_said(r, "", None, None), stroke) for r in said]
    return tables.with_faults(own)


def _checked(kind: str, text: str, side: str) -> Side:
    if kind not in KINDS or side not in BODY_SIDES:
        raise MarkError("This is no kind of remark. Reload the page.")
    if not text:
        raise MarkError("Write what you see first.")
    if len(text) > LONGEST:
        raise MarkError(f"A remark has at most {LONGEST} letters.")
    return side


def _step(
    connection: sqlite3.Connection, user_id: int, clip_id: int
) -> AbstractContextManager[Step]:
    return undoable(connection, user_id, [("remarks", "clip_id", clip_id)])
