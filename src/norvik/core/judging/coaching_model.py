"""The trade's tables as plain values: what a fault, a band, a drill, a school is."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace

from norvik.core.strokes.names import StrokeName

COSTS = {
    "D": "drag",
    "P": "propulsion",
    "R": "rhythm",
    "S": "shoulder load",
    "B": "back load",
    "A": "air",
}
#: Where a fact comes from when its row says nothing else.
PRACTICE = "common practice"
BODY_PARTS = ("shoulder", "elbow", "neck", "back", "hip", "knee", "ankle")
LEVELS = ("beginner", "improver", "advanced")
#: One swimmer of a level, and several, in words.
LEVEL_WORDS = {
    "beginner": ("a beginner", "beginners"),
    "improver": ("an improver", "improvers"),
    "advanced": ("an advanced swimmer", "advanced swimmers"),
}
#: What a swimmer may own and a drill may need.
KIT = ("fins", "buoy", "board", "paddles", "beeper", "snorkel", "wetsuit", "cord", "cup")
#: One of it, with its article where it has one.
KIT_WORDS = {
    "buoy": "a buoy", "board": "a board", "beeper": "a beeper", "snorkel": "a snorkel",
    "wetsuit": "a wetsuit", "cord": "a cord", "cup": "a cup",
}  # fmt: skip
#: The order of a session: land or very slow, then the main drill, then the whole stroke.
SLOTS = ("prepare", "main", "whole")


@dataclass(frozen=True)
class Fault:
    """bands: ids of bands that must all be outside (empty: ticked by eye). shown_by: measures and
    choices on the frame of which one is enough, see core.on_frame. part: of the stroke, see
    core.current. loads: body parts.

    levels: swimmers for whom it is a fault (empty: all). unless_school: question to the school
    for which it is none. sided: shown on left or right. strokes: in which it is one. word: the one
    for the back of a hand. also: what else coaches call it. rule: of competition that it breaks.
    """

    id: str
    name: str
    shows: str
    why: str
    cue: str
    costs: tuple[str, ...]
    views: tuple[str, ...]
    drills: tuple[str, ...]
    word: str = ""
    also: tuple[str, ...] = ()
    rule: str = ""
    leads_to: tuple[str, ...] = ()
    bands: tuple[str, ...] = ()
    shown_by: tuple[str, ...] = ()
    part: str = ""
    loads: tuple[str, ...] = ()
    levels: tuple[str, ...] = ()
    unless_school: dict[str, str] = field(default_factory=dict)
    sided: bool = False
    strokes: tuple[StrokeName, ...] = ()
    source: str = PRACTICE


@dataclass(frozen=True)
class Strength:
    """A good thing that a coach sees and ticks."""

    id: str
    name: str
    praise: str
    views: tuple[str, ...]
    sided: bool = False
    strokes: tuple[StrokeName, ...] = ()


@dataclass(frozen=True)
class Band:
    """Limits of one quantity. Between good and fault lies "watch".

    full: distance beyond the fault limit at which severity is 1. school: question to the school
    for which the band holds (empty: for all). strokes: those for which it holds (empty: all).
    levels: swimmers for whom it holds instead of the one for all (empty: that is this one).
    cycle_to_s: it holds for swims whose mean cycle is no longer than this, before those for every
    rate. praise: said when the value is surely good.
    """

    id: str
    quantity: str
    source: str
    good_from: float | None = None
    good_to: float | None = None
    fault_below: float | None = None
    fault_above: float | None = None
    full: float = 1.0
    school: dict[str, str] = field(default_factory=dict)
    strokes: tuple[StrokeName, ...] = ()
    levels: tuple[str, ...] = ()
    cycle_to_s: float | None = None
    praise: str = ""


def nearest(bands: Iterable[Band], level: str) -> Band | None:
    """Of bands that fit otherwise: that of the level, else the first one for all levels."""
    general = None
    for band in bands:
        if level in band.levels:
            return band
        if general is None and not band.levels:
            general = band
    return general


@dataclass(frozen=True)
class Drill:
    """slot: of SLOTS. repeats: from, to. metres (or seconds on land) of each. effort: 1 to 6.

    kit: needed; helps: welcome. feeds: faults that it makes worse. unless_school: question to a
    school that does not want it. own: the coach's. mistakes: common ones in the drill. works_when:
    how the swimmer knows that it works. easier: a simpler version; progression: the harder one.
    rest_s: seconds after each repeat; None goes by the effort.
    """

    id: str
    name: str
    slot: str
    purpose: str
    how: tuple[str, ...]
    cue: str
    repeats: tuple[int, int]
    progression: str
    effort: int
    works_on: tuple[str, ...]
    metres: int | None = None
    seconds: int | None = None
    per_side: bool = False
    place: str = "water"
    kit: tuple[str, ...] = ()
    helps: tuple[str, ...] = ()
    feeds: tuple[str, ...] = ()
    not_with: tuple[str, ...] = ()
    loads: tuple[str, ...] = ()
    levels: tuple[str, ...] = ()
    tags: tuple[str, ...] = ()
    unless_school: dict[str, str] = field(default_factory=dict)
    source: str = PRACTICE
    own: bool = False
    mistakes: tuple[str, ...] = ()
    works_when: str = ""
    easier: str = ""
    rest_s: int | None = None

    @property
    def in_lengths(self) -> bool:
        """Is it swum over metres? Else it is done on land, or on the spot in the water."""
        return self.metres is not None and self.place == "water"

    @property
    def swum_metres(self) -> int:
        """Metres of one repeat in lengths; 25 for a drill without (own choice)."""
        return self.metres or 25

    @property
    def texts(self) -> tuple[str, ...]:
        """Everything that a swimmer may read of it."""
        return (self.name, self.purpose, self.cue, self.progression, self.easier, self.works_when,
                *self.how, *self.mistakes)  # fmt: skip


@dataclass(frozen=True)
class School:
    id: str
    name: str
    says: str


@dataclass(frozen=True)
class Question:
    """Something on which good coaches differ; the first school is the default.

    strokes: for which it is asked; empty: for all.
    """

    id: str
    name: str
    schools: tuple[School, ...]
    strokes: tuple[StrokeName, ...] = ()

    def chosen(self, schools: dict[str, str]) -> School:
        """The school chosen in a swimmer's settings, or the default."""
        wanted = schools.get(self.id)
        return next((s for s in self.schools if s.id == wanted), self.schools[0])


