"""From a chosen focus to at most three drills that suit this swimmer."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field

from norvik.core.judging.coaching_model import (
    KIT_WORDS,
    LEVEL_WORDS,
    SLOTS,
    Catalogue,
    Drill,
    Fault,
)
from norvik.core.prescription.instead import instead_of_drills

#: The effort of a drill in the school that drills slowly and lightly, of 6 (common practice).
LIGHT = 2


@dataclass(frozen=True)
class SwimmerProfile:
    """For whom drills are chosen. kit: owned. pain: body parts that hurt. schools: as chosen."""

    level: str
    kit: Collection[str] = ()
    pain: Collection[str] = ()
    schools: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class LeftOut:
    """A drill that would work on the focus but is not given, and why. pain: the part that hurts."""

    drill: Drill
    reason: str
    pain: str = ""


@dataclass(frozen=True, slots=True)
class Prescription:
    """drills: at most one of each slot, in the order of a session; the swim-off follows always.

    others: suitable, but not needed.
    """

    fault: Fault
    drills: tuple[Drill, ...]
    others: tuple[Drill, ...]
    left_out: tuple[LeftOut, ...]

    @property
    def instead(self) -> str:
        """What to do where pain alone leaves no drill; empty where there is one."""
        if self.drills:
            return ""
        return instead_of_drills({x.pain for x in self.left_out if x.pain})

    def instead_of(self, drill_id: str, kept: Collection[str]) -> Drill | None:
        """The next suitable drill in place of one that is kept: of its own slot, else of any.

        Asked again and again it goes round all of them. None when there is no other.
        """
        ring = [*self.drills, *self.others]
        at = next((n for n, d in enumerate(ring) if d.id == drill_id), None)
        if at is None:
            return None
        after = [d for d in ring[at + 1 :] + ring[:at] if d.id not in kept]
        own = [d for d in after if d.slot == ring[at].slot]
        return next(iter(own or after), None)


def prescribe(
    fault: Fault, catalogue: Catalogue, found: Collection[str], receiver: SwimmerProfile
) -> Prescription:
    """Choose drills for a focus.

    found: ids of all faults of this swimmer; no drill may feed one of them. The fault's own list
    is in order of preference; drills that name the fault come after.
    """
    named = [catalogue.drills[d] for d in fault.drills if d in catalogue.drills]
    more = [d for d in catalogue.drills.values() if fault.id in d.works_on and d not in named]
    # What the coach made for this fault comes first.
    listed = [d for d in more if d.own] + named + [d for d in more if not d.own]
    suitable: list[Drill] = []
    left_out: list[LeftOut] = []
    for drill in listed:
        reason = unsuitable(drill, catalogue, found, receiver)
        if reason:
            left_out.append(LeftOut(drill, reason, painful_for(drill, receiver)))
        else:
            suitable.append(drill)
    chosen = [d for slot in SLOTS if (d := next((d for d in suitable if d.slot == slot), None))]
    if chosen and not any(d.in_lengths for d in chosen):
        # Something of it has to be swum.
        chosen += [d for d in suitable if d.in_lengths][:1]
    others = tuple(d for d in suitable if d not in chosen)
    return Prescription(fault, tuple(chosen), others, tuple(left_out))


def unsuitable(
    drill: Drill, catalogue: Catalogue, found: Collection[str], receiver: SwimmerProfile
) -> str | None:
    """Why a drill is not for this swimmer now, in words; None when it is."""
    hurts = painful_for(drill, receiver)
    if hurts:
        return f"not with a painful {hurts}"
    feeds = [f for f in drill.feeds if f in found]
    if feeds:
        return f"it makes “{catalogue.faults[feeds[0]].name.lower()}”"
    if drill.levels and receiver.level not in drill.levels:
        return f"not for {LEVEL_WORDS[receiver.level][0]}"
    for question, school in drill.unless_school.items():
        chosen = catalogue.questions[question].chosen(dict(receiver.schools))
        if chosen.id == school:
            return f"not wanted by “{chosen.name.lower()}”"
    missing = [item for item in drill.kit if item not in receiver.kit]
    if missing:
        return f"needs {KIT_WORDS.get(missing[0], missing[0])}"
    return None


def painful_for(drill: Drill, receiver: SwimmerProfile) -> str:
    """The painful part that rules a drill out for this swimmer; empty when none does."""
    return next((p for p in (*drill.not_with, *drill.loads) if p in receiver.pain), "")


def effort_of(drill: Drill, catalogue: Catalogue, schools: Mapping[str, str]) -> int:
    """The effort of a drill, 1 to 6, by the school of how hard to drill.

    Slow and light holds for drills; the whole stroke keeps its own effort.
    """
    light = catalogue.questions["intensity"].chosen(dict(schools)).id == "slow"
    return min(drill.effort, LIGHT) if light and drill.slot != "whole" else drill.effort


def mistakes_of(drill: Drill, most: int | None = None) -> str:
    """The common mistakes of a drill in one line, as it follows a colon; empty without any."""
    kept = (m.rstrip(".") for m in drill.mistakes[:most])
    # "IM order" keeps its capitals.
    line = "; ".join(m if m[1:2].isupper() else m[:1].lower() + m[1:] for m in kept)
    return f"{line}." if line else ""


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


def care_of(drill: Drill) -> set[str]:
    """Body parts, tags and kit of one drill for which there may be a caution."""
    kit = {*drill.kit, *drill.helps} & {"paddles", "fins", "board"}
    return {*drill.loads, *drill.not_with, *drill.tags, *kit}


def topics_of(fault: Fault, drills: Collection[Drill], level: str, minor: bool = False) -> set[str]:
    """Body parts and tags for which cautions have to be shown."""
    topics = set(fault.loads)
    for drill in drills:
        topics |= care_of(drill) - set(drill.not_with)
    if level == "beginner":
        topics.add("beginner")
    if minor:
        topics.add("minor")
    return topics
