"""The way through a review while one speaks: strengths and points in order, each where it shows."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import date

from norvik.store import review_pairs, talks
from norvik.store.clips import Clip
from norvik.workflow.review_document import review_document
from norvik.workflow.review_judgement import ReviewJudgement


@dataclass(frozen=True, slots=True)
class Step:
    """One thing to speak of.

    kind: "strength", "fault", "pair" or "remark"; what: its id. words: what it is. cue: what to say
    to the swimmer, if anything. clip, frame: where it shows; None where nothing shows it. other:
    the clip beside it for a pair. note: for the coach's eyes.
    """

    kind: str
    what: str
    words: str
    cue: str = ""
    clip: Clip | None = None
    frame: int | None = None
    other: int | None = None
    note: str = ""


def path_of(connection: sqlite3.Connection, judgement: ReviewJudgement, today: date) -> list[Step]:
    """Good things first, then the points in the coach's order, then pairs that were kept."""
    document = review_document(judgement, today)
    notes = talks.notes(connection, judgement.review.id)
    by_id = {c.clip.id: c.clip for c in judgement.clips}
    steps: list[Step] = []
    for line in document.strengths:
        still = line.still
        steps.append(Step(
            "strength", line.finding.id, line.finding.title,
            clip=still.clip if still else None, frame=still.frame if still else None,
        ))  # fmt: skip
    for focus in document.focuses:
        fault = focus.ranked.fault
        shown = focus.stills[0] if focus.stills else None
        steps.append(Step(
            "fault", fault.id, fault.name, fault.cue, shown.clip if shown else None,
            shown.frame if shown else None,
        ))  # fmt: skip
    for pair in review_pairs.of_review(connection, judgement.review.id):
        clip = by_id.get(pair.one_clip_id)
        if clip is not None and pair.rows:
            words = pair.caption or f"Side by side: {pair.rows[0][2]}"
            steps.append(Step(
                "pair", str(pair.id), words, clip=clip, frame=pair.rows[0][0],
                other=pair.other_clip_id,
            ))  # fmt: skip
    first = judgement.clips[0].clip if judgement.clips else None
    return [
        Step(s.kind, s.what, s.words, s.cue, s.clip or first, s.frame, s.other,
             notes.get((s.kind, s.what), ""))
        for s in steps
    ]  # fmt: skip
