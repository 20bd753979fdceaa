"""What a clip probably is, from its file's name and from the clip before it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace
from datetime import date

from norvik.core.strokes.names import StrokeName
from norvik.core.words import plain
from norvik.store.clips import Facts
from norvik.store.swimmers import Swimmer

#: Words in file names as coaches write them, to what they say. Common practice.
_STROKES: dict[StrokeName, tuple[str, ...]] = {
    "freestyle": ("free", "freestyle", "fr", "crawl", "fc"),
    "backstroke": ("back", "backstroke", "bk"),
    "breaststroke": ("breast", "breaststroke", "br", "brs"),
    "butterfly": ("fly", "butterfly", "bf"),
}
_ROLES = {
    "drill": ("drill", "drills"),
    "after": ("after", "post"),
    "before": ("before", "pre"),
    "race": ("race", "heat", "final", "meet"),
    "speed-step": ("step", "steps"),
    "model": ("model",),
}
_UNDER = ("under", "underwater", "uw", "below")
_ABOVE = ("above", "deck", "over")
_SIDES = {"front": ("front", "head-on", "headon"), "behind": ("behind", "rear"), "side": ("side",)}
_OVERHEAD = ("overhead", "top", "drone")
_KIT = {
    "fins": ("fins",), "buoy": ("buoy", "pullbuoy"), "paddles": ("paddles",),
    "wetsuit": ("wetsuit",), "snorkel": ("snorkel",), "band": ("band",),
}  # fmt: skip
_DAY = re.compile(r"(20\d\d)[-_]?([01]\d)[-_]?([0-3]\d)")


def words_of(name: str) -> set[str]:
    """The words of a file name, without its ending."""
    stem = plain(name).rsplit(".", 1)[0]
    return {word for word in re.split(r"[^a-z-]+|-", stem) if word}


def guess(name: str, before: Facts, squad: Sequence[Swimmer]) -> Facts:
    """`before` (what the last clip was) with everything that the file's name says instead.

    A swimmer is recognised by any part of the name that no other swimmer shares.
    """
    words = words_of(name)
    facts = before
    swimmer = _swimmer(words, squad)
    if swimmer is not None:
        facts = replace(facts, swimmer_id=swimmer)
    for stroke, signs in _STROKES.items():
        if words & set(signs):
            facts = replace(facts, stroke=stroke)
    for role, signs in _ROLES.items():
        if words & set(signs):
            facts = replace(facts, role=role)
    facts = replace(facts, view=_view(words, facts.view))
    kit = tuple(piece for piece, signs in _KIT.items() if words & set(signs))
    if kit:
        facts = replace(facts, kit=kit)
    day = _day(name)
    if day:
        facts = replace(facts, filmed_on=day)
    return facts


def _day(name: str) -> str:
    found = _DAY.search(name)
    try:
        return date(*(int(part) for part in found.groups())).isoformat() if found else ""
    except ValueError:
        return ""


def _swimmer(words: set[str], squad: Sequence[Swimmer]) -> int | None:
    hits = [
        s.id
        for s in squad
        if any(len(part) > 2 and part in words for part in re.split(r"[^a-z]+", plain(s.name)))
    ]
    return hits[0] if len(hits) == 1 else None


def _view(words: set[str], before: str) -> str:
    if words & set(_OVERHEAD):
        return "overhead"
    under, above = bool(words & set(_UNDER)), bool(words & set(_ABOVE))
    side = next((s for s, signs in _SIDES.items() if words & set(signs)), None)
    if side is None and not under and not above:
        return before
    if side is None:
        side = before.split("-")[0] if before != "overhead" else "side"
    if not under and not above:
        under = before.endswith("under")
    if side == "behind":
        return "behind-under" if under else "behind"
    return f"{side}-{'under' if under else 'above'}"
