"""The tables as this coach has them: shipped ones with own drills, own versions, own cues."""

from __future__ import annotations

import re
import sqlite3
from dataclasses import replace

from norvik.catalogue.checks import of_drill
from norvik.catalogue.loader import everything, load, of_stroke
from norvik.core.errors import BreathHoldingError, CatalogueError
from norvik.core.judging.coaching_model import Catalogue, Drill
from norvik.core.prescription.breath_holding import breath_holding, says_under_water
from norvik.core.strokes.names import StrokeName
from norvik.store import own_drills
from norvik.store.connection import transaction
from norvik.store.own_drills import OwnDrill


def all_tables(connection: sqlite3.Connection, with_hidden: bool = False) -> Catalogue:
    """Tables of all strokes. with_hidden: also drills that the coach took out of use."""
    return _merged(own_drills.every(connection), own_drills.cues(connection), with_hidden)


def tables_of(connection: sqlite3.Connection, stroke: StrokeName) -> Catalogue:
    """The tables of a stroke."""
    changed, cues = own_drills.every(connection), own_drills.cues(connection)
    if not changed and not cues:
        return load(stroke)
    return of_stroke(_merged(changed, cues, False), stroke)


def _merged(changed: list[OwnDrill], cues: dict[str, str], with_hidden: bool) -> Catalogue:
    tables = everything()
    drills = dict(tables.drills)
    for own in changed:
        if own.drill is not None:
            drills[own.id] = own.drill
        if own.hidden and not with_hidden:
            drills.pop(own.id, None)
    faults = {
        f.id: replace(
            f,
            cue=cues.get(f.id, f.cue),
            drills=tuple(d for d in f.drills if d in drills and f.id in drills[d].works_on),
        )
        for f in tables.faults.values()
    }
    return replace(tables, drills=drills, faults=faults)


def save_drill(connection: sqlite3.Connection, drill: Drill, meant: bool = False) -> None:
    """Check and store a drill. Raises CatalogueError with all that is wrong.

    meant: the coach has said that words which may be read as breath-holding do not ask for it.
    Raises BreathHoldingError where that has to be asked first.
    """
    drill = cared_for(drill)
    wrong = of_drill(drill, everything())
    asked = breath_holding(drill.texts)
    if not wrong and asked and not asked.sure and not meant:
        raise BreathHoldingError(
            f"“{asked.words}” may be read as holding the breath, which can kill. Change the words, "
            "or tick that nobody is asked to hold the breath."
        )
    if wrong:
        # The coach knows which drill it is.
        said = [w.removeprefix(f"drill {drill.id} ") for w in wrong]
        raise CatalogueError("This drill is not kept yet: it " + "; it ".join(said) + ".")
    own_drills.put(connection, drill)


def cared_for(drill: Drill) -> Drill:
    """A drill with the caution that belongs to it: work under water, whoever wrote it."""
    if says_under_water((drill.name, *drill.how)) and "under-water" not in drill.tags:
        return replace(drill, tags=(*drill.tags, "under-water"))
    return drill


def new_id(connection: sqlite3.Connection, name: str) -> str:
    """An id for a new drill, made from its name, that no other one has."""
    base = "own-" + (re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:40] or "drill")
    taken = {*everything().drills, *(d.id for d in own_drills.every(connection))}
    at, n = base, 2
    while at in taken:
        at, n = f"{base}-{n}", n + 1
    return at


def take_in(
    connection: sqlite3.Connection, drills: list[Drill], hidden: list[str], cues: dict[str, str]
) -> None:
    """Store what an imported file brings, all of it or nothing. Raises CatalogueError."""
    tables = everything()
    drills = [cared_for(d) for d in drills]
    wrong = [w for d in drills for w in of_drill(d, tables)]
    for d in drills:
        asked = breath_holding(d.texts)
        if asked and not asked.sure:
            wrong.append(
                f"drill {d.id[:80]} may ask for breath-holding (“{asked.words}”): change the "
                "words, or enter it on the page"
            )
    wrong += [f"the cue for {f[:40]} has more than 120 letters" for f, c in cues.items()
              if len(c) > 120]  # fmt: skip
    wrong += [f"unknown drill {d} is hidden" for d in hidden
              if d not in tables.drills and d not in {x.id for x in drills}]  # fmt: skip
    wrong += [f"a cue for unknown fault {f}" for f in cues if f not in tables.faults]
    if wrong:
        raise CatalogueError("Nothing was taken in: " + "; ".join(wrong) + ".")
    with transaction(connection):
        for drill in drills:
            own_drills.put(connection, drill)
        for drill_id in hidden:
            own_drills.hide(connection, drill_id, True)
        for fault, cue in cues.items():
            own_drills.set_cue(connection, fault, cue)
