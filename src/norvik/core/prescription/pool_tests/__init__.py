"""Pool tests: timed or counted beside the film, from which test a plan sets to what it says."""

from norvik.core.prescription.pool_tests.offered import (
    TESTS,
    Entry,
    PoolTest,
    offered_tests,
    pool_test,
)
from norvik.core.prescription.pool_tests.outcome import EarlierTest, Outcome, evaluate, read_entries

__all__ = [
    "TESTS",
    "EarlierTest",
    "Entry",
    "Outcome",
    "PoolTest",
    "evaluate",
    "offered_tests",
    "pool_test",
    "read_entries",
]
