"""The pool, as forms say it."""

from __future__ import annotations

import re
from collections.abc import Mapping
from fractions import Fraction

from norvik.core.errors import PlanError
from norvik.core.pool import Pool

#: "25", "33.33", "33 1/3": few digits, so that nobody computes with millions of them.
_POOL = re.compile(r"\d{1,3}(?:\.\d{1,4})?(?: \d{1,2}/\d{1,2})?")


def pool_of(form: Mapping[str, str]) -> Pool:
    """From the fields pool and unit: "25", "33 1/3"; "33.33" is taken as a third.

    Raises PlanError.
    """
    text = form.get("pool", "").strip().replace(",", ".")
    if not _POOL.fullmatch(text):
        raise PlanError("The pool length must be a number, like 25 or 33 1/3.")
    try:
        whole, _, part = text.partition(" ")
        value = Fraction(whole) + (Fraction(part) if part else 0)
    except (ValueError, ZeroDivisionError) as error:
        raise PlanError("The pool length must be a number, like 25 or 33 1/3.") from error
    third = Fraction(round(value * 3), 3)
    length = third if abs(third - value) < Fraction(1, 100) else value
    return Pool(length, form.get("unit", "m"))
