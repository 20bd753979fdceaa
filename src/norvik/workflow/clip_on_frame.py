"""What was measured, followed and chosen on a clip's frames, as judging takes it."""

from __future__ import annotations

import math
import sqlite3

from norvik.core.frame.measures import mean_u
from norvik.core.judging.on_frame import Obstacle, OnFrame
from norvik.core.strokes.names import BODY_SIDES
from norvik.core.time.quantities import Occurrence
from norvik.workflow.clip_drawings import drawings_of
from norvik.workflow.clip_timing import ClipTiming
from norvik.workflow.clip_tracks import track_measures, tracks_of
from norvik.workflow.criteria import criteria_of


def on_frame_of(
    connection: sqlite3.Connection, timed: ClipTiming
) -> tuple[list[OnFrame], list[Obstacle]]:
    """Measures that this view shows well; those of another view keep their number, unjudged.

    A measure at a joint whose segments point out of the plane is left out: its angle cannot be
    trusted.
    """
    drawn = drawings_of(connection, timed)
    at = timed.time_base.time_of
    taken: list[OnFrame] = []
    obstacles: list[Obstacle] = []
    for row in drawn.rows:
        obstacles += [Obstacle(row.measure.id, why) for _, why in row.obstacles]
        if not row.seen_here:
            continue
        for side in BODY_SIDES:
            mine = [
                (t.stored.frame, t.value)
                for t in row.taken
                if t.stored.side == side and t.value and not t.foreshortened
            ]
            if mine:
                u = mean_u([v for _, v in mine])
                found = tuple(Occurrence(at(frame), v.value, side) for frame, v in mine)
                m = row.measure
                taken.append(OnFrame(m.id, m.name, m.unit, m.digits, side, found, u, row.band,
                                     least=m.least))  # fmt: skip
    for choice in drawn.choices:
        obstacles += [Obstacle(choice.choice.id, why) for _, why in choice.obstacles]
        for side in BODY_SIDES:
            picked = [(d, o) for d, o in choice.taken if d.side == side]
            if picked:
                c = choice.choice
                found = tuple(Occurrence(at(d.frame), 0.0, side) for d, _ in picked)
                chosen = tuple(o.id for _, o in picked)
                taken.append(OnFrame(c.id, c.name, "", 0, side, found, None, None, chosen))
    return taken + _followed(connection, timed), obstacles


def _followed(connection: sqlite3.Connection, timed: ClipTiming) -> list[OnFrame]:
    clip = timed.clip
    criteria = criteria_of(connection, clip)
    made = []
    for s in track_measures(connection, tracks_of(connection, timed)):
        band = criteria.band(s.measure.id)
        if band is None:
            continue
        # One value stands for all its pulls; where it lies on the film the charts show.
        found = (Occurrence(timed.from_s, s.value, s.side),)
        u = s.sd / math.sqrt(s.n) if s.sd is not None else None
        m = s.measure
        made.append(OnFrame(m.id, m.name, s.unit, m.digits, s.side, found, u, band))
    return made
