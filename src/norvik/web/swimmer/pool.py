"""The pool, as forms say it."""

from __future__ import annotations

import re
from fractions import Fraction

from norvik.core.errors import PlanError

#: "25", "33.33", "33 1/3": few digits, so that nobody computes with millions of them.
_POOL = re.compile(r"\d{1,3}(?:\.\d{1,4})?(?: \d{1,2}/\d{1,2})?")
#: Units of a pool, with what a form calls them.
UNITS = (("m", "metres"), ("yd", "yards"))


def pool_length(text: str) -> Fraction:
    """A pool's length: "25", "33 1/3"; "33.33" is taken as a third. Raises PlanError."""
    text = text.replace(",", ".")
    if not _POOL.fullmatch(text):
        raise PlanError("The pool length must be a number, like 25 or 33 1/3.")
    try:
        whole, _, part = text.partition(" ")
        value = Fraction(whole) + (Fraction(part) if part else 0)
    except (ValueError, ZeroDivisionError) as error:
        raise PlanError("The pool length must be a number, like 25 or 33 1/3.") from error
    third = Fraction(round(value * 3), 3)
    return third if abs(third - value) < Fraction(1, 100) else value
