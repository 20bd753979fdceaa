"""Choose what to work on: one to three focuses, their reasons, stills and drills."""

from __future__ import annotations

import sqlite3
from contextlib import AbstractContextManager

from norvik.core.errors import ChoiceError
from norvik.core.strokes.names import is_stroke
from norvik.store import reviews
from norvik.store.clips import Clip
from norvik.store.undo import Step, undoable
from norvik.workflow.review_judgement import (
    MOST_FOCUSES,
    MOST_FOCUSES_LONG_EVENT,
    ReviewJudgement,
    StrokeJudgement,
)

#: Usual reasons to choose another focus than the suggested one; the first is kept until the coach
#: gives another.
BECAUSE = ("coach's eye", "ready for it", "the race is near", "the swimmer's wish",
           "already worked on the other")  # fmt: skip
#: Own choice: more drills than these for one focus are none.
MOST_DRILLS = 3
#: Everything that choosing and answering change of a review, to be undone in one step.
TABLES = ("focuses", "overrules", "focus_answers")


def choose(
    connection: sqlite3.Connection, user_id: int, judgement: ReviewJudgement, stroke: str,
    fault: str, move_up: bool = False, long_event: bool = False, want: bool | None = None,
) -> Step:  # fmt: skip
    """Choose a fault of a stroke as a focus; one that is chosen is removed, or moved up.

    want: chosen or not in the end, so that two coaches who press the same do not undo each other;
    None turns it round. long_event: room for a fourth. Another choice than the suggested one is
    kept with a reason. Raises ChoiceError for what was not found, or when there is no room.
    """
    if not is_stroke(stroke):
        raise ChoiceError("This stroke is not known. Reload the page.")
    of_stroke = judgement.stroke(stroke)
    # Also those that no clip shows any more: they go when the coach removes them.
    chosen = [(f.stroke, f.fault) for f in judgement.review.focuses]
    before = list(chosen)
    point, overruled = (stroke, fault), False
    if point not in chosen and fault not in {r.fault.id for r in of_stroke.ranked}:
        raise ChoiceError("This is no longer among the findings. Reload the page.")
    most = MOST_FOCUSES_LONG_EVENT if long_event else MOST_FOCUSES
    if want is not None and want == (point in chosen) and not move_up:
        return Step()
    if point in chosen and move_up:
        at = chosen.index(point)
        if at:
            chosen[at - 1], chosen[at] = chosen[at], chosen[at - 1]
    elif point in chosen:
        chosen.remove(point)
    elif len(chosen) >= most:
        raise ChoiceError(f"{most} focuses are chosen already. Remove one first.")
    else:
        suggested = next(r.fault.id for r in of_stroke.ranked if (stroke, r.fault.id) not in chosen)
        chosen.append(point)
        overruled = fault != suggested
    review_id = judgement.review.id
    with one_step(connection, user_id, review_id) as step:
        if overruled:
            reviews.set_reason(connection, review_id, stroke, fault, BECAUSE[0])
        reviews.choose(connection, review_id, chosen)
        word = "chosen" if point not in before else "moved up" if point in chosen else "removed"
        step.text = f"{of_stroke.catalogue.faults[fault].name} {word}."
    return step


def give_reason(
    connection: sqlite3.Connection, judgement: StrokeJudgement, fault: str, words: str
) -> None:
    """Why another focus than the suggested one was chosen: a usual reason, or own words."""
    _focus(judgement, fault)
    reviews.set_reason(connection, judgement.review.id, judgement.stroke, fault,
                       words.strip()[:120] or BECAUSE[0])  # fmt: skip


def choose_still(
    connection: sqlite3.Connection, judgement: StrokeJudgement, fault: str, clip: Clip, frame: int
) -> None:
    """Take a frame of a clip as the still of a focus. Raises FrameError outside of the clip."""
    _focus(judgement, fault)
    judgement.of_clip(clip.id)
    clip.require(frame)
    reviews.set_still(connection, judgement.review.id, judgement.stroke, fault, clip.id, frame)


def swap_drill(
    connection: sqlite3.Connection, judgement: StrokeJudgement, fault: str, drill: str
) -> None:
    """The next suitable drill in place of one; asked again it goes round."""
    _focus(judgement, fault)
    kept = [d.id for d in judgement.drills(fault)]
    other = judgement.prescription(fault).instead_of(drill, kept)
    if other is None:
        raise ChoiceError("No other drill suits this swimmer at the moment.")
    kept[kept.index(drill)] = other.id
    reviews.set_drills(connection, judgement.review.id, judgement.stroke, fault, kept)


def keep_drill(
    connection: sqlite3.Connection, judgement: StrokeJudgement, fault: str, drill: str,
    want: bool | None = None,
) -> None:  # fmt: skip
    """Take a drill of a focus in or out; without any choice the prescription holds.

    want: in or out in the end; None turns it round.
    """
    if fault not in judgement.catalogue.faults:
        raise ChoiceError("This is not on the list. Reload the page.")
    given = judgement.prescription(fault)
    if drill not in {d.id for d in (*given.drills, *given.others)}:
        raise ChoiceError("This drill does not suit this swimmer at the moment.")
    kept = [d.id for d in judgement.drills(fault)]
    if want is not None and want == (drill in kept):
        return
    if drill in kept:
        kept.remove(drill)
    elif len(kept) >= MOST_DRILLS:
        raise ChoiceError("Three drills are enough for one focus. Remove one first.")
    else:
        kept.append(drill)
    reviews.set_drills(connection, judgement.review.id, judgement.stroke, fault, kept)


def one_step(
    connection: sqlite3.Connection, user_id: int, review_id: int
) -> AbstractContextManager[Step]:
    """A step that undoes all that is chosen and answered inside it."""
    return undoable(connection, user_id, [(t, "review_id", review_id) for t in TABLES])


def _focus(judgement: StrokeJudgement, fault: str) -> None:
    if fault not in {f.fault.id for f in judgement.focuses}:
        raise ChoiceError("This focus is no longer chosen. Reload the page.")
