"""The followed points of a clip as arrays, with what their movement says and proposes."""

from __future__ import annotations

import math
import sqlite3
import threading
from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from norvik.core.frame.geometry import Point
from norvik.core.frame.lens import Lens
from norvik.core.frame.movement import (
    FOLLOWED,
    UNSURE,
    FollowedMeasure,
    Values,
    angles,
    climb,
    filled,
    half_waves,
    late_bend,
    longest,
    smooth,
    velocity,
)
from norvik.core.frame.references import References
from norvik.core.frame.track_events import propose_from_tracks
from norvik.core.judging.margin import margin_of
from norvik.core.judging.verdicts import verdict_of
from norvik.core.strokes.names import Side
from norvik.core.time.own_spread import of_values
from norvik.core.time.plus_minus import Certainty
from norvik.core.time.proposals import Proposal
from norvik.core.time.quantities import Reading
from norvik.store import jobs, references, tracks
from norvik.store.jobs import Job
from norvik.store.tracks import StoredTrack, TrackPoint
from norvik.workflow.clip_timing import ClipTiming
from norvik.workflow.criteria import criteria_of

#: What can be followed. Those of one side come first.
SIDED = ("wrist", "fingertips", "elbow", "shoulder", "hip", "knee", "ankle", "toes")
UNSIDED = ("head", "mouth", "other point")
#: Joints whose angle is drawn against time when all three are followed on one side.
JOINTS = {"elbow": ("shoulder", "elbow", "wrist"), "knee": ("hip", "knee", "ankle")}
#: A proposal nearer to a mark of its kind than this is not made, in seconds.
_MARKED_S = 0.15
#: Own choice: a half wave of an ankle or hip counts from this share of the whole travel on.
_WAVE_SHARE = 0.3
_BREAKOUT_S = 0.5


@dataclass(frozen=True)
class Track:
    """One followed point. frames: of the whole clip, first to last."""

    stored: StoredTrack
    points: tuple[TrackPoint, ...]
    job: Job | None
    first: int
    times_s: Values
    lens: Lens | None = None

    @cached_property
    def raw(self) -> Values:
        """Shape (n, 2), source pixels; NaN where the point is lost or was not followed."""
        made = np.full((len(self.times_s), 2), np.nan)
        for p in self.points:
            if p.x is not None and 0 <= p.frame - self.first < len(made):
                made[p.frame - self.first] = p.x, p.y
        return made

    @cached_property
    def straight(self) -> Values:
        """The same where a straight lens would show it."""
        if self.lens is None or self.lens.straight:
            return self.raw
        made = self.raw.copy()
        for n in np.flatnonzero(np.isfinite(made[:, 0])):
            made[n] = self.lens.correct(Point(*made[n]))
        return made

    @cached_property
    def smooth(self) -> Values:
        """That with short gaps filled, and filtered."""
        return smooth(self.times_s, filled(self.times_s, self.straight))

    @property
    def running(self) -> bool:
        return self.job is not None and self.job.state in ("queued", "running")

    @property
    def followed(self) -> int:
        return sum(p.x is not None for p in self.points)

    @property
    def lost(self) -> int:
        return sum(p.state == "lost" for p in self.points)

    @property
    def anchors(self) -> list[int]:
        return [p.frame for p in self.points if p.state == "anchor"]

    @property
    def unsure(self) -> list[int]:
        """First frames of the stretches that the coach should look at: unsure or lost ones."""
        found, before = [], None
        for p in self.points:
            if p.state != "anchor" and p.confidence < UNSURE:
                if before is None or p.frame != before + 1:
                    found.append(p.frame)
                before = p.frame
        return found


@dataclass(frozen=True, slots=True)
class TrackMeasure:
    """A measure that several frames give. n: pulls, half waves or frames that it rests on."""

    measure: FollowedMeasure
    side: Side
    value: float
    unit: str
    sd: float | None
    n: int
    verdict: str


@dataclass(frozen=True, slots=True)
class Series:
    """A quantity against time. raw: before the filter; filled: where a gap was filled."""

    name: str
    unit: str
    values: Values
    raw: Values
    filled: Values


