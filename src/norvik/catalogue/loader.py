"""Loads the tables and refuses them when they contradict themselves."""

from __future__ import annotations

from dataclasses import replace
from functools import cache
from pathlib import Path
from typing import TypeVar

import msgspec

from norvik.catalogue.checks import check, wrong_levels
from norvik.core.errors import CatalogueError
from norvik.core.frame.measures import MEASURES
from norvik.core.frame.movement import FOLLOWED
from norvik.core.judging.coaching_model import (
    LEVEL_WORDS,
    Band,
    Catalogue,
    Caution,
    Drill,
    Fault,
    Question,
    Strength,
    nearest,
)
from norvik.core.strokes import STROKES
from norvik.core.strokes.names import STROKE_NAMES, StrokeName, is_stroke

HERE = Path(__file__).parent
#: What every stroke has besides its own.
WALLS = "walls"
T = TypeVar("T")


@cache
def everything() -> Catalogue:
    """The checked tables of all strokes together. Raises CatalogueError with all that is wrong.

    Bands of one quantity for different strokes stand side by side here; use `load` to judge.
    """
    faults: list[Fault] = []
    strengths: list[Strength] = []
    drills: list[Drill] = []
    for name in (*STROKES, WALLS):
        strokes = (name,) if is_stroke(name) else STROKE_NAMES
        faults += [replace(f, strokes=f.strokes or strokes)
                   for f in _read(f"faults_{name}", "fault", Fault)]  # fmt: skip
        strengths += [replace(s, strokes=strokes)
                      for s in _read(f"strengths_{name}", "strength", Strength)]  # fmt: skip
        drills += _read(f"drills_{name}", "drill", Drill)
    catalogue = Catalogue(
        faults={f.id: f for f in faults},
        strengths={s.id: s for s in strengths},
        bands=tuple(_read("bands_timing", "band", Band)),
        drills={d.id: d for d in drills},
        questions={q.id: q for q in schools()},
        cautions=tuple(_read("cautions", "caution", Caution)),
    )
    complaints = check(catalogue, frame_bands())
    for kind, rows in (("fault", faults), ("strength", strengths), ("drill", drills)):
        ids = [row.id for row in rows]
        complaints += [f"{kind} {i} appears twice" for i in {i for i in ids if ids.count(i) > 1}]
    if complaints:
        raise CatalogueError("The tables are wrong: " + "; ".join(complaints))
    return catalogue


@cache
def load(stroke: StrokeName) -> Catalogue:
    """The checked tables of a stroke and of its walls. Raises CatalogueError."""
    if stroke not in STROKES:
        raise CatalogueError(f"There are no tables of {stroke}.")
    return of_stroke(everything(), stroke)


def of_stroke(tables: Catalogue, stroke: StrokeName) -> Catalogue:
    """What of all tables belongs to one stroke; causes lead to its own faults only."""
    faults = {f.id: f for f in tables.faults.values() if stroke in f.strokes}
    faults = {
        i: replace(f, leads_to=tuple(x for x in f.leads_to if x in faults))
        for i, f in faults.items()
    }
    return replace(
        tables,
        faults=faults,
        strengths={s.id: s for s in tables.strengths.values() if stroke in s.strokes},
        bands=tuple(b for b in tables.bands if not b.strokes or stroke in b.strokes),
        drills={d.id: d for d in tables.drills.values() if set(d.works_on) & set(faults)},
    )


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
    wrong += wrong_levels(bands)
    if wrong:
        raise CatalogueError("The bands of measures are wrong: " + "; ".join(wrong))
    return bands


@cache
def schools() -> tuple[Question, ...]:
    """The questions on which good coaches differ."""
    return tuple(_read("schools", "question", Question))


def frame_band(
    measure: str, stroke: StrokeName, chosen: dict[str, str], level: str = ""
) -> Band | None:
    """The band of a measure for a stroke, a swimmer's schools and level; None where there is none.

    Without a level the one for all holds.
    """
    questions = {q.id: q for q in schools()}
    fitting = (
        band
        for band in frame_bands()
        if band.quantity == measure
        and (not band.strokes or stroke in band.strokes)
        and all(questions[q].chosen(chosen).id == s for q, s in band.school.items())
    )
    return nearest(fitting, level)


def whose(band: Band, chosen: dict[str, str], level: str = "") -> str:
    """School and level that a band holds for, in words; empty where it holds for all."""
    questions = {q.id: q for q in schools()}
    named = [questions[q].chosen(chosen).name for q in band.school]
    if level in band.levels:
        named.append(f"for {LEVEL_WORDS[level][1]}")
    return ", ".join(named)


def _read(file: str, key: str, kind: type[T]) -> list[T]:
    path = HERE / f"{file}.toml"
    try:
        table = msgspec.toml.decode(path.read_bytes(), type=dict[str, list[kind]])  # type: ignore[valid-type]
    except (OSError, msgspec.MsgspecError) as error:
        raise CatalogueError(f"{path.name}: {error}") from error
    return table[key]
