"""The day of a long event: the focuses one at a time, one word each, to write on the hand."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from norvik.core.errors import PlanError

#: One word for each part of the stroke, where the coach has no better one.
WORDS = {
    "head": "Neck",
    "breathing": "Bubbles",
    "body": "Long",
    "legs": "Legs",
    "rotation": "Roll",
    "recovery": "Elbow",
    "entry": "Reach",
    "catch": "Hold",
    "pull": "Press",
    "timing": "Rhythm",
    "wall": "Wall",
}
#: Own choice: a block is not shorter than this.
LEAST_MINUTES = 5


@dataclass(frozen=True, slots=True)
class Stretch:
    """from_min, to_min: minutes after the start."""

    word: str
    fault: str
    from_min: int
    to_min: int


def event_day(
    minutes: int, focuses: Sequence[tuple[str, str]], block_min: int | None = None
) -> list[Stretch]:
    """Share the time of an event between focuses, in whole minutes, one after the other.

    focuses: (fault id, word). block_min: minutes of a block, after which the next one comes and in
    the end the first again; None gives each one equal stretch. Raises PlanError for no focus, a
    time that is not above 0 or blocks that are too short.
    """
    if not focuses:
        raise PlanError("Choose at least one point for the day.")
    if minutes <= 0:
        raise PlanError("Say how many minutes the event lasts, more than 0.")
    blank = [word for _, word in focuses if not word.strip() or " " in word.strip()]
    if blank:
        raise PlanError("Give each point one word: it has to fit on the hand.")
    if block_min is None:
        edges = [round(minutes * n / len(focuses)) for n in range(len(focuses) + 1)]
    else:
        edges = [*range(0, minutes, max(1, block_min)), minutes]
    shortest = edges[1] - edges[0]
    if shortest < LEAST_MINUTES:
        raise PlanError(f"A block needs at least {LEAST_MINUTES} minutes.")
    return [
        Stretch(focuses[n % len(focuses)][1].strip(), focuses[n % len(focuses)][0], a, b)
        for n, (a, b) in enumerate(pairwise(edges))
    ]
