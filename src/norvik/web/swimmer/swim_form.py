"""The form of a swim length by length."""

from __future__ import annotations

from datetime import date
from typing import Any

from flask_wtf import FlaskForm
from wtforms import FileField, StringField, TextAreaField

from norvik.core.errors import LengthsError
from norvik.core.followup.length_log import Length, length_log
from norvik.core.strokes import STROKES
from norvik.core.strokes.names import StrokeName
from norvik.formats.lengths_csv import read_lengths
from norvik.formats.tables import TableEncodingError, text_of
from norvik.web.shared.facts import number_of
from norvik.web.shared.read_field import ReadField, one_of, refuse
from norvik.web.shared.uploads import sent_file

_MOST_BYTES = 1 << 20
_POOL_M = (10.0, 100.0)
_FIRST_YEAR = 1990


def _pool(text: str) -> float:
    value = number_of(text)
    if value is None or not _POOL_M[0] <= value <= _POOL_M[1]:
        raise LengthsError("The pool length must be a number of metres between 10 and 100.")
    return value


def _day(text: str) -> str:
    try:
        day = date.fromisoformat(text)
    except ValueError as error:
        raise LengthsError("The day of the swim must look like 2027-03-14.") from error
    if day > date.today() or day.year < _FIRST_YEAR:
        raise LengthsError(f"{day.isoformat()} cannot be the day of a swim. Check it.")
    return day.isoformat()


def _seconds(text: str) -> float | None:
    return read_lengths(text)[0].seconds if text else None


class SwimForm(FlaskForm):
    """The lengths are typed, or come from a table that is sent along."""

    swum_on = ReadField("Day", _day, default=lambda: date.today().isoformat())
    pool_m = ReadField("Pool, metres", _pool, default="25")
    stroke = ReadField("Stroke", one_of(tuple(STROKES), LengthsError, "stroke"))
    total = ReadField("Total time (watch)", _seconds)
    lengths = TextAreaField("One length per line: seconds, strokes")
    file = FileField("Or a table (CSV)")
    note = StringField("Note")

    def validate(self, extra_validators: Any = None) -> bool:
        if not super().validate(extra_validators):
            return False
        try:
            self.read: list[Length] = read_lengths(self._text())
            length_log(self.read, self.pool_m.value, self.total.value)  # refuses what cannot be
        except LengthsError as error:
            refuse(self, "lengths", error.sentence)
            return False
        return True

    def said(self) -> tuple[str, StrokeName, float, float | None, str, list[Length]]:
        """Day, stroke, pool, time of the watch, note and lengths of a form that is right."""
        return (
            self.swum_on.value, self.stroke.value, self.pool_m.value, self.total.value,
            (self.note.data or "").strip()[:200], self.read,
        )  # fmt: skip

    def _text(self) -> str:
        data = sent_file("a table of lengths", _MOST_BYTES, LengthsError)
        try:
            return text_of(data, old_encoding=True) if data else self.lengths.data or ""
        except TableEncodingError as error:
            raise LengthsError(str(error)) from error
