"""From a chosen focus to at most three drills that suit this swimmer."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from norvik.core.tables import Catalogue, Drill, Fault

#: The order of a session: land or very slow, then the main drill, then the whole stroke.
SLOTS = ("prepare", "main", "whole")


@dataclass(frozen=True, slots=True)
class LeftOut:
    """A drill that would work on the focus but is not given, and why."""

    drill: Drill
    reason: str


@dataclass(frozen=True, slots=True)
class Prescription:
    """drills: at most three, in the order of a session. others: suitable, but not needed."""

    fault: Fault
    drills: tuple[Drill, ...]
    others: tuple[Drill, ...]
    left_out: tuple[LeftOut, ...]


def prescribe(
    fault: Fault,
    catalogue: Catalogue,
    found: Collection[str],
    level: str,
    kit: Collection[str],
    pain: Collection[str],
) -> Prescription:
    """Choose drills for a focus.

    found: ids of all faults of this swimmer; no drill may feed one of them. The fault's own list
    is in order of preference; drills that name the fault come after.
    """
    listed = [catalogue.drills[d] for d in fault.drills]
    listed += [d for d in catalogue.drills.values() if fault.id in d.works_on and d not in listed]
    suitable: list[Drill] = []
    left_out: list[LeftOut] = []
    for drill in listed:
        reason = unsuitable(drill, catalogue, found, level, kit, pain)
        if reason:
            left_out.append(LeftOut(drill, reason))
        else:
            suitable.append(drill)
    chosen: list[Drill] = []
    for slot in SLOTS:
        first = next((d for d in suitable if d.slot == slot), None)
        if first:
            chosen.append(first)
    for drill in suitable:
        if len(chosen) < min(len(SLOTS), len(fault.drills)) and drill not in chosen:
            chosen.append(drill)
    chosen.sort(key=lambda d: SLOTS.index(d.slot))
    others = tuple(d for d in suitable if d not in chosen)
    return Prescription(fault, tuple(chosen), others, tuple(left_out))


def unsuitable(
    drill: Drill,
    catalogue: Catalogue,
    found: Collection[str],
    level: str,
    kit: Collection[str],
    pain: Collection[str],
) -> str | None:
    """Why a drill is not for this swimmer now, in words; None when it is."""
    hurts = [part for part in (*drill.not_with, *drill.loads) if part in pain]
    if hurts:
        return f"not with a painful {hurts[0]}"
    feeds = [f for f in drill.feeds if f in found]
    if feeds:
        return f"it would feed “{catalogue.faults[feeds[0]].name.lower()}”"
    if drill.levels and level not in drill.levels:
        return f"not for a {level}"
    missing = [item for item in drill.kit if item not in kit]
    if missing:
        return f"needs a {missing[0]}"
    return None


def dose(drill: Drill) -> str:
    """The starting dose in words: "4 to 8 × 25 m"."""
    low, high = drill.repeats
    times = str(low) if low == high else f"{low} to {high}"
    if drill.metres is not None:
        each = f" × {drill.metres} m"
    elif drill.seconds is not None:
        each = f" × {drill.seconds} s"
    else:
        each = " times"
    return times + each + (" a side" if drill.per_side else "")


def topics_of(fault: Fault, drills: Collection[Drill], level: str) -> set[str]:
    """Body parts and tags for which cautions have to be shown."""
    topics = set(fault.loads)
    for drill in drills:
        topics |= set(drill.loads) | set(drill.tags)
    if level == "beginner":
        topics.add("beginner")
    return topics
