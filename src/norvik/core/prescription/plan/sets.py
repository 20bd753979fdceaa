"""A session's technique block: sets in whole lengths that add up exactly."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from norvik.core.errors import PlanError
from norvik.core.judging.coaching_model import Drill, Fault
from norvik.core.pool import Pool
from norvik.core.prescription.breath_holding import asks_for_breath_holding

#: Own choice: the block's share of a session, and its metres.
LEAST_SHARE, USUAL_SHARE, MOST_SHARE = 0.10, 0.15, 0.20
LEAST_METRES, MOST_METRES = 200, 800
#: Own choice: the least share of the block that is swum whole, thinking of the one point.
SWIM_OFF_SHARE = 0.2
#: Own choice: which drill comes first where a block has no room for all of them.
_FIRST = ("main", "whole", "prepare")
#: Own choice: seconds of rest after each repeat, by effort.
REST_S = {1: 15, 2: 15, 3: 20, 4: 40, 5: 60, 6: 90}
#: Places of sets that the coach added are counted from here.
ADDED = 100
#: Under-water work has full rest (common practice; seconds own).
FULL_REST_S = 60


@dataclass(frozen=True, slots=True)
class Set:
    """repeats x lengths, with seconds of rest after each. drill: None for a swim-off.

    place: of its drill in the block, by which the coach fixes its repeats; None for a swim-off.
    fault: the focus it works on. keeps: an earlier focus that is kept alive. fixed: by the coach.
    added: by the coach, beside what is prescribed; its place is counted from ADDED.
    """

    fault: str
    name: str
    repeats: int
    lengths: int
    rest_s: int
    effort: int
    cue: str
    kit: tuple[str, ...] = ()
    note: str = ""
    drill: str | None = None
    place: int | None = None
    keeps: bool = False
    fixed: bool = False
    added: bool = False

    @property
    def total(self) -> int:
        """Lengths of the whole set."""
        return self.repeats * self.lengths


@dataclass(frozen=True, slots=True)
class FocusDrills:
    """A focus with its drills in the order of a session, and efforts by the swimmer's school."""

    fault: Fault
    drills: tuple[Drill, ...]
    effort: Callable[[Drill], int]

    @property
    def in_water(self) -> list[Drill]:
        return [d for d in self.drills if d.in_lengths]

    @property
    def on_the_spot(self) -> list[Drill]:
        """Drills without lengths: on land, or standing in the water."""
        return [d for d in self.drills if not d.in_lengths]


def block_lengths(session_lengths: int, pool: Pool) -> int:
    """Lengths of the technique block: 10 to 20 % of the session, at least 200 and at most 800 m.

    The 200 m win over the 20 % in a short session. An even number, so that it ends where it
    began, wherever the limits allow.
    """
    least = _least(session_lengths, pool)
    most = min(math.floor(MOST_METRES / pool.metres), math.floor(MOST_SHARE * session_lengths))
    most = max(most, least)
    wanted = min(most, max(least, round(USUAL_SHARE * session_lengths)))
    if wanted % 2:
        wanted += 1 if wanted < most else -1 if wanted > least else 0
    return wanted


@lru_cache(maxsize=256)
def _least(session_lengths: int, pool: Pool) -> int:
    of_it = math.ceil(LEAST_SHARE * session_lengths - 1e-9)
    most = math.floor(MOST_METRES / pool.metres)
    return max(math.ceil(LEAST_METRES / pool.metres), min(of_it, most))


def fitting(lengths: int, session_lengths: int, pool: Pool, work: FocusDrills) -> int:
    """A block no longer than its drills can fill together with as much swimming after them."""
    most = sum(
        d.repeats[1] * (2 if d.per_side else 1) * pool.lengths_near(d.swum_metres)
        for d in work.in_water
    )
    return max(_least(session_lengths, pool), min(lengths, 2 * most)) if most else lengths


def block(
    lengths: int,
    pool: Pool,
    work: FocusDrills,
    week: int,
    keep: FocusDrills | None = None,
    fixed: Mapping[int, int] | None = None,
    added: Sequence[tuple[int, Drill, int]] = (),
    turn: int = 0,
) -> list[Set]:
    """The sets of a block of so many lengths, which they fill exactly.

    A drill comes with its full dose or not at all: where there is no room for all, they take turns
    from session to session (turn counts these). week: of this focus, from 0: doses grow from their
    low to their high end. keep: an earlier focus that gets one set. fixed: place of a set to the
    repeats that the coach set. added: (place, drill, repeats) of sets beside those that are
    prescribed. Raises PlanError where that leaves nothing for the swim-off.
    """
    fixed = fixed or {}
    places = _places(pool, work, keep)
    _refuse_breath_holding([d for d, *_ in places] + [d for _, d, _ in added])
    extra = [
        replace(_set(drill, work, repeats, pool.lengths_near(drill.swum_metres), pool),
                place=place, fixed=True, added=True)
        for place, drill, repeats in added
    ]  # fmt: skip
    in_all, lengths = lengths, lengths - total(extra)
    doses = _doses(places, lengths, week, turn, work, fixed)
    made = [
        replace(
            _set(drill, owner, doses[n], each, pool),
            place=n,
            keeps=owner is not work,
            fixed=n in fixed,
        )
        for n, (drill, owner, each) in enumerate(places)
        if doses.get(n, 0) > 0
    ]
    left = lengths - total(made)
    if left < 1:
        raise PlanError(
            f"The sets that you fixed fill more than the {pool.says(in_all)} {pool.unit} of "
            "technique. Remove some repeats; the swim-off needs a length, too."
        )
    return [*made, *extra, _swim_off(work, left, pool)]


