"""Everything that can be wrong with the tables, found at load."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from difflib import get_close_matches

from norvik.core.frame.choices import CHOICES
from norvik.core.frame.measures import MEASURES
from norvik.core.frame.movement import FOLLOWED
from norvik.core.judging.coaching_model import (
    BODY_PARTS,
    COSTS,
    KIT,
    LEVELS,
    SLOTS,
    Band,
    Catalogue,
    Drill,
    Fault,
    Question,
)
from norvik.core.judging.on_frame import Rule
from norvik.core.judging.ranking import PARTS
from norvik.core.prescription.breath_holding import asks_for_breath_holding
from norvik.core.strokes import STROKES
from norvik.core.time.quantities import QUANTITIES

#: Bounds of a drill's numbers (own choice), the same for the form and for files.
MOST_REPEATS = 60
METRES, SECONDS, REST_S = (10, 400), (5, 600), (0, 600)
TAGS = ("under-water", "depth", "open-water", "paddles", "start")
#: Words of addresses that no drill may be called.
RESERVED_IDS = ("new", "cues", "import", "own.json")
_ID = re.compile(r"[a-z0-9][a-z0-9-]{0,79}")


def check(catalogue: Catalogue, frame_bands: Sequence[Band]) -> list[str]:
    """All that is wrong with the tables of all strokes, as sentences; empty when all is well."""
    wrong: list[str] = []
    for fault in catalogue.faults.values():
        wrong += _of_fault(fault, catalogue, frame_bands)
    for drill in catalogue.drills.values():
        wrong += of_drill(drill, catalogue)
        full = ("works_when", "easier", "rest_s", "levels")
        wrong += [f"drill {drill.id} has no {x}" for x in full if not getattr(drill, x)]
        if len(drill.mistakes) < 2:
            wrong.append(f"drill {drill.id} has fewer than two mistakes")
    for band in catalogue.bands:
        if band.quantity not in QUANTITIES:
            wrong.append(f"band {band.id} names unknown quantity {band.quantity}")
        if not band.source:
            wrong.append(f"band {band.id} has no source")
        wrong += _of_schools(f"band {band.id} holds for", band.school, catalogue.questions)
    return wrong + wrong_levels(catalogue.bands)


def wrong_levels(bands: Sequence[Band]) -> list[str]:
    """Bands of unknown levels, and those of a level beside which there is none for all."""
    general = [(b.id, b.school, b.strokes) for b in bands if not b.levels]
    wrong = [w for b in bands for w in _unknown(f"band {b.id} is for level", b.levels, LEVELS)]
    return wrong + [
        f"band {b.id} is for level {b.levels[0]} alone"
        for b in bands
        if b.levels and (b.id, b.school, b.strokes) not in general
    ]


def _of_fault(fault: Fault, catalogue: Catalogue, frame_bands: Sequence[Band]) -> list[str]:
    drills = catalogue.drills
    says = f"fault {fault.id}"
    wrong = [
        *_unknown(f"{says} leads to", fault.leads_to, catalogue.faults),
        *_unknown(f"{says} names drill", fault.drills, drills),
        *_unknown(f"{says} names band", fault.bands, {b.id for b in catalogue.bands}),
        *_unknown(f"{says} belongs to part", [fault.part], PARTS),
        *_unknown(f"{says} has cost", fault.costs, COSTS),
        *_unknown(f"{says} loads", fault.loads, BODY_PARTS),
        *_unknown(f"{says} is of stroke", fault.strokes, STROKES),
        *_unknown(f"{says} is for level", fault.levels, LEVELS),
        *_of_schools(f"{says} names", fault.unless_school, catalogue.questions),
    ]
    wrong += [f"{says}: {w}" for text in fault.shown_by if (w := _wrong_rule(text, frame_bands))]
    wrong += [
        f"{says} has no {x}"
        for x in ("cue", "why", "shows", "drills", "costs", "views", "source", "word", "also")
        if not getattr(fault, x)
    ]
    if len(fault.drills) < 2:
        wrong.append(f"{says} has fewer than two drills")
    wrong += [
        f"{says}: drill {d} does not say that it works on it"
        for d in fault.drills
        if d in drills and fault.id not in drills[d].works_on
    ]
    return wrong


def of_drill(drill: Drill, catalogue: Catalogue) -> list[str]:
    """All that is wrong with one drill, shipped or the coach's own."""
    says = f"drill {drill.id}"
    wrong = [
        *_unknown(f"{says} works on", drill.works_on, catalogue.faults),
        *_unknown(f"{says} feeds", drill.feeds, catalogue.faults),
        *_unknown(f"{says} has part", (*drill.not_with, *drill.loads), BODY_PARTS),
        *_unknown(f"{says} is for level", drill.levels, LEVELS),
        *_unknown(f"{says} needs kit", (*drill.kit, *drill.helps), KIT),
        *_unknown(f"{says} has slot", [drill.slot], SLOTS),
        *_unknown(f"{says} has place", [drill.place], ("water", "land")),
        *_of_schools(f"{says} names", drill.unless_school, catalogue.questions),
    ]
    wrong += [f"{says} works on and feeds {x}" for x in set(drill.feeds) & set(drill.works_on)]
    if not drill.works_on:
        wrong.append(f"{says} names no fault that it works on")
    if not drill.how:
        wrong.append(f"{says} does not say how it is done")
    if not 1 <= drill.repeats[0] <= drill.repeats[1] <= MOST_REPEATS:
        wrong.append(f"{says} needs repeats from a lower to a higher number, 1 to {MOST_REPEATS}")
    wrong += _out_of_bounds(drill, says)
    if not 1 <= drill.effort <= 6:
        wrong.append(f"{says} has an effort outside 1 to 6")
    if drill.place == "water" and not drill.metres and not drill.seconds:
        wrong.append(f"{says} has neither metres nor seconds")
    needed = ("name", "purpose", "source") if drill.own else (
        "name", "purpose", "cue", "progression", "source")  # fmt: skip
    wrong += [f"{says} has no {x}" for x in needed if not getattr(drill, x)]
    if words := asks_for_breath_holding(drill.texts):
        wrong.append(f"{says} asks for breath-holding (“{words}”), which can kill")
    return wrong