@dataclass(frozen=True)
class Caution:
    id: str
    shown_for: tuple[str, ...]
    text: str


@dataclass(frozen=True)
class Catalogue:
    """All tables, or those of one stroke, checked at load.

    level: whose bands hold; empty: those for all.
    """

    faults: dict[str, Fault]
    strengths: dict[str, Strength]
    bands: tuple[Band, ...]
    drills: dict[str, Drill]
    questions: dict[str, Question]
    cautions: tuple[Caution, ...]
    level: str = ""

    def with_faults(self, more: Iterable[Fault]) -> Catalogue:
        """The same tables with more faults."""
        return replace(self, faults={**self.faults, **{f.id: f for f in more}})

    def for_level(self, level: str) -> Catalogue:
        """The same tables with the bands of a swimmer's level."""
        return replace(self, level=level)

    def band(self, band_id: str, schools: dict[str, str], cycle_s: float | None = None) -> Band:
        """The band that holds for these schools, level and rate. KeyError for an unknown id.

        cycle_s: mean cycle time of the swim; None where it is not known or does not matter.
        """
        fitting = [
            band
            for band in self.bands
            if band.id == band_id
            and all(self.questions[q].chosen(schools).id == s for q, s in band.school.items())
            and (band.cycle_to_s is None or (cycle_s is not None and cycle_s <= band.cycle_to_s))
        ]
        fitting.sort(key=lambda band: band.cycle_to_s is None)
        band = nearest(fitting, self.level)
        if band is None:
            raise KeyError(band_id)
        return band

    def cautions_for(self, topics: Iterable[str]) -> list[Caution]:
        """Cautions shown for any of these body parts or tags, in the table's order."""
        wanted = set(topics)
        return [c for c in self.cautions if wanted & set(c.shown_for)]
