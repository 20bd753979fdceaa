"""How numbers, dates and words are written on pages."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from flask import Flask

from norvik.catalogue.loader import has_catalogue
from norvik.core.prescribe import dose
from norvik.core.tables import COSTS

VIEW_NAMES = {
    "side-under": "side, under water",
    "side-above": "side, above water",
    "front-under": "front, under water",
    "front-above": "front, above water",
    "overhead": "overhead",
    "behind": "from behind",
}
ROLE_NAMES = {
    "before": "before",
    "drill": "drill",
    "after": "after",
    "race": "race",
    "speed-step": "speed step",
    "model": "model",
}


def number(value: float | None, digits: int = 1) -> str:
    """A number with a real minus sign; a dash where it is unknown."""
    if value is None:
        return "–"
    text = f"{value:.{digits}f}"
    if float(text) == 0:
        text = text.lstrip("-")
    return text.replace("-", "−")


def plus_minus(u: float | None, digits: int = 1) -> str:
    """Twice the standard uncertainty, never shown as zero."""
    if u is None:
        return "± ?"
    shown = max(2 * u, 10**-digits)
    return f"± {shown:.{digits}f}"


def day(value: str | date | None) -> str:
    """A date as a coach writes it: 3 March 2027."""
    if not value:
        return ""
    try:
        when = value if isinstance(value, date) else datetime.fromisoformat(value)
    except ValueError:
        return str(value)
    return f"{when.day} {when:%B %Y}"


def clock(seconds: float) -> str:
    """Real time in a clip: 1:02.345."""
    minutes, rest = divmod(max(0.0, seconds), 60)
    return f"{int(minutes)}:{rest:06.3f}"


def megabytes(count: int) -> str:
    return f"{count / 1e6:.1f} MB" if count < 1e9 else f"{count / 1e9:.2f} GB"


def cost_names(costs: tuple[str, ...]) -> str:
    return ", ".join(COSTS[c] for c in costs)


def register_filters(app: Flask) -> None:
    functions: dict[str, Any] = {
        "number": number,
        "plus_minus": plus_minus,
        "day": day,
        "clock": clock,
        "megabytes": megabytes,
        "dose": dose,
        "cost_names": cost_names,
        "view_name": lambda v: VIEW_NAMES.get(v, v),
        "role_name": lambda r: ROLE_NAMES.get(r, r),
    }
    app.jinja_env.filters.update(functions)
    app.jinja_env.tests["judged"] = has_catalogue
