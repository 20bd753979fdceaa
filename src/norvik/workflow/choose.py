"""Choose what to work on: one to three focuses, their reasons, stills and drills."""

from __future__ import annotations

import sqlite3

from norvik.core.errors import ChoiceError
from norvik.store import reviews
from norvik.store.undo import Step
from norvik.workflow.clip_judgement import MOST_FOCUSES, MOST_FOCUSES_LONG_EVENT, Judgement
from norvik.workflow.tick import one_step

#: Usual reasons to choose another focus than the suggested one; the first is kept until the coach
#: gives another.
BECAUSE = ("coach's eye", "ready for it", "the race is near", "the swimmer's wish",
           "already worked on the other")  # fmt: skip
#: Own choice: more drills than these for one focus are none.
MOST_DRILLS = 3


def choose(
    connection: sqlite3.Connection, user_id: int, judgement: Judgement, fault: str,
    move_up: bool = False, long_event: bool = False,
) -> Step:  # fmt: skip
    """Choose a fault as a focus; one that is chosen is removed, or moved up.

    long_event: room for a fourth. Another choice than the suggested one is kept with a reason.
    Raises ChoiceError for what was not found, or when there is no room.
    """
    chosen = [f.fault.id for f in judgement.focuses]
    before = list(chosen)
    if fault not in {r.fault.id for r in judgement.ranked}:
        raise ChoiceError("This is no longer among the findings. Reload the page.")
    most = MOST_FOCUSES_LONG_EVENT if long_event else MOST_FOCUSES
    overruled = False
    if fault in chosen and move_up:
        at = chosen.index(fault)
        if at:
            chosen[at - 1], chosen[at] = chosen[at], chosen[at - 1]
    elif fault in chosen:
        chosen.remove(fault)
    elif len(chosen) >= most:
        raise ChoiceError(f"{most} focuses are chosen already. Remove one first.")
    else:
        suggested = next(r.fault.id for r in judgement.ranked if r.fault.id not in chosen)
        chosen.append(fault)
        overruled = fault != suggested
    with one_step(connection, user_id, judgement.clip.id) as step:
        if overruled:
            reviews.set_reason(connection, judgement.clip.id, fault, BECAUSE[0])
        reviews.choose(connection, judgement.clip.id, chosen)
        word = "chosen" if fault not in before else "moved up" if fault in chosen else "removed"
        step.text = f"{judgement.catalogue.faults[fault].name} {word}."
    return step


def give_reason(
    connection: sqlite3.Connection, judgement: Judgement, fault: str, words: str
) -> None:
    """Why another focus than the suggested one was chosen: a usual reason, or own words."""
    _focus(judgement, fault)
    reviews.set_reason(connection, judgement.clip.id, fault, words.strip()[:120] or BECAUSE[0])


def choose_still(
    connection: sqlite3.Connection, judgement: Judgement, fault: str, frame: int
) -> None:
    """Take a frame as the still of a focus. Raises FrameError outside of the clip."""
    _focus(judgement, fault)
    judgement.clip.require(frame)
    reviews.set_still(connection, judgement.clip.id, fault, frame)


def swap_drill(
    connection: sqlite3.Connection, judgement: Judgement, fault: str, drill: str
) -> None:
    """The next suitable drill in place of one; asked again it goes round."""
    _focus(judgement, fault)
    kept = [d.id for d in judgement.drills(fault)]
    other = judgement.prescription(fault).instead_of(drill, kept)
    if other is None:
        raise ChoiceError("No other drill suits this swimmer at the moment.")
    kept[kept.index(drill)] = other.id
    reviews.set_drills(connection, judgement.clip.id, fault, kept)


def keep_drill(
    connection: sqlite3.Connection, judgement: Judgement, fault: str, drill: str
) -> None:
    """Take a drill of a focus in or out; without any choice the prescription holds."""
    if fault not in judgement.catalogue.faults:
        raise ChoiceError("This is not on the list. Reload the page.")
    given = judgement.prescription(fault)
    if drill not in {d.id for d in (*given.drills, *given.others)}:
        raise ChoiceError("This drill does not suit this swimmer at the moment.")
    kept = [d.id for d in judgement.drills(fault)]
    if drill in kept:
        kept.remove(drill)
    elif len(kept) >= MOST_DRILLS:
        raise ChoiceError("Three drills are enough for one focus. Remove one first.")
    else:
        kept.append(drill)
    reviews.set_drills(connection, judgement.clip.id, fault, kept)


def _focus(judgement: Judgement, fault: str) -> None:
    if fault not in {f.fault.id for f in judgement.focuses}:
        raise ChoiceError("This focus is no longer chosen. Reload the page.")
