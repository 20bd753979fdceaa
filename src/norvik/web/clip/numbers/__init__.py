"""The numbers beside the film, by topic: each with unit, plus-minus, count, and its frames."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from norvik.core.strokes.definitions import event_name
from norvik.core.time.quantities import QUANTITIES, TOPICS
from norvik.core.time.quantities import Topic as TopicId
from norvik.core.time.timing import Timing
from norvik.web.clip.numbers.arms import arms
from norvik.web.clip.numbers.parts import ArmShares, Number, Topic, Writer
from norvik.web.clip.numbers.rate import cycle_times, rate
from norvik.web.clip.numbers.walls import walls
from norvik.web.clip.numbers.words import breathing_pattern, pause_on_breath
from norvik.workflow.clip_timing import ClipTiming

__all__ = ["ArmShares", "Number", "Panel", "Topic", "panel"]

#: Whether a clip has anything of a topic; the others every clip has.
_KNOWN: dict[TopicId, Callable[[Timing], bool]] = {
    "coordination": lambda t: bool(t.gaps or t.fly_gaps or t.coordination),
    "kick": lambda t: t.kick is not None,
    "walls": lambda t: bool(t.walls),
    "speed": lambda t: bool(t.resolved.passes),
}
#: What stands before and after the quantities of a topic.
_BEFORE: dict[TopicId, Callable[[Writer], list[Number]]] = {
    "breathing": breathing_pattern,
    "walls": walls,
}
_AFTER: dict[TopicId, Callable[[Writer], list[Number]]] = {
    "rate": cycle_times,
    "kick": pause_on_breath,
}


@dataclass(frozen=True, slots=True)
class Panel:
    """rate: strokes a minute, cycles a minute, cycle time. problems: frame, mark, reason."""

    rate: tuple[Number, ...]
    arms: tuple[ArmShares, ...]
    topics: tuple[Topic, ...]
    problems: tuple[tuple[int, str, str], ...]
    cycles: int

    def topic(self, topic_id: str) -> tuple[Number, ...]:
        """The numbers of a topic; empty where the stroke has none of it."""
        return next((t.numbers for t in self.topics if t.id == topic_id), ())


def panel(timed: ClipTiming, only: str | None = None) -> Panel:
    """What the numbers panel shows of a clip. only: the one topic whose numbers are written."""
    writer = Writer(timed)
    shown = [t for t in TOPICS if t not in _KNOWN or _KNOWN[t](timed.timing)]
    if only not in shown:
        only = None
    return Panel(
        rate=tuple(rate(writer)),
        arms=tuple(a for a in arms(writer) if a.shares),
        topics=tuple(
            Topic(t, TOPICS[t], tuple(numbers_of(writer, t)))
            if only in (None, t)
            else Topic(t, TOPICS[t], (), later=True)
            for t in shown
        ),
        problems=tuple(
            (p.mark.frame or 0, f"{p.mark.side} {event_name(p.mark.event)}".strip(), p.reason)
            for p in timed.timing.problems
            # Marks of another stroke are told in one line of their own.
            if p.mark.event in timed.timing.resolved.stroke.events_of(p.mark.lane)
        ),
        cycles=timed.timing.cycles.count,
    )


def numbers_of(w: Writer, topic: TopicId) -> list[Number]:
    """The declared quantities of a topic, and what is said in words beside them."""
    said = _BEFORE[topic](w) if topic in _BEFORE else []
    if topic == "breathing" and not w.resolved.breaths:
        return said
    declared = [
        w.quantity(q)
        for q in QUANTITIES.values()
        if q.topic == topic and w.timing.stroke in q.strokes
    ]
    found = [*said, *(n for n in declared if n is not None)]
    if topic in _AFTER:
        found += _AFTER[topic](w)
    if topic == "phases" and not found:
        return [Number("Phases", "–", reason="no whole cycle has two events of a phase marked")]
    return found