@dataclass(frozen=True)
class ClipTracks:
    timed: ClipTiming
    references: References
    tracks: tuple[Track, ...]
    times_s: Values

    def of(self, point: str, side: Side) -> Track | None:
        return next(
            (t for t in self.tracks if (t.stored.point, t.stored.side) == (point, side)), None
        )

    @property
    def running(self) -> bool:
        return any(t.running for t in self.tracks)

    def series(self) -> list[Series]:
        """Heights and speeds of every point, and the angles of joints that are followed whole."""
        found = []
        for name, parts in JOINTS.items():
            for side in ("left", "right"):
                three = [self.of(p, side) for p in parts]
                if all(three):
                    a, b, c = (t.smooth for t in three if t)
                    ra, rb, rc = (t.raw for t in three if t)
                    raw = angles(ra, rb, rc)
                    found.append(
                        Series(f"{side} {name} angle", "°", angles(a, b, c), raw, np.isnan(raw))
                    )
        for track in self.tracks:
            if not track.followed:
                continue
            for name, unit, of in (("height", None, self.height), ("speed", None, self._speed)):
                values, said = of(track.smooth)
                raw, _ = of(track.raw)
                found.append(
                    Series(
                        f"{track.stored.name} {name}", unit or said, values, raw,
                        np.isnan(track.raw[:, 0]),
                    )
                )  # fmt: skip
        return found

    def _metres_a_pixel(self) -> float | None:
        if self.references.scale:
            return self.references.metres(Point(0, 0), Point(1, 0))
        return None

    def height(self, at: Values) -> tuple[Values, str]:
        """Height above the surface, or above the lowest place where none is set; m or pixels."""
        if self.references.water:
            deep = self.references.below_water
            up = np.array([-deep(Point(float(x), float(y))) for x, y in at])
        else:
            tilt = math.radians(self.references.horizon_deg)
            up = -(at[:, 1] * math.cos(tilt) + at[:, 0] * math.sin(tilt))
            if np.isfinite(up).any():
                up = up - np.nanmin(up)
        scale = self._metres_a_pixel()
        return (up * scale, "m") if scale else (up, "px")

    def _speed(self, at: Values) -> tuple[Values, str]:
        speed = np.hypot(*velocity(self.times_s, at).T)
        scale = self._metres_a_pixel()
        return (speed * scale, "m/s") if scale else (speed, "px/s")

    def proposals(self) -> list[Proposal]:
        """Events that the tracks suggest, without those that are marked already."""
        followed = {(t.stored.point, t.stored.side): t.raw for t in self.tracks if t.followed > 5}
        if not followed:
            return []
        alternating = self.timed.timing.resolved.stroke.alternating
        found = propose_from_tracks(self.times_s, followed, self.references, alternating)
        return unmarked(found, self.timed)


def unmarked(found: Sequence[Proposal], timed: ClipTiming) -> list[Proposal]:
    """Those that no mark of their kind lies near."""
    marked = [(e.lane, e.side, e.event, e.time_s) for e in timed.events]

    def is_new(p: Proposal) -> bool:
        side = "" if p.side == "both" else p.side
        return not any(
            (lane, event) == (p.lane, p.event)
            and (own == side or lane == "breath")
            and abs(time_s - p.time_s) < _MARKED_S
            for lane, own, event, time_s in marked
        )

    return [p for p in found if is_new(p)]


#: What the followed points of the clips worked on last propose, by their state.
_PROPOSED: OrderedDict[object, tuple[Proposal, ...]] = OrderedDict()
_MOST_KEPT = 16
_PROPOSED_LOCK = threading.Lock()


def track_proposals(connection: sqlite3.Connection, timed: ClipTiming) -> list[Proposal]:
    """`ClipTracks.proposals`, worked out once for as long as no followed point changes.

    Every mark asks for them; only what is marked differs between two marks.
    """
    state = tracks.state_of(connection, timed.clip.id)
    if not state:
        return []
    base = timed.time_base
    key = (
        timed.clip.id, state, repr(references.of_clip(connection, timed.clip.id)),
        base.stretches, base.frames, timed.clip.first_frame, timed.clip.last_frame,
        timed.clip.stroke,
    )  # fmt: skip
    with _PROPOSED_LOCK:
        known = _PROPOSED.get(key)
        if known is not None:
            _PROPOSED.move_to_end(key)
    if known is None:
        bare = replace(timed, events=())
        known = tuple(tracks_of(connection, bare).proposals())
        with _PROPOSED_LOCK:
            _PROPOSED[key] = known
            while len(_PROPOSED) > _MOST_KEPT:
                _PROPOSED.popitem(last=False)
    return unmarked(known, timed)


