"""Two cameras on one swim: tied by instants that both show, and found by their sound."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from norvik.core.errors import MarkError
from norvik.core.time.sound_offset import Samples, SoundOffset, sound_offset
from norvik.core.time.two_clocks import CommonInstant, TwoClocks, tied
from norvik.store import clips, marks, tied_recordings
from norvik.store.clips import Clip
from norvik.store.connection import transaction
from norvik.store.marks import NewMark
from norvik.store.tied_recordings import Instant, Tie
from norvik.workflow.side_by_side.film import Film

#: Samples a second in which sound is compared.
SOUND_HZ = 8000
#: The standard uncertainty of an instant that was read to the nearest frame, in frame intervals.
_FRAME_U = 12**-0.5


@dataclass(frozen=True, slots=True)
class Tied:
    """copied: marks that went from the one film into the other, which had none."""

    clocks: TwoClocks
    copied: int


def clocks_of(tie: Tie, one: Film, other: Film) -> TwoClocks:
    """The clocks of two films as they were tied; one is the film of tie.one_id."""
    instants = [_instant(one, other, a, b) for a, b in tie.instants]
    return tied(instants[0], instants[1] if len(instants) > 1 else None)


def _instant(one: Film, other: Film, frame: int, other_frame: int) -> CommonInstant:
    u_s = _FRAME_U * (one.interval_at(frame) ** 2 + other.interval_at(other_frame) ** 2) ** 0.5
    return CommonInstant(float(one.real_s[frame]), float(other.real_s[other_frame]), u_s)


def tie_films(
    connection: sqlite3.Connection, one: Film, other: Film, instants: Sequence[Instant],
    user_id: int | None,
) -> Tied:  # fmt: skip
    """Tie the recordings of two clips by one or two instants that both show.

    Where one of the clips has marks and the other has none, it gets them. Raises MarkError where
    they cannot be one swim, or are parts of one recording.
    """
    if one.clip is None or other.clip is None or one.clip.recording.id == other.clip.recording.id:
        raise MarkError("Two cameras are two recordings. These films come from one.")
    if one.clip.swimmer_id != other.clip.swimmer_id or one.stroke != other.stroke:
        raise MarkError(
            "Two cameras on one swim show one swimmer and one stroke. Correct what these clips "
            "are, or compare them by clock."
        )
    a, b = one.clip.recording.id, other.clip.recording.id
    clocks = clocks_of(Tie(a, b, tuple(instants)), one, other)
    with transaction(connection):
        tied_recordings.tie(connection, a, b, instants, user_id)
        copied = _copy_marks(connection, one, other, clocks, user_id)
    return Tied(clocks, copied)


def _copy_marks(
    connection: sqlite3.Connection, one: Film, other: Film, clocks: TwoClocks, user_id: int | None
) -> int:
    assert one.timed is not None
    assert other.timed is not None
    mine, theirs = one.timed.marks, other.timed.marks
    if bool(mine) == bool(theirs):
        return 0
    source, target, of = (one, other, mine) if mine else (other, one, theirs)
    assert target.clip is not None
    there = clocks.other if mine else clocks.one
    new = []
    for mark in of:
        at_s = there(float(source.real_s[mark.frame]))
        if float(target.real_s[target.first]) <= at_s <= float(target.real_s[target.last]):
            new.append(NewMark(target.frame_of(at_s), mark.lane, mark.side, mark.event, mark.note))
    return marks.place_many(connection, target.clip.id, user_id, new)


def by_sound(
    one: Film, other: Film, heard: Callable[[int], Samples | None]
) -> tuple[SoundOffset, Instant] | None:
    """How the films are tied by what both microphones heard, and two frames that belong together.

    heard: the sound of a recording by its id, SOUND_HZ samples a second; None where it has none.
    None where nothing fits. Raises MarkError for films without sound, and for slow motion: its
    sound does not run in real time.
    """
    if one.clip is None or other.clip is None:
        raise MarkError("The model swimmer makes no sound. Set a common instant by hand.")
    for film in (one, other):
        assert film.timed is not None
        if any(s.factor != 1 for s in film.timed.time_base.stretches):
            raise MarkError(
                "Sound can't tie slow motion: it does not run in real time. Find a splash or a "
                "touch in both films and tie them there."
            )
    mine, theirs = heard(one.clip.recording.id), heard(other.clip.recording.id)
    if mine is None or theirs is None:
        raise MarkError(
            "One of the films has no sound. Find a splash or a touch in both and tie them there."
        )
    found = sound_offset(mine, theirs, SOUND_HZ)
    if found is None:
        return None
    # A frame of the first film whose instant lies in the second one, too.
    for frame in (one.first, (one.first + one.last) // 2, one.last):
        at_s = float(one.real_s[frame]) + found.later_s
        if float(other.real_s[other.first]) <= at_s <= float(other.real_s[other.last]):
            return found, (frame, other.frame_of(at_s))
    # Those that reach into each other at their ends alone.
    at_s = float(other.real_s[other.first]) - found.later_s
    frame = one.frame_of(at_s)
    if abs(float(one.real_s[frame]) - at_s) <= one.interval_at(frame):
        return found, (frame, other.first)
    return None


def twins_of(connection: sqlite3.Connection, clip: Clip) -> list[Clip]:
    """Clips that second cameras took of the same swim."""
    found = []
    for tie in tied_recordings.of_recording(connection, clip.recording.id):
        found += [
            c
            for c in clips.of_recording(connection, tie.other_id)
            if c.swimmer_id == clip.swimmer_id and c.stroke == clip.stroke and c.watchable
        ]
    return found


def twin_frame(connection: sqlite3.Connection, clip: Clip, twin: Clip, frame: int) -> int | None:
    """The twin's frame at the instant of a frame of the clip; None outside of it."""
    tie = tied_recordings.between(connection, clip.recording.id, twin.recording.id)
    if tie is None:
        return None
    bases = clips.time_base(connection, clip), clips.time_base(connection, twin)
    at = [
        CommonInstant(bases[0].time_of(a), bases[1].time_of(b))
        for a, b in tie.instants
        if a < bases[0].frames and b < bases[1].frames
    ]
    if not at:
        return None
    at_s = tied(at[0], at[1] if len(at) > 1 else None).other(bases[0].time_of(frame))
    found = bases[1].frame_nearest(at_s)
    half = bases[1].interval_within(twin.first_frame, twin.last_frame) or 0.0
    if not twin.holds(found) or abs(bases[1].time_of(found) - at_s) > half:
        return None
    return found