def _out_of_bounds(drill: Drill, says: str) -> list[str]:
    """Numbers that nobody swims, and texts that no page holds."""
    wrong = []
    if not _ID.fullmatch(drill.id) or drill.id in RESERVED_IDS:
        wrong.append(f"{says[:80]} has an id other than small letters, digits and hyphens")
    for name, value, (low, high) in (
        ("metres", drill.metres, METRES),
        ("seconds", drill.seconds, SECONDS),
        ("seconds of rest", drill.rest_s, REST_S),
    ):
        if value is not None and not low <= value <= high:
            wrong.append(f"{says} has {name} outside {low} to {high}")
    wrong += _unknown(f"{says} has tag", drill.tags, TAGS)
    for name, most in (("name", 60), ("purpose", 140), ("cue", 90), ("progression", 200),
                       ("easier", 200), ("works_when", 200)):  # fmt: skip
        if len(getattr(drill, name)) > most:
            wrong.append(f"{says[:80]} has a {name} of more than {most} letters")
    if sum(map(len, drill.how)) > 1200 or sum(map(len, drill.mistakes)) > 600:
        wrong.append(f"{says} has instructions that no page holds (1200 letters at most)")
    if any(ord(c) < 32 for text in drill.texts for c in text):
        wrong.append(f"{says} has control characters in its text")
    return wrong


#: Words that a complaint may list whole.
_FEW = 14


def _unknown(says: str, named: Iterable[str], known: Iterable[str]) -> list[str]:
    # Sorted, so that complaints read the same each time.
    every = sorted(set(known))

    def near(name: str) -> str:
        found = every if len(every) <= _FEW else get_close_matches(name, every, 3)
        return f" (known: {', '.join(found)})" if found else ""

    return [f"{says} unknown {x}{near(x)}" for x in sorted(set(named) - set(every))]


def _of_schools(
    says: str, named: Mapping[str, str], questions: Mapping[str, Question]
) -> list[str]:
    return [
        f"{says} unknown school {q}={s}"
        for q, s in named.items()
        if q not in questions or s not in {known.id for known in questions[q].schools}
    ]


def _wrong_rule(text: str, frame_bands: Sequence[Band]) -> str:
    """What is wrong with a rule of how a fault shows on the frame; empty when nothing is."""
    try:
        rule = Rule.read(text)
    except ValueError:
        return f"“{text}” is no rule"
    if rule.option:
        choice = CHOICES.get(rule.what)
        return "" if choice and choice.option(rule.option) else f"unknown choice {text}"
    if rule.what not in MEASURES and rule.what not in FOLLOWED:
        return f"unknown measure {rule.what}"
    limits = [
        b.fault_below if rule.direction == "<" else b.fault_above
        for b in frame_bands
        if b.quantity == rule.what
    ]
    if rule.direction and not any(limit is not None for limit in limits):
        return f"no band of {rule.what} has a fault limit for {text}"
    return ""
