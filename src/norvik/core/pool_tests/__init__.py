"""Pool tests: timed or counted beside the film, from which test a plan sets to what it says."""

from norvik.core.pool_tests.offered import TESTS, Entry, PoolTest, offered_tests, pool_test
from norvik.core.pool_tests.outcome import Outcome, Told, evaluate, read_entries

__all__ = [
    "TESTS",
    "Entry",
    "Outcome",
    "PoolTest",
    "Told",
    "evaluate",
    "offered_tests",
    "pool_test",
    "read_entries",
]
