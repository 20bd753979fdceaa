"""Pool tests that a plan sets: which, when, and whether they fit the pool."""

from __future__ import annotations

from dataclasses import dataclass

from norvik.core.plan.pool import Pool

#: A test every four to six weeks, when rested (common practice).
LEAST_WEEKS_APART, MOST_WEEKS_APART = 4, 6


@dataclass(frozen=True, slots=True)
class PoolTest:
    """metres: distances that have to be whole lengths. strokes: in which it is swum."""

    id: str
    name: str
    how: str
    metres: tuple[int, ...]
    strokes: tuple[str, ...]
    kit: tuple[str, ...] = ()


#: Common practice, all of it.
TESTS = (
    PoolTest("pull-kick", "Pull-kick ratio",
             "All-out: 100 with the arms only, legs trailing; 3 to 5 minutes of rest; 50 kick with "
             "a board. Both in seconds. Balanced from 1.5 to 1.7.",
             (100, 50), ("freestyle", "backstroke"), ("board",)),
    PoolTest("fly-333-count", "Three-three-three count",
             "Three right, three left, three whole to the far wall, the same kicks off the wall. "
             "Write down the strokes.",
             (), ("butterfly",)),
    PoolTest("stroke-count", "Stroke count challenge",
             "Single lengths at one pace within a second, each with fewer strokes. Write down "
             "the best pair of strokes and seconds.",
             (), ("freestyle", "backstroke", "breaststroke", "butterfly")),
    PoolTest("kick-set", "Kick set",
             "3 × 100 kick on a fixed send-off. Seconds of each, and how much the last one falls "
             "off.",
             (100,), ("freestyle", "backstroke", "breaststroke", "butterfly")),
)  # fmt: skip


def offered_tests(stroke: str, pool: Pool, kit: tuple[str, ...]) -> list[PoolTest]:
    """Tests that a swimmer can do in this pool, in the order in which they take turns.

    Distances count in the pool's own unit, as long as both of a test are in the same one.
    """
    return [
        t
        for t in TESTS
        if stroke in t.strokes
        and all(m % pool.length == 0 for m in t.metres)
        and set(t.kit) <= set(kit)
    ]
