"""Loads the tables of a stroke and refuses them when they contradict themselves."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import TypeVar

import msgspec

from norvik.core.current import PARTS
from norvik.core.errors import CatalogueError
from norvik.core.frame.choices import CHOICES
from norvik.core.frame.measures import MEASURES
from norvik.core.frame.movement import FOLLOWED
from norvik.core.on_frame import Rule
from norvik.core.quantities import QUANTITIES
from norvik.core.tables import (
    BODY_PARTS,
    COSTS,
    Band,
    Catalogue,
    Caution,
    Drill,
    Fault,
    Question,
    Strength,
)

HERE = Path(__file__).parent
T = TypeVar("T")


@cache
def load(stroke: str) -> Catalogue:
    """The checked tables of a stroke. Raises CatalogueError naming every contradiction."""
    faults = _read(f"faults_{stroke}", "fault", Fault)
    strengths = _read(f"strengths_{stroke}", "strength", Strength)
    drills = _read(f"drills_{stroke}", "drill", Drill)
    questions = _read("schools", "question", Question)
    catalogue = Catalogue(
        faults={f.id: f for f in faults},
        strengths={s.id: s for s in strengths},
        bands=tuple(_read(f"bands_{stroke}", "band", Band)),
        drills={d.id: d for d in drills},
        questions={q.id: q for q in questions},
        cautions=tuple(_read("cautions", "caution", Caution)),
    )
    complaints = check(catalogue)
    for kind, rows in (("fault", faults), ("strength", strengths), ("drill", drills)):
        ids = [row.id for row in rows]
        complaints += [f"{kind} {i} stands twice" for i in {i for i in ids if ids.count(i) > 1}]
    if complaints:
        raise CatalogueError(f"The tables of {stroke} are wrong: " + "; ".join(complaints))
    return catalogue


@cache
def frame_bands() -> tuple[Band, ...]:
    """The checked bands of measures on the frame. Raises CatalogueError."""
    bands = tuple(_read("bands_frame", "band", Band))
    questions = {q.id: {s.id for s in q.schools} for q in schools()}
    wrong = [f"band {b.id} is of unknown measure {b.quantity}" for b in bands
             if b.quantity not in MEASURES and b.quantity not in FOLLOWED]  # fmt: skip
    wrong += [f"band {b.id} has no source" for b in bands if not b.source]
    wrong += [f"band {b.id} holds for unknown school {q}={s}" for b in bands
              for q, s in b.school.items() if s not in questions.get(q, ())]  # fmt: skip
    if wrong:
        raise CatalogueError("The bands of measures are wrong: " + "; ".join(wrong))
    return bands


@cache
def schools() -> tuple[Question, ...]:
    """The questions on which good coaches differ."""
    return tuple(_read("schools", "question", Question))


def frame_band(measure: str, stroke: str, chosen: dict[str, str]) -> Band | None:
    """The band of a measure for a stroke and a swimmer's schools; None where there is none."""
    questions = {q.id: q for q in schools()}
    for band in frame_bands():
        if band.quantity != measure or (band.strokes and stroke not in band.strokes):
            continue
        if all(questions[q].chosen(chosen).id == s for q, s in band.school.items()):
            return band
    return None


def school_of(band: Band, chosen: dict[str, str]) -> str:
    """Name of the school that a band holds for; empty where it holds for all."""
    questions = {q.id: q for q in schools()}
    return ", ".join(questions[q].chosen(chosen).name for q in band.school)


def has_catalogue(stroke: str) -> bool:
    """Can clips of this stroke be judged yet?"""
    return (HERE / f"faults_{stroke}.toml").is_file()


def _read(file: str, key: str, kind: type[T]) -> list[T]:
    path = HERE / f"{file}.toml"
    try:
        table = msgspec.toml.decode(path.read_bytes(), type=dict[str, list[kind]])  # type: ignore[valid-type]
    except (OSError, msgspec.MsgspecError) as error:
        raise CatalogueError(f"{path.name}: {error}") from error
    return table[key]


def _wrong_rule(text: str) -> str:
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
        for b in frame_bands()
        if b.quantity == rule.what
    ]
    if rule.direction and not any(limit is not None for limit in limits):
        return f"no band of {rule.what} has a fault limit for {text}"
    return ""


def check(catalogue: Catalogue) -> list[str]:
    """Everything that is wrong with the tables, as sentences; empty when all is well."""
    wrong: list[str] = []
    band_ids = {b.id for b in catalogue.bands}
    for f in catalogue.faults.values():
        wrong += [
            f"fault {f.id} leads to unknown {x}" for x in set(f.leads_to) - set(catalogue.faults)
        ]
        wrong += [
            f"fault {f.id} names unknown drill {x}" for x in set(f.drills) - set(catalogue.drills)
        ]
        wrong += [f"fault {f.id} names unknown band {x}" for x in set(f.bands) - band_ids]
        wrong += [f"fault {f.id}: {w}" for text in f.shown_by if (w := _wrong_rule(text))]
        if f.part not in PARTS:
            wrong.append(f"fault {f.id} belongs to unknown part {f.part}")
        wrong += [f"fault {f.id} has unknown cost {x}" for x in set(f.costs) - set(COSTS)]
        wrong += [f"fault {f.id} loads unknown {x}" for x in set(f.loads) - set(BODY_PARTS)]
        wrong += [
            f"fault {f.id} has no {x}"
            for x in ("cue", "why", "shows", "drills", "costs", "views")
            if not getattr(f, x)
        ]
        wrong += [
            f"fault {f.id}: drill {d} does not say that it works on it"
            for d in f.drills
            if d in catalogue.drills and f.id not in catalogue.drills[d].works_on
        ]
    for d in catalogue.drills.values():
        wrong += [
            f"drill {d.id} works on unknown {x}" for x in set(d.works_on) - set(catalogue.faults)
        ]
        wrong += [f"drill {d.id} feeds unknown {x}" for x in set(d.feeds) - set(catalogue.faults)]
        wrong += [f"drill {d.id} works on and feeds {x}" for x in set(d.feeds) & set(d.works_on)]
        wrong += [
            f"drill {d.id} has unknown part {x}"
            for x in (set(d.not_with) | set(d.loads)) - set(BODY_PARTS)
        ]
        if d.slot not in ("prepare", "main", "whole"):
            wrong.append(f"drill {d.id} has unknown slot {d.slot}")
        if not d.works_on or not d.how or not 1 <= d.repeats[0] <= d.repeats[1]:
            wrong.append(f"drill {d.id} lacks a fault, instructions or a dose")
    for b in catalogue.bands:
        if b.quantity not in QUANTITIES:
            wrong.append(f"band {b.id} names unknown quantity {b.quantity}")
        if not b.source:
            wrong.append(f"band {b.id} has no source")
        for question, school in b.school.items():
            known = catalogue.questions.get(question)
            if known is None or school not in {s.id for s in known.schools}:
                wrong.append(f"band {b.id} holds for unknown school {question}={school}")
    return wrong
