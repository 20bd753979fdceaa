"""Remarks in the coach's own words, as findings and, where they are worked on, as faults."""

from __future__ import annotations

from dataclasses import dataclass

from norvik.core.judging.coaching_model import Fault
from norvik.core.judging.judged import SEEN_SEVERITY, Finding
from norvik.core.strokes.names import Side, StrokeName

KINDS = ("praise", "point", "doubt")
_PREFIX = "remark-"
#: Own choice: a longer remark is shortened where a name is wanted.
_NAME_LENGTH = 60


@dataclass(frozen=True, slots=True)
class Remark:
    """A remark in the coach's own words.

    kind: of KINDS. time_s: real seconds in the recording, None without a frame. cue, drills: of a
    point that is worked on. view: of the clip it was said of.
    """

    id: int
    kind: str
    text: str
    side: Side = ""
    time_s: float | None = None
    cue: str = ""
    drills: tuple[str, ...] = ()
    view: str = ""

    @property
    def finding_id(self) -> str:
        return f"{_PREFIX}{self.id}"


def remark_of(finding_id: str) -> int | None:
    """The remark that a finding or a focus comes from; None for those of the tables."""
    number = finding_id.removeprefix(_PREFIX)
    return int(number) if number != finding_id and number.isdecimal() else None


def fault_of(remark: Remark, stroke: StrokeName) -> Fault:
    """A point in own words as a fault: what it costs and leads to is not known."""
    return Fault(
        id=remark.finding_id,
        name=short(remark.text),
        shows=sentence(remark.text),
        why="",
        cue=remark.cue or short(remark.text),
        costs=(),
        views=(remark.view,),
        drills=remark.drills,
        sided=True,
        strokes=(stroke,),
    )


def finding_of(remark: Remark) -> Finding | None:
    """What a remark says of the swimming; None for a doubt."""
    if remark.kind == "doubt":
        return None
    praise = remark.kind == "praise"
    return Finding(
        id=remark.finding_id,
        kind="strength" if praise else "fault",
        title=short(remark.text),
        says=sentence(remark.text),
        side=remark.side,
        degree="clear",
        severity=1.0 if praise else SEEN_SEVERITY["clear"],
        instants=() if remark.time_s is None else (remark.time_s,),
        seen=True,
    )


def read(text: str) -> tuple[str, str]:
    """(kind, words) of what was typed: "+" begins praise, "?" a doubt, anything else is a point."""
    text = " ".join(text.split())
    for sign, kind in (("+", "praise"), ("?", "doubt")):
        if text.startswith(sign):
            return kind, text[1:].strip()
    return "point", text


def sentence(text: str) -> str:
    """Beginning with a capital, ending with a stop."""
    said = text[:1].upper() + text[1:]
    return said if said.endswith((".", "!", "?", "…")) else f"{said}."


def short(text: str) -> str:
    """The remark where a name is wanted."""
    said = (text[:1].upper() + text[1:]).rstrip(".")
    if len(said) <= _NAME_LENGTH:
        return said
    return said[: _NAME_LENGTH - 1].rsplit(" ", 1)[0] + "…"
