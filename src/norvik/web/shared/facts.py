"""What a clip is, as forms say it."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, timedelta
from typing import Any

from werkzeug.datastructures import MultiDict

from norvik.core.errors import MarkError
from norvik.core.strokes import STROKES
from norvik.core.time.timebase import FACTOR_RANGE
from norvik.store.clips import EFFORTS, KIT, ROLES, VIEWS, Facts
from norvik.web.shared import asked

#: Slow motion that cameras store: recorded at 120 and stored at 60, at 240 and stored at 30 ...
STRETCHES = (1.0, 2.0, 4.0, 8.0, 10.0, 16.0)
_POOL_M = (10.0, 100.0)
_PACE_S = (30.0, 600.0)

Form = MultiDict[str, str]


def facts_from(form: Form) -> Facts:
    """The facts of a new clip in a form, all checked; fields that are not in it stay as usual.

    Raises MarkError with a sentence for the first field that cannot be right.
    """
    changes: dict[str, Any] = {
        name: read(form[name]) for name, read in READERS.items() if name in form
    }
    if "kit" in form or "kit_said" in form:
        changes["kit"] = kit_of(form.getlist("kit"))
    given = changes.get("swimmer_id")
    if given is not None:
        asked.filmed_swimmer(given)
    return Facts(**changes)


def changes_from(form: Form) -> dict[str, Any]:
    """Only what a form for many clips says: an empty field leaves things as they are."""
    said = {
        name: read("" if form[name] == "none" else form[name])
        for name, read in READERS.items()
        if form.get(name)
    }
    if form.get("kit_said"):
        said["kit"] = kit_of(form.getlist("kit"))
    if said.get("swimmer_id") is not None:
        asked.filmed_swimmer(said["swimmer_id"])
    return said


def stretch_from(form: Form) -> float | None:
    """The slow-motion factor of a form; None when it is left to what the camera wrote."""
    text = form.get("stretch", "").strip()
    if not text:
        return None
    return factor_of(text)


def factor_of(text: str) -> float:
    value = number_of(text)
    if value is None or not FACTOR_RANGE[0] <= value <= FACTOR_RANGE[1]:
        raise MarkError("The slow-motion factor must be a number between 0.05 and 100.")
    return value


def number_of(text: str) -> float | None:
    """A number as people type it, with a point or a comma; None when it is none."""
    try:
        return float(text.strip().replace(",", "."))
    except ValueError:
        return None


def pace_of(text: str) -> float | None:
    """Seconds a 100, from "1:32.5" or "92.5". Raises MarkError."""
    text = text.strip()
    if not text:
        return None
    minutes, _, rest = text.rpartition(":")
    whole, seconds = number_of(minutes) if minutes else 0.0, number_of(rest)
    if whole is None or seconds is None or (minutes and not 0 <= seconds < 60):
        raise MarkError("A pace looks like 1:32.5 (minutes and seconds a 100) or 92.5.")
    pace = 60 * whole + seconds
    if not _PACE_S[0] <= pace <= _PACE_S[1]:
        raise MarkError("A pace a 100 lies between 0:30 and 10:00.")
    return pace


def _swimmer(text: str) -> int | None:
    if not text:
        return None
    try:
        return asked.swimmer(int(text)).id
    except (ValueError, OverflowError) as error:
        raise MarkError("This swimmer is not known. Reload the page.") from error


def _one_of(words: tuple[str, ...]) -> Callable[[str], str]:
    def read(text: str) -> str:
        if text not in words:
            raise MarkError(f"“{text}” is not known here. Reload the page.")
        return text

    return read


def _day(text: str) -> str:
    if not text:
        return ""
    try:
        day = date.fromisoformat(text)
    except ValueError as error:
        raise MarkError("The day of filming must look like 2027-03-14.") from error
    if not day.year >= 1990 or day > date.today() + timedelta(days=1):
        raise MarkError(f"{day.isoformat()} cannot be the day of filming. Check it.")
    return day.isoformat()


def _pool(text: str) -> float | None:
    if not text.strip():
        return None
    value = number_of(text)
    if value is None or not _POOL_M[0] <= value <= _POOL_M[1]:
        raise MarkError("The pool length must be a number of metres between 10 and 100.")
    return value


def kit_of(words: list[str]) -> tuple[str, ...]:
    return tuple(piece for piece in KIT if piece in words)


#: What reads each field that is one text; each raises NorvikError for what cannot be.
READERS: dict[str, Callable[[str], Any]] = {
    "swimmer_id": _swimmer,
    "stroke": _one_of(tuple(STROKES)),
    "view": _one_of(VIEWS),
    "role": _one_of(ROLES),
    "effort": _one_of(EFFORTS),
    "filmed_on": _day,
    "pace_s": pace_of,
    "pool_m": _pool,
}
