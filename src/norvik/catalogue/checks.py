"""Everything that can be wrong with the tables, found at load."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from norvik.core.breath_holding import asks_for_breath_holding
from norvik.core.current import PARTS
from norvik.core.frame.choices import CHOICES
from norvik.core.frame.measures import MEASURES
from norvik.core.frame.movement import FOLLOWED
from norvik.core.on_frame import Rule
from norvik.core.quantities import QUANTITIES
from norvik.core.strokes import STROKES
from norvik.core.tables import (
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


def check(catalogue: Catalogue, frame_bands: Sequence[Band]) -> list[str]:
    """All that is wrong with the tables of all strokes, as sentences; empty when all is well."""
    wrong: list[str] = []
    for fault in catalogue.faults.values():
        wrong += _of_fault(fault, catalogue, frame_bands)
    for drill in catalogue.drills.values():
        wrong += of_drill(drill, catalogue)
        wrong += [f"drill {drill.id} has no {x}" for x in ("works_when", "easier", "rest_s", "levels")
                  if not getattr(drill, x)]  # fmt: skip
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
    if not drill.works_on or not drill.how or not 1 <= drill.repeats[0] <= drill.repeats[1]:
        wrong.append(f"{says} lacks a fault, instructions or a dose")
    if not 1 <= drill.effort <= 6:
        wrong.append(f"{says} has an effort outside 1 to 6")
    if drill.place == "water" and not drill.metres and not drill.seconds:
        wrong.append(f"{says} has neither metres nor seconds")
    wrong += [f"{says} has no {x}" for x in ("name", "purpose", "cue", "progression", "source")
              if not getattr(drill, x)]  # fmt: skip
    if words := asks_for_breath_holding(drill.texts):
        wrong.append(f"{says} asks for breath-holding (“{words}”), which can kill")
    return wrong


def _unknown(says: str, named: Iterable[str], known: Iterable[str]) -> list[str]:
    # Sorted, so that complaints read the same each time.
    return [f"{says} unknown {x}" for x in sorted(set(named) - set(known))]


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