_Places = Sequence[tuple[Drill, FocusDrills, int]]


def _places(
    pool: Pool, work: FocusDrills, keep: FocusDrills | None
) -> list[tuple[Drill, FocusDrills, int]]:
    """Drill, its focus and lengths of a repeat, in the order of the block."""
    found = [(d, work, pool.lengths_near(d.swum_metres)) for d in work.in_water]
    if keep is not None and keep.in_water:
        main = next((d for d in keep.in_water if d.slot == "main"), keep.in_water[0])
        found.insert(0, (main, keep, pool.lengths_near(main.swum_metres)))
    return found


def _doses(
    places: _Places, lengths: int, week: int, turn: int, work: FocusDrills, fixed: Mapping[int, int]
) -> dict[int, int]:
    """Repeats by place: what was fixed, an earlier focus, then the drills in turn."""
    doses = dict(fixed)
    left = lengths - sum(places[n][2] * repeats for n, repeats in fixed.items() if n < len(places))
    left -= max(1, math.ceil(SWIM_OFF_SHARE * lengths))
    open_places = [n for n in range(len(places)) if n not in fixed]
    kept = [n for n in open_places if places[n][1] is not work]
    own = sorted(
        (n for n in open_places if places[n][1] is work),
        key=lambda n: _FIRST.index(places[n][0].slot),
    )
    at = turn % len(own) if own else 0
    for n in kept:
        # Its one set a week: never more than half of the room of the focus in training.
        drill, _, each = places[n]
        step = 2 if drill.per_side else 1
        room = max(step, left // 2 // each // step * step)
        doses[n] = min(_least_dose(drill), room)
        left -= doses[n] * each
    for n in [*own[at:], *own[:at]]:
        drill, _, each = places[n]
        for repeats in _full_doses(drill, week):
            if repeats * each <= left:
                doses[n] = repeats
                left -= repeats * each
                break
    given = [n for n in doses if n < len(places) and places[n][1] is work]
    if own and not given:
        # No dose fits: as many as there is room for, which is better than none.
        n = min(own, key=lambda n: _least_dose(places[n][0]) * places[n][2])
        drill, _, each = places[n]
        step = 2 if drill.per_side else 1
        repeats = max(0, left // each // step * step)
        if repeats:
            doses[n] = repeats
    return doses


def _least_dose(drill: Drill) -> int:
    return drill.repeats[0] * (2 if drill.per_side else 1)


def _full_doses(drill: Drill, week: int) -> list[int]:
    """Repeats within the dose, the one for this week first, down to the lowest."""
    low, high = drill.repeats
    dose = min(high, low + round((high - low) * min(week, 2) / 2))
    sides = 2 if drill.per_side else 1
    return [sides * n for n in range(dose, low - 1, -1)]


def _refuse_breath_holding(drills: Sequence[Drill]) -> None:
    for drill in drills:
        if words := _asks(*drill.texts):
            raise PlanError(
                f"“{drill.name}” asks for breath-holding ({words}), which can kill. "
                "Change the drill before planning with it."
            )


@lru_cache(maxsize=1024)
def _asks(*texts: str) -> str:
    return asks_for_breath_holding(texts)


def _set(drill: Drill, owner: FocusDrills, repeats: int, each: int, pool: Pool) -> Set:
    effort = owner.effort(drill)
    rest = drill.rest_s or REST_S[effort]
    if "under-water" in drill.tags and drill.effort > 1:
        rest = max(rest, FULL_REST_S)
    wanted = drill.swum_metres
    if each * pool.metres > 1.5 * wanted:
        note = f"{wanted} m of each length as the drill, then swim on to the wall"
    elif drill.per_side:
        note = f"{repeats // 2} each side"
    else:
        note = ""
    return Set(owner.fault.id, drill.name, repeats, each, max(rest, REST_S[effort]), effort,
               drill.cue, drill.kit, note, drill.id)  # fmt: skip


def _swim_off(work: FocusDrills, lengths: int, pool: Pool) -> Set:
    """The whole stroke, thinking of the one point; repeats near 50 m where the lengths allow."""
    each = next((n for n in (pool.lengths_near(50), 2, 1) if lengths % n == 0 and n <= lengths), 1)
    return Set(work.fault.id, "Swim, thinking of the one point", lengths // each, each,
               REST_S[2], 2, work.fault.cue)  # fmt: skip


def total(sets: Sequence[Set]) -> int:
    """Lengths of all sets."""
    return sum(s.total for s in sets)
