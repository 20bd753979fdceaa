"""Judgements of clips are kept until anything that they rest on changes."""

from __future__ import annotations

import copy
import sqlite3
import threading
from collections import OrderedDict
from dataclasses import replace

from norvik.store import rests_on
from norvik.store.clips import Clip
from norvik.store.rests_on import Version
from norvik.workflow.clip_judgement import ClipJudgement, judge_clip

#: So many at most, the ones used last: a judgement takes some hundred kilobytes.
MOST_KEPT = 160

_kept: OrderedDict[tuple[str, int], tuple[Version, ClipJudgement]] = OrderedDict()
_lock = threading.Lock()


def judged_clips(connection: sqlite3.Connection, clips: list[Clip]) -> list[ClipJudgement]:
    """The judgement of each clip, worked out anew where something that it rests on has changed."""
    now = rests_on.versions(connection, [c.id for c in clips])
    return [_judged(connection, clip, now[clip.id]) for clip in clips]


def judged_clip(connection: sqlite3.Connection, clip: Clip) -> ClipJudgement:
    return judged_clips(connection, [clip])[0]


def forget() -> None:
    """Keep nothing any more."""
    with _lock:
        _kept.clear()


def _judged(connection: sqlite3.Connection, clip: Clip, version: Version) -> ClipJudgement:
    key = version[0], clip.id
    with _lock:
        there = _kept.get(key)
        if there is not None and there[0] == version:
            _kept.move_to_end(key)
            return _with_clip(there[1], clip)
    made = judge_clip(connection, clip)
    _ = made.findings  # worked out once, too
    with _lock:
        _kept[key] = (version, made)
        _kept.move_to_end(key)
        while len(_kept) > MOST_KEPT:
            _kept.popitem(last=False)
    return made


def _with_clip(judged: ClipJudgement, clip: Clip) -> ClipJudgement:
    """The same with the clip's row as it is now: whether it is reviewed is no part of judging."""
    if judged.timed.clip == clip:
        return judged
    fresh = copy.copy(judged)
    object.__setattr__(fresh, "timed", replace(judged.timed, clip=clip))
    return fresh
