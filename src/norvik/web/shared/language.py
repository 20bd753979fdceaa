"""Plurals, dates and lists as a reader of the club's locale expects them (Babel).

The words of the pages are English; dates are written as the locale NORVIK_LOCALE has them, British
English where nothing is set.
"""

from __future__ import annotations

import os
from collections.abc import Sequence
from datetime import date, datetime
from functools import cache

from babel import Locale, UnknownLocaleError
from babel.dates import format_date, get_month_names
from babel.lists import format_list
from babel.support import NullTranslations

_WORDS = NullTranslations()
DEFAULT = "en_GB"


@cache
def locale() -> Locale:
    """The club's locale; an unknown one falls back to British English."""
    try:
        return Locale.parse(os.environ.get("NORVIK_LOCALE") or DEFAULT)
    except (UnknownLocaleError, ValueError):
        return Locale.parse(DEFAULT)


def times(n: int, one: str, many: str = "") -> str:
    """A count with its noun: 1 clip, 3 clips. many: where the plural is not one with an s."""
    return f"{n} {noun(n, one, many)}"


def noun(n: int, one: str, many: str = "") -> str:
    """The noun alone, in the number that goes with n."""
    return str(_WORDS.ungettext(one, many or one + "s", n))


def day(value: str | date | None) -> str:
    """A date in full: 3 March 2027. A text that is no date is given back as it is."""
    if not value:
        return ""
    try:
        when = value if isinstance(value, date) else datetime.fromisoformat(value)
    except ValueError:
        return str(value)
    return format_date(when, "d MMMM y" if locale().language == "en" else "long", locale())


def short_day(value: date) -> str:
    """A date without its year: 3 Mar."""
    return format_date(value, "d MMM", locale())


def month(value: date) -> str:
    """The month's short name: Mar."""
    return str(get_month_names("abbreviated", locale=locale())[value.month])


def listed(words: Sequence[str]) -> str:
    """A list in a sentence: a, b and c."""
    return format_list(list(words), locale=locale())
