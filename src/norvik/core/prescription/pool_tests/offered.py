"""Which pool tests there are, what is written down of each, and whether they fit a pool."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from norvik.core.errors import NotFoundError
from norvik.core.pool import Pool
from norvik.core.strokes.names import STROKE_NAMES, StrokeName

_ALL_STROKES = STROKE_NAMES


@dataclass(frozen=True, slots=True)
class Entry:
    """One thing to write down.

    kind: "seconds" or "strokes". many: one value a repeat, from `least` to 20. optional: may stay
    empty.
    """

    id: str
    label: str
    kind: str
    many: bool = False
    least: int = 1
    optional: bool = False


@dataclass(frozen=True, slots=True)
class PoolTest:
    """metres: distances that have to be whole lengths. strokes: in which it is swum.

    rested: says something only after an easy week or at the start of a block. loads: body parts
    that it works hard; with pain there it is not swum. topics: further cautions.
    """

    id: str
    name: str
    how: str
    metres: tuple[int, ...]
    strokes: tuple[StrokeName, ...]
    entries: tuple[Entry, ...]
    kit: tuple[str, ...] = ()
    rested: bool = False
    loads: tuple[str, ...] = ()


#: Common practice, all of it.
TESTS = (
    PoolTest("pull-kick", "Pull-kick ratio",
             "All-out: 100 with the arms only, legs trailing; 3 to 5 minutes of rest; 50 kick with "
             "a board. Both in seconds. Balanced from 1.5 to 1.7.",
             # The balance of 1.5 to 1.7 is that of freestyle; none is known for another stroke.
             (100, 50), ("freestyle",),
             (Entry("pull", "100 with the arms only", "seconds"),
              Entry("kick", "50 kick", "seconds")),
             ("board",), rested=True, loads=("shoulder", "elbow", "back")),
    PoolTest("fly-333-count", "Three-three-three count",
             "Three right, three left, three whole to the far wall, the same kicks off the wall. "
             "Write down the strokes.",
             (), ("butterfly",),
             (Entry("strokes", "Strokes to the far wall", "strokes", many=True),
              Entry("kicks", "Kicks off the wall", "strokes", optional=True)),
             loads=("shoulder", "back")),
    PoolTest("stroke-count", "Stroke count challenge",
             "Single lengths at one pace within a second, each with fewer strokes. Write down "
             "strokes and seconds of each.",
             (), _ALL_STROKES,
             (Entry("strokes", "Strokes", "strokes", many=True, least=2),
              Entry("seconds", "Seconds", "seconds", many=True, least=2))),
    PoolTest("kick-set", "Kick set",
             "3 × 100 kick on a fixed send-off. Seconds of each, and how much the last one falls "
             "off.",
             (100,), _ALL_STROKES,
             (Entry("seconds", "Seconds of each 100", "seconds", many=True, least=2),
              Entry("send_off", "Send-off", "seconds", optional=True)),
             loads=("knee", "hip", "ankle", "back")),
)  # fmt: skip


def pool_test(test_id: str) -> PoolTest:
    """Raises NotFoundError."""
    for test in TESTS:
        if test.id == test_id:
            return test
    raise NotFoundError("This pool test is not known. Reload the page.")


def offered_tests(
    stroke: StrokeName, pool: Pool, kit: tuple[str, ...], pain: Collection[str] = ()
) -> list[PoolTest]:
    """Tests that a swimmer can do in this pool, in the order in which they take turns.

    None that works a painful part hard.

    Distances count in the pool's own unit, as long as both of a test are in the same one.
    """
    return [t for t in TESTS if fits(t, stroke, pool) and set(t.kit) <= set(kit)
            and not painful_parts(t, pain)]  # fmt: skip


def painful_parts(test: PoolTest, pain: Collection[str]) -> tuple[str, ...]:
    """The painful parts that a test loads: until they are cleared it is not swum."""
    return tuple(part for part in test.loads if part in pain)


def fits(test: PoolTest, stroke: StrokeName, pool: Pool) -> bool:
    """Whether a test is swum in this stroke and its distances are whole lengths of this pool."""
    return stroke in test.strokes and all(m % pool.length == 0 for m in test.metres)
