"""Pool tests out of a table: checked as the form checks them, taken in all or none."""

from __future__ import annotations

import sqlite3
from datetime import date
from fractions import Fraction

from norvik.core.errors import NorvikError, PoolTestError
from norvik.core.pool import Pool
from norvik.core.prescription.pool_tests import pool_test
from norvik.core.prescription.pool_tests.offered import fits
from norvik.core.prescription.pool_tests.outcome import read_entries
from norvik.core.strokes.names import stroke_of
from norvik.formats.pool_tests_csv import WrittenTest, read_pool_tests
from norvik.store import pool_tests
from norvik.store.connection import transaction
from norvik.store.pool_tests import SwumTest
from norvik.store.swimmers import Swimmer
from norvik.workflow.pool_tests import pain_against


def import_pool_tests(
    connection: sqlite3.Connection, swimmer: Swimmer, data: bytes
) -> tuple[int, int]:
    """(how many tests are new, how many were there already). Raises PoolTestError; then none is."""
    there = {_same(t) for t in pool_tests.of_swimmer(connection, swimmer.id)}
    written = read_pool_tests(data)
    new = []
    for n, one in enumerate(written, 1):
        try:
            swum = _swum(swimmer, one)
            if _same(swum) in there:
                continue
            day = date.fromisoformat(swum.done_on)
            if sentence := pain_against(connection, swimmer, pool_test(swum.test), day):
                raise PoolTestError(sentence)
        except (NorvikError, ValueError, ZeroDivisionError) as error:
            said = error.sentence if isinstance(error, NorvikError) else "its pool is no length"
            raise PoolTestError(
                f"Nothing was imported: test {n} ({one.test}, {one.day}): {said}"
            ) from error
        new.append(swum)
    with transaction(connection):
        for test in new:
            pool_tests.add(connection, test)
    return len(new), len(written) - len(new)


def _same(t: SwumTest) -> tuple[object, ...]:
    return t.test, t.stroke, t.done_on, t.pool, tuple(sorted(t.entries.items()))


def _swum(swimmer: Swimmer, written: WrittenTest) -> SwumTest:
    test = pool_test(written.test)
    pool = Pool(Fraction(written.pool), written.unit)
    try:
        day = date.fromisoformat(written.day)
    except ValueError as error:
        raise PoolTestError("the day must look like 2027-03-14.") from error
    if day > date.today():
        raise PoolTestError("this day is still to come.")
    stroke = stroke_of(written.stroke)
    if not stroke or stroke not in test.strokes:
        raise PoolTestError(f"{test.name} is not swum in {written.stroke}.")
    if not fits(test, stroke, pool):
        raise PoolTestError(f"{test.name} does not fit into whole lengths of this pool.")
    entries = read_entries(test, written.entries)
    return SwumTest(swimmer.id, test.id, stroke, day.isoformat(), pool, entries,
                    rested=written.rested, note=written.note[:200])  # fmt: skip
