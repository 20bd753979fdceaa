"""All events of a film from what was followed in it: arms, legs, kicks and breaths.

Nothing here is a mark. Each event has a plus-minus and says how sure it is; what cannot be told is
left out with its reason.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import erf, sqrt

import numpy as np
from numpy.typing import NDArray

from norvik.core.reading.breaths import front_breaths
from norvik.core.reading.cycle import ALTERNATING
from norvik.core.reading.events import MeanCycle, clock_of, events_of, mean_cycle
from norvik.core.reading.kick_count import KickCount, kick_features, told_count
from norvik.core.reading.kick_motion import KickMotion, leg_rhythms, told_kicks
from norvik.core.reading.kicks import dolphin, flutter, standing_out
from norvik.core.reading.limbs import Limbs
from norvik.core.reading.phase import PhasePath, Template, phase_path
from norvik.core.reading.places import Places
from norvik.core.strokes.names import Lane, Side, StrokeName

Series = NDArray[np.float64]

#: Where a swimmer's near arm can be told from: the side.
VIEWS = ("side-under", "side-above")
#: A limb that fits worse than this is not told (see MeanCycle.misfit): near ones of the model
#: swimmer stay under 2.3, far ones under 8, joints by chance come out over 6.
WORST, WORST_FAR = 4.0, 8.5
#: A whole way that costs more than this a frame is none: swimmers stay under 7, chance is over 15.
WORST_WAY = 11.0
#: Found on films of the model swimmer: with it 42 of 44 strokes are named right after 5 s.
_TOGETHER = 0.75
#: Events of a breath to the front: those of the templates that are no arm event.
BREATH = ("turn", "air", "down")
#: Within so many seconds of an event its limb has to be seen in at least this share of the frames;
#: elsewhere it may be off by as many times more (own choice).
_BESIDE_S, _LEAST_SEEN, _BRIDGED_OFF = 0.12, 0.5, 1.5


@dataclass(frozen=True, slots=True)
class ReadEvent:
    """An event that was read. lane, side, event: as a mark has them. time_s: real seconds.

    u95_s: half width of its 95 % interval. confidence: about how often such an event lies within
    0.08 s of the truth, 0 to 1. bridged: the limb was out of sight there, so that the event lies
    where the other cycles say.
    """

    time_s: float
    lane: Lane
    side: Side
    event: str
    u95_s: float
    confidence: float
    bridged: bool = False


@dataclass(frozen=True, slots=True)
class ReadStroke:
    """events: in time order. reasons: what cannot be told, and why."""

    events: tuple[ReadEvent, ...] = ()
    reasons: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Templates:
    """Of one stroke in one view. offs: SD in seconds of what was read, by event (see checks).
    measures: what was learnt of measures on the frame, by their ids. kicks: how many go to a cycle
    by the joints; kick_motion: by how the picture changes, where there is one.
    """

    arms: Template
    legs: Template | None
    offs: Mapping[str, float]
    measures: Mapping[str, Places] = field(default_factory=dict)
    kicks: KickCount | None = None
    kick_motion: KickMotion | None = None


def read_stroke(
    limbs: Limbs, times_s: Series, stroke: StrokeName, templates: Templates, cycle_s: float,
    legs_changed: Series | None = None,
) -> ReadStroke:  # fmt: skip
    """limbs: evenly apart in time, at times_s (real seconds). cycle_s: see `cycle_time`.

    legs_changed: how much the picture changed where the legs are, shape (frames, parts).
    """
    apart = float(np.median(np.diff(times_s)))
    alternating = stroke in ALTERNATING
    arms = {e: at for e, at in templates.arms.events.items() if e not in BREATH}
    path = phase_path(limbs.arms, templates.arms, cycle_s, apart, alternating)
    if path.total > WORST_WAY:
        return ReadStroke((), {"arms": "the arms do not move as in this stroke"})
    numbers, openings = clock_of(times_s, path.phase)
    if len(numbers) < 4:
        return ReadStroke((), {"arms": "fewer than two whole cycles can be seen"})
    found: list[ReadEvent] = []
    reasons: dict[str, str] = {}
    near = near_side(stroke, limbs.heading) if alternating else ""
    for side, lag, of, usual in _arms(path, templates.arms, near):
        number, opened = clock_of(times_s, path.phase - lag)
        if len(number) < 4:
            continue
        mean = mean_cycle(times_s, of, number, opened, usual, templates.arms)
        if mean.misfit > (WORST_FAR if lag else WORST):
            reasons[f"arm {side}".strip()] = "this arm does not move as in this stroke"
            continue
        told = _told(mean, number, opened, arms, "arm", side, templates.offs, times_s)
        found += _bridged(told, times_s, np.isfinite(of[:, 0]))
    if not found:
        return ReadStroke((), reasons)
    breaths = _breaths(limbs, times_s, stroke, templates, numbers, openings, reasons)
    found += _bridged(breaths, times_s, np.isfinite(limbs.head))
    clock = (numbers, openings)
    legs = _legs(limbs, times_s, stroke, templates, cycle_s, path, clock, legs_changed, reasons)
    found += _bridged(legs, times_s, np.asarray(np.isfinite(limbs.feet).any(axis=1), bool))
    return ReadStroke(tuple(sorted(found, key=lambda e: e.time_s)), reasons)


def stroke_cost(
    limbs: Limbs, stroke: StrokeName, templates: Templates, cycle_s: float, seconds_apart: float
) -> float:
    """How badly the arms fit a stroke: less is better, to be held against other strokes."""
    alternating = stroke in ALTERNATING
    path = phase_path(limbs.arms, templates.arms, cycle_s, seconds_apart, alternating)
    # Of arms that move together both are seen at once: they are the easier to fit.
    return path.total * (1.0 if alternating else _TOGETHER)


def near_side(stroke: StrokeName, heading: int) -> Side:
    """The side that the camera sees: on the front, going right, it is the right one."""
    return "right" if (heading > 0) == (stroke != "backstroke") else "left"


def _arms(
    path: PhasePath, template: Template, near: Side
) -> list[tuple[Side, float, Series, Series]]:
    """(side, cycles behind the near arm, its places, its template) of each arm lane."""
    if not near:
        return [("", 0.0, path.near, template.near)]
    far: Side = "left" if near == "right" else "right"
    return [
        (near, 0.0, path.near, template.near),
        (far, path.lag, path.far, template.far),
    ]


def _told(
    mean: MeanCycle, numbers: Series, openings: Series, events: Mapping[str, float], lane: Lane,
    side: Side, offs: Mapping[str, float], times_s: Series,
) -> list[ReadEvent]:  # fmt: skip
    found = events_of(mean, numbers, openings, events, float(times_s[0]), float(times_s[-1]))
    made = []
    for one in found:
        off = offs.get(one.event, 0.06)
        made.append(ReadEvent(one.time_s, lane, side, one.event, 1.96 * off, within(0.08, off)))
    return made


def _bridged(
    events: Sequence[ReadEvent], times_s: Series, seen: NDArray[np.bool_]
) -> list[ReadEvent]:
    """Events, those in a stretch in which their limb was mostly out of sight called bridged."""
    found = []
    for event in events:
        beside = np.abs(times_s - event.time_s) <= _BESIDE_S
        if seen[beside].mean() < _LEAST_SEEN:
            event = replace(
                event, bridged=True, u95_s=_BRIDGED_OFF * event.u95_s,
                confidence=round(within(0.08, _BRIDGED_OFF * event.u95_s / 1.96), 3),
            )  # fmt: skip
        found.append(event)
    return found


def within(most_s: float, off_s: float) -> float:
    """How often something that is off by an SD of off_s lies within most_s, 0 to 1."""
    return round(erf(most_s / (off_s * sqrt(2))), 3)


def _breaths(
    limbs: Limbs, times_s: Series, stroke: StrokeName, templates: Templates, numbers: Series,
    openings: Series, reasons: dict[str, str],
) -> list[ReadEvent]:  # fmt: skip
    if stroke in ALTERNATING:
        reasons["breaths"] = "breaths to the side can't be seen in films from the side"
        return []
    places = {e: templates.arms.events[e] for e in BREATH}
    found = front_breaths(times_s, limbs.head, numbers, openings, places, stroke == "breaststroke")
    if not found:
        reasons["breaths"] = "the head does not clearly come up"
    off = {e: templates.offs.get(e, 0.08) for e in BREATH}
    return [
        ReadEvent(t, "breath", "" if e == "down" else "front", e, 1.96 * off[e],
                  round(within(0.08, off[e]) * clear, 3))
        for e, t, clear in found
    ]  # fmt: skip


def _legs(
    limbs: Limbs, times_s: Series, stroke: StrokeName, templates: Templates, cycle_s: float,
    path: PhasePath, clock: tuple[Series, Series], changed: Series | None,
    reasons: dict[str, str],
) -> list[ReadEvent]:  # fmt: skip
    if templates.legs is not None:
        return _leg_cycle(limbs, times_s, templates, cycle_s, reasons)
    if stroke in ALTERNATING and templates.kick_motion is not None:
        return _stirred(times_s, changed, templates.kick_motion, clock, reasons)
    if stroke in ALTERNATING:
        found = _flutter(limbs, times_s, templates.kicks, path, clock, reasons)
    else:
        found = dolphin(times_s, limbs.feet, *clock)
    if found is None:
        reasons.setdefault("kicks", "the feet show no steady kick")
        return []
    at, clear = found
    off = templates.offs.get("beat", 0.06)
    return [
        ReadEvent(t, "leg", "", "beat", 1.96 * off, round(within(0.08, off) * clear, 3)) for t in at
    ]


def _stirred(
    times_s: Series, changed: Series | None, learnt: KickMotion, clock: tuple[Series, Series],
    reasons: dict[str, str],
) -> list[ReadEvent]:  # fmt: skip
    rhythms = None if changed is None else leg_rhythms(times_s, changed, *clock)
    if rhythms is None:
        reasons["kicks"] = "the legs are out of sight most of the time"
        return []
    told = told_kicks(rhythms, learnt, times_s, *clock)
    if isinstance(told, str):
        reasons["kicks"] = told
        return []
    sure = round(within(0.08, told.off_s) * told.sure, 3)
    return [ReadEvent(t, "leg", "", "beat", 1.96 * told.off_s, sure) for t in told.at]


def _flutter(
    limbs: Limbs, times_s: Series, learnt: KickCount | None, path: PhasePath,
    clock: tuple[Series, Series], reasons: dict[str, str],
) -> tuple[list[float], float] | None:  # fmt: skip
    if learnt is None:
        return None
    features = kick_features(leg_heights(limbs), path.crossed, learnt.joints, times_s, *clock)
    if features is None:
        return None
    told = told_count(learnt.likely(features), standing_out(times_s, limbs.feet, *clock))
    if told is None:
        reasons["kicks"] = "the number of kicks per cycle can't be seen"
        return None
    beats, sure = told
    found = flutter(times_s, limbs.feet, *clock, beats)
    return (found[0], found[1] * sure) if found else None


def leg_heights(limbs: Limbs) -> dict[str, Series]:
    """Height of both, in trunk lengths: of ankles and knees above the line of the trunk."""
    return {"ankle": limbs.legs[:, :, 1], "knee": limbs.legs[:, :, 3], "toe": limbs.toes}


def _leg_cycle(
    limbs: Limbs, times_s: Series, templates: Templates, cycle_s: float, reasons: dict[str, str]
) -> list[ReadEvent]:
    """The legs of breaststroke have a way of their own: how they go with the arms is measured."""
    assert templates.legs is not None  # asked for by the only caller
    apart = float(np.median(np.diff(times_s)))
    path = phase_path(limbs.legs, templates.legs, cycle_s, apart, False)
    numbers, openings = clock_of(times_s, path.phase)
    if len(numbers) < 4:
        reasons["legs"] = "fewer than two whole cycles can be seen"
        return []
    mean = mean_cycle(times_s, path.near, numbers, openings, templates.legs.near, templates.legs)
    if mean.misfit > WORST:
        reasons["legs"] = "the legs do not move as in a breaststroke kick"
        return []
    return _told(mean, numbers, openings, templates.legs.events, "leg", "", templates.offs, times_s)
