"""The numbers beside the film, by topic: each with unit, plus-minus, count, and its frames."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from norvik.core.time.timing import Timing
from norvik.web.clip.numbers.breathing import breathing
from norvik.web.clip.numbers.kick import kick
from norvik.web.clip.numbers.parts import ArmShares, Number, Topic, Writer
from norvik.web.clip.numbers.phases import arms, phases
from norvik.web.clip.numbers.rhythm import rate, rhythm
from norvik.web.clip.numbers.speed import speed
from norvik.web.clip.numbers.together import together
from norvik.web.clip.numbers.walls import walls
from norvik.workflow.clip_timing import ClipTiming

__all__ = ["ArmShares", "Number", "Panel", "Topic", "panel"]


@dataclass(frozen=True, slots=True)
class _Kind:
    """known: whether a clip has anything of the topic; write: its numbers."""

    id: str
    name: str
    known: Callable[[Timing], bool]
    write: Callable[[Writer], list[Number]]


_TOPICS = (
    _Kind("rhythm", "Rhythm", lambda t: True, rhythm),
    _Kind("phases", "Phases", lambda t: True, phases),
    _Kind("together", "Together", lambda t: bool(t.gaps or t.fly_gaps or t.coordination), together),
    _Kind("breathing", "Breath", lambda t: True, breathing),
    _Kind("kick", "Kick", lambda t: t.kick is not None, kick),
    _Kind("walls", "Walls", lambda t: bool(t.walls), walls),
    _Kind("speed", "Speed", lambda t: bool(t.resolved.passes), speed),
)


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
    kinds = [kind for kind in _TOPICS if kind.known(timed.timing)]
    if only not in {kind.id for kind in kinds}:
        only = None
    return Panel(
        rate=tuple(rate(writer)),
        arms=tuple(a for a in arms(writer) if a.shares),
        topics=tuple(
            Topic(kind.id, kind.name, tuple(kind.write(writer)))
            if only in (None, kind.id)
            else Topic(kind.id, kind.name, (), later=True)
            for kind in kinds
        ),
        problems=tuple(
            (p.mark.frame or 0, f"{p.mark.side} {p.mark.event}".strip(), p.reason)
            for p in timed.timing.problems
            # Marks of another stroke are told in one line of their own.
            if p.mark.event in timed.timing.resolved.stroke.events_of(p.mark.lane)
        ),
        cycles=timed.timing.cycles.count,
    )