def tracks_of(connection: sqlite3.Connection, timed: ClipTiming) -> ClipTracks:
    clip = timed.clip
    times = timed.time_base.real_s[clip.first_frame : clip.last_frame + 1]
    to = references.of_clip(connection, clip.id)
    found = []
    for stored in tracks.of_clip(connection, clip.id):
        job = jobs.find(connection, stored.job_id) if stored.job_id is not None else None
        points = tuple(p for p in tracks.points_of(connection, stored.id) if clip.holds(p.frame))
        found.append(Track(stored, points, job, clip.first_frame, times, to.lens))
    return ClipTracks(timed, to.corrected(to.lens), tuple(found), times)


def track_measures(connection: sqlite3.Connection, found: ClipTracks) -> list[TrackMeasure]:
    """Measures that rest on followed points, as far as points and marks allow."""
    clip = found.timed.clip
    criteria = criteria_of(connection, clip)
    made: list[TrackMeasure] = []

    def say(name: str, side: Side, values: list[float], unit: str = "") -> None:
        if not values:
            return
        measure = FOLLOWED[name]
        value = float(np.mean(values))
        sd = float(np.std(values, ddof=1)) if len(values) > 1 else None
        band = criteria.band(name)
        u = sd / math.sqrt(len(values)) if sd is not None else None
        margin = 0.0
        if u is not None:
            known = Reading(value, u, (), Certainty(0.0, own=of_values(values)))
            margin = margin_of(name, unit or measure.unit, known)
        verdict = verdict_of(band, value, margin)[0] if band else ""
        made.append(
            TrackMeasure(measure, side, value, unit or measure.unit, sd, len(values), verdict)
        )

    for side in ("left", "right"):
        arm = [found.of(p, side) for p in ("shoulder", "elbow", "wrist")]
        if all(arm):
            shares = []
            upper, elbow, wrist = (t.smooth for t in arm if t)
            lengths = longest(upper, elbow), longest(elbow, wrist)
            for begin, end in _pulls(found.timed, side):
                part = slice(begin - clip.first_frame, end - clip.first_frame + 1)
                share = late_bend(upper[part], elbow[part], wrist[part], lengths)
                if share is not None:
                    shares.append(share)
            say("late-bend", side, shares)
        ankle = found.of("ankle", side)
        if ankle:
            heights, unit = found.height(ankle.smooth)
            _say_travel(say, "kick-travel", side, heights, unit)
    hips = [found.of("hip", side) for side in ("left", "right")]
    if all(hips):
        a, b = (t.smooth for t in hips if t)
        width = float(np.nanmedian(np.hypot(*(a - b).T)))
        if math.isfinite(width) and width > 0:
            _say_travel(say, "hip-sway", "", 100 * _across((a + b) / 2) / width, "")
    head = found.of("head", "")
    if head:
        climbs = []
        for wall in found.timed.marks:
            if wall.event == "breakout":
                at = found.timed.time_base.time_of(wall.frame)
                near = (found.times_s >= at - _BREAKOUT_S) & (found.times_s <= at)
                angle = climb(head.smooth[near], found.references.horizon_deg)
                if angle is not None:
                    climbs.append(angle)
        say("breakout-climb", "", climbs)
    return made


def _across(at: Values) -> Values:
    """How far a way lies to the side of the straight line that fits it best, pixels a frame."""
    known = at[np.isfinite(at).all(axis=1)]
    if len(known) < 3:
        return np.full(len(at), np.nan)
    middle = known.mean(axis=0)
    _, _, axes = np.linalg.svd(known - middle, full_matrices=False)
    return np.asarray((at - middle) @ axes[1], np.float64)


def _say_travel(say, name: str, side: Side, values: Values, unit: str) -> None:  # type: ignore[no-untyped-def]
    known = values[np.isfinite(values)]
    if len(known) < 5:
        return
    say(name, side, half_waves(values, _WAVE_SHARE * float(np.ptp(known))), unit)


def _pulls(timed: ClipTiming, side: Side) -> list[tuple[int, int]]:
    """First and last frame of every pull under water of an arm that is marked, entry to exit."""
    alternating = timed.timing.resolved.stroke.alternating
    own = [
        m for m in timed.marks if m.lane == "arm" and m.side in ((side,) if alternating else ("",))
    ]
    found = []
    begin = None
    for m in own:
        if m.event in ("entry", "out"):
            begin = m.frame
        elif m.event in ("exit", "shoot") and begin is not None:
            found.append((begin, m.frame))
            begin = None
    return found
