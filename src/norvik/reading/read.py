"""Reading a film: follow the swimmer, tell the rate, and find the events of the stroke."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from norvik.core.errors import ReadingError
from norvik.core.reading.cycle import CycleTime, cycle_time
from norvik.core.reading.limbs import limbs_of
from norvik.core.reading.motion import stirred_cycle
from norvik.core.reading.on_frame import ReadMeasure, read_measures
from norvik.core.reading.stroke import VIEWS, ReadEvent, read_stroke
from norvik.core.reading.tracked import Places, enough, tracked_joints
from norvik.core.strokes.names import StrokeName
from norvik.reading.detect import Person
from norvik.reading.follow import Finder
from norvik.reading.followed import Followed, evenly, follow_film, legs_evenly, movement_of
from norvik.reading.network import PoseNetwork
from norvik.reading.parts import looks_like, swum_lengths
from norvik.reading.pictures import film_pictures, film_times, trunk_in_film
from norvik.reading.stir import Stir
from norvik.reading.templates import templates_of
from norvik.reading.tracked import followed_by_points

#: Of so many frames read the swimmer has to be found in one, or nothing is told.
_LEAST_FOUND = 0.2
#: Along the body only whether somebody swims: of the model's film-like films some show it in 0.18.
_LEAST_FOUND_ALONG = 0.1
#: Views along the body.
_ALONG = ("front", "behind")
_STIRRED = (
    "from the front or behind one arm hides the other; "
    "the rate comes from the movement in the picture"
)
_TURNS = "the swimmer turns in this film; mark the wall yourself"


@dataclass(frozen=True)
class Read:
    """What was read of a film.

    cycle: the time of a cycle, or None. events: of the stroke, in time order, none of them a mark.
    measures: on the frame, proposed with them. reasons: what cannot be told, and why. looks_like:
    the stroke that fits best, and how clearly, 0 to 1.
    """

    followed: Followed
    cycle: CycleTime | None = None
    events: tuple[ReadEvent, ...] = ()
    reasons: Mapping[str, str] = field(default_factory=dict)
    looks_like: tuple[str, float] | None = None
    measures: tuple[ReadMeasure, ...] = ()


def read_film(
    path: Path, stroke: StrokeName, network: PoseNetwork, finder: Finder, stretch: float = 1.0,
    tapped: Person | None = None, told: Callable[[int], None] | None = None, view: str = "",
) -> Read:  # fmt: skip
    """Read a film of one swimmer. FootageError where it cannot be decoded.

    stretch: how many times slower the film plays than real time. tapped: the swimmer in the first
    frame. told: the number of each frame that was read; what it raises ends the reading. view:
    where it was filmed from; without it no events are looked for.
    """
    usual = None if tapped else trunk_in_film(path, finder)
    stir = Stir()
    pictures = stir.beside(film_pictures(path, stretch))
    followed = follow_film(pictures, network, finder, usual, tapped, told)
    return read_followed(followed, stroke, view, stir)


def read_points(
    path: Path, stroke: StrokeName, points: Mapping[str, Places], stretch: float = 1.0,
    view: str = "",
) -> Read:  # fmt: skip
    """Read a film of which the joints were tracked, without looking at its pictures.

    points: by what a coach calls them, see `tracked_joints`. FootageError where the film cannot be
    decoded, ReadingError where too little was tracked.
    """
    tracked = tracked_joints(points)
    times_s = film_times(path, stretch)
    if not enough(tracked, times_s):
        raise ReadingError(
            "Shoulder, hip and wrist of one side, at least, have to be tracked in half of the "
            "frames. In these points they are not."
        )
    return read_followed(followed_by_points(tracked, times_s), stroke, view)


def read_followed(
    followed: Followed, stroke: StrokeName, view: str, stir: Stir | None = None
) -> Read:
    """What is told by where the joints of a swimmer are and, seen along the body, by how the
    picture stirs.
    """
    if not followed.poses:
        return _nothing(followed, view, "no swimmer was found in this film")
    along = view.startswith(_ALONG) and not followed.by_points
    if followed.seen < (_LEAST_FOUND_ALONG if along else _LEAST_FOUND):
        return _nothing(followed, view, "the swimmer is out of sight most of the time")
    if along:
        return _along_the_body(followed, stroke, view, stir or Stir())
    lengths = swum_lengths(followed) if view in VIEWS else []
    if len({stretch.heading for stretch, _ in lengths}) > 1:
        return _length_by_length(followed, [part for _, part in lengths], stroke, view)
    cycle = cycle_time(*movement_of(followed.poses, dict(followed.times_s)), stroke)
    if isinstance(cycle, str):
        return _nothing(followed, view, cycle)
    templates = templates_of(stroke, view, followed.by_points) if view in VIEWS else None
    if templates is None:
        reasons = {"events": "events are found only in films from the side"} if view else {}
        return Read(followed, cycle, (), reasons)
    times_s, joints = evenly(followed)
    limbs = limbs_of(joints)
    legs = legs_evenly(followed, times_s)
    found = read_stroke(limbs, times_s, stroke, templates, cycle.seconds, legs)
    measures = read_measures(
        joints, times_s, limbs, stroke, templates.arms, templates.measures, found.events
    )
    return Read(followed, cycle, found.events, found.reasons, looks_like(followed, view), measures)


def _length_by_length(
    followed: Followed, lengths: Sequence[Followed], stroke: StrokeName, view: str
) -> Read:
    """Up and down the pool: which arm the camera sees changes at the wall, and the clock stops."""
    read = [read_followed(length, stroke, view) for length in lengths]
    told = [(one, one.cycle) for one in read if one.cycle is not None]
    if not told:
        return _nothing(followed, view, read[0].reasons["rate"])
    cycles = sum(cycle.cycles for _, cycle in told)
    cycle = CycleTime(
        sum(c.seconds * c.cycles for _, c in told) / cycles,
        sum((c.u95 * c.cycles) ** 2 for _, c in told) ** 0.5 / cycles,
        min(c.like for _, c in told), cycles,
    )  # fmt: skip
    reasons = {what: why for one in reversed(read) for what, why in one.reasons.items()}
    reasons.pop("rate", None)
    if any(one.events for one in read):
        reasons.pop("events", None)
    longest = max(told, key=lambda one: one[1].cycles)[0]
    return Read(
        followed, cycle, tuple(e for one in read for e in one.events), reasons | {"walls": _TURNS},
        longest.looks_like, tuple(m for one in read for m in one.measures),
    )  # fmt: skip


def _along_the_body(followed: Followed, stroke: StrokeName, view: str, stir: Stir) -> Read:
    """Seen along the body the arms hide each other, and a network takes one for the other: in
    three of five films of the model swimmer the joints gave a rate that was off by 7 to 51 %. In
    other views tiles that pass stir as regularly as a stroke would, so joints alone tell there.
    """
    cycle = stirred_cycle(*stir.evenly(), stroke)
    if isinstance(cycle, str):
        return _nothing(followed, view, cycle)
    return Read(followed, cycle, (), {"events": _STIRRED})


def _nothing(followed: Followed, view: str, reason: str) -> Read:
    reasons = {"rate": reason, "events": reason}
    return Read(followed, None, (), reasons, looks_like(followed, view))
