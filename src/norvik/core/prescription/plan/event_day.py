"""The day of a long event: the focuses one at a time, one word each, to write on the hand."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from norvik.core.errors import PlanError

#: Own choice: a block is not shorter than this.
LEAST_MINUTES = 5
#: Own choice: what fits on the back of a hand.
MOST_LETTERS = 14
#: Own choice: no event is longer than two days, and nobody keeps count of more blocks than this.
MOST_MINUTES, MOST_BLOCKS = 48 * 60, 48


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
    if not 0 < minutes <= MOST_MINUTES:
        raise PlanError(f"Enter how many minutes the event lasts: 1 to {MOST_MINUTES}.")
    blank = [word for _, word in focuses if not word.strip() or len(word.strip()) > MOST_LETTERS]
    if blank:
        raise PlanError(
            f"Give each focus one or two short words, at most {MOST_LETTERS} letters: they have to "
            "fit on the hand."
        )
    if block_min is None:
        edges = [round(minutes * n / len(focuses)) for n in range(len(focuses) + 1)]
    else:
        if block_min < LEAST_MINUTES:
            raise PlanError(f"A block needs at least {LEAST_MINUTES} minutes.")
        if minutes > MOST_BLOCKS * block_min:
            raise PlanError(f"That makes more than {MOST_BLOCKS} blocks. Make them longer.")
        edges = [*range(0, minutes, block_min), minutes]
    shortest = edges[1] - edges[0]
    if shortest < LEAST_MINUTES:
        raise PlanError(f"A block needs at least {LEAST_MINUTES} minutes.")
    return [
        Stretch(focuses[n % len(focuses)][1].strip(), focuses[n % len(focuses)][0], a, b)
        for n, (a, b) in enumerate(pairwise(edges))
    ]
