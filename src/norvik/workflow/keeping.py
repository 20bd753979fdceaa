"""How long films are kept: what is past it, or has no consent any more, is proposed for release."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import date, timedelta

from norvik.store import clips, club, jobs, recordings, swimmers
from norvik.store.clips import Clip
from norvik.store.recordings import Recording
from norvik.work_names import RELEASE

_DAYS_A_MONTH = 30.44


@dataclass(frozen=True, slots=True)
class Proposed:
    """originals: whose review copy stays. clips: to be deleted, each with the reason."""

    originals: tuple[Recording, ...]
    clips: tuple[tuple[Clip, str], ...]

    @property
    def bytes(self) -> int:
        return sum(r.bytes for r in self.originals)


def proposed(connection: sqlite3.Connection, today: date) -> Proposed:
    """What the club's rules and the swimmers' consents say should go; nothing is changed."""
    return Proposed(tuple(_originals(connection, today)), tuple(_clips(connection, today)))


def _before(connection: sqlite3.Connection, rule: str, today: date) -> str:
    """The day before which films are past a rule; empty where the club keeps them for ever."""
    months = club.house(connection, rule)
    return (today - timedelta(days=round(months * _DAYS_A_MONTH))).isoformat() if months else ""


def _originals(connection: sqlite3.Connection, today: date) -> list[Recording]:
    before = _before(connection, "originals-months", today)
    return [
        r for r in recordings.everyone(connection)
        if before and r.releasable and r.created_at[:10] < before
    ]  # fmt: skip


def _clips(connection: sqlite3.Connection, today: date) -> list[tuple[Clip, str]]:
    before = _before(connection, "clips-months", today)
    found: dict[int, tuple[Clip, str]] = {}
    for swimmer in swimmers.all_by_name(connection):
        if not swimmer.allows("keeping"):
            for clip in clips.newest_first(connection, swimmer.id, 10_000):
                found[clip.id] = (clip, "no consent to keep it")
    if before:
        for clip in clips.filmed_before(connection, before):
            found.setdefault(clip.id, (clip, "older than the club keeps clips"))
    return list(found.values())


def release(
    connection: sqlite3.Connection, recording_ids: list[int], clip_ids: list[int], user_id: int,
    today: date,
) -> int:  # fmt: skip
    """The job that releases what was chosen, of what is proposed now; its number."""
    now = proposed(connection, today)
    originals = {r.id for r in now.originals} & set(recording_ids)
    gone = {c.id for c, _ in now.clips} & set(clip_ids)
    args = {"recordings": sorted(originals), "clips": sorted(gone), "by": user_id}
    return jobs.add(connection, RELEASE, args, None)
