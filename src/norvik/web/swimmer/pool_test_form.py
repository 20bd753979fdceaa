"""The form of a pool test: each test has fields of its own."""

from __future__ import annotations

from datetime import date
from functools import partial
from typing import Any

from flask_wtf import FlaskForm
from wtforms import BooleanField, StringField

from norvik.core.errors import NorvikError, PoolTestError
from norvik.core.pool import Pool
from norvik.core.prescription.pool_tests import PoolTest, read_entries
from norvik.core.prescription.pool_tests.offered import Entry, fits
from norvik.core.strokes import STROKES
from norvik.formats.watch import read_seconds
from norvik.web.shared.read_field import ReadField, one_of, refuse
from norvik.web.swimmer.pool import UNITS, pool_length

_LONGEST_LINE = 400
_LONGEST_NOTE = 200
#: The field in which several values of each length are written, a length a line.
ROWS = "rows"


def _day(text: str) -> date:
    try:
        day = date.fromisoformat(text)
    except ValueError as error:
        raise PoolTestError("The day of the test must look like 2027-03-14.") from error
    if day > date.today():
        raise PoolTestError("This day is still to come: write the test down once it is swum.")
    return day


class PoolTestForm(FlaskForm):
    """What all tests ask for. `form_of` gives the one with a test's own fields."""

    test: PoolTest

    done_on = ReadField("Day", _day, default=lambda: date.today().isoformat())
    stroke = ReadField("Stroke", one_of(tuple(STROKES), PoolTestError, "stroke"))
    pool = ReadField("Pool", pool_length)
    unit = ReadField("Unit", one_of(tuple(u for u, _ in UNITS), PoolTestError, "unit"), default="m")
    rested = BooleanField("Rested: an easy week before, no hard day")
    note = StringField("Note")

    def validate(self, extra_validators: Any = None) -> bool:
        if not super().validate(extra_validators):
            return False
        # What was found of one field and what it is refused for among the others.
        for field, look in (("pool", self._pool), ("stroke", self._stroke),
                            (self._first_entry(), self._entries)):  # fmt: skip
            try:
                look()
            except NorvikError as error:
                refuse(self, field, error.sentence)
                return False
        return True

    def _pool(self) -> None:
        self.swum_in = Pool(self.pool.value, self.unit.value)
        if not fits(self.test, self.test.strokes[0], self.swum_in):
            far = " and ".join(f"{m} {self.swum_in.unit}" for m in self.test.metres)
            raise PoolTestError(
                f"{self.test.name} needs {far} in whole lengths; this pool of "
                f"{self.swum_in.says(1)} {self.swum_in.unit} has none. Choose another test."
            )

    def _stroke(self) -> None:
        if self.stroke.value not in self.test.strokes:
            raise PoolTestError(
                f"{self.test.name} is not swum in {self.stroke.value}. Choose another stroke or "
                "test."
            )

    def _entries(self) -> None:
        found: dict[str, list[float]] = {}
        many = many_of(self.test)
        for entry in self.test.entries:
            if entry not in many:
                found[entry.id] = self[entry.id].value
        if many:
            columns = zip(*self[ROWS].value, strict=True) if self[ROWS].value else [()] * len(many)
            found |= {e.id: list(c) for e, c in zip(many, columns, strict=True)}
        self.entries = read_entries(self.test, found)

    def _first_entry(self) -> str:
        return ROWS if many_of(self.test) else self.test.entries[0].id

    def written(self) -> str:
        return (self.note.data or "").strip()[:_LONGEST_NOTE]


def form_of(test: PoolTest) -> type[PoolTestForm]:
    """The form of one test."""
    fields: dict[str, Any] = {"test": test}
    for entry in test.entries:
        if entry not in many_of(test):
            label = f"{entry.label}{' (optional)' if entry.optional else ''}"
            fields[entry.id] = ReadField(label, partial(_numbers, entry.label))
    if many := many_of(test):
        names = ", ".join(e.label.lower() for e in many)
        fields[ROWS] = ReadField(f"One length per line: {names}", partial(_rows, many))
    return type("TestForm", (PoolTestForm,), fields)


def many_of(test: PoolTest) -> tuple[Entry, ...]:
    """Entries of which one of each belongs to a length: two of them at least."""
    many = tuple(e for e in test.entries if e.many)
    return many if len(many) > 1 else ()


def _rows(many: tuple[Entry, ...], text: str) -> list[list[float]]:
    rows = [r for r in text.splitlines() if r.strip()]
    read = [_numbers(f"Line {n}", row) for n, row in enumerate(rows, 1)]
    for n, values in enumerate(read, 1):
        if len(values) != len(many):
            names = " and ".join(e.label.lower() for e in many)
            raise PoolTestError(f"Line {n}: write {names}, as in 21 22.0.")
    return read


def _numbers(label: str, text: str) -> list[float]:
    """Times and counts with spaces in between: "1:32.4 1:34". Raises PoolTestError."""
    values = []
    for word in text[:_LONGEST_LINE].replace(";", " ").split():
        value = read_seconds(word.rstrip(","))
        if value is None:
            raise PoolTestError(
                f"{label}: “{word[:20]}” is no time or count, as 92.4 or 1:32.4 are."
            )
        values.append(value)
    return values
