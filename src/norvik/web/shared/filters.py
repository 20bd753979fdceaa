"""How numbers, dates and words are written on pages."""

from __future__ import annotations

import json
import math
import re
from typing import Any

from flask import Flask

from norvik.core.judging.coaching_model import COSTS, LEVEL_WORDS, Band
from norvik.core.prescription.prescribe import dose, mistakes_of
from norvik.core.strokes.definitions import button_name, event_name
from norvik.core.time.plus_minus import Own, k95
from norvik.core.time.quantities import Reading
from norvik.core.time.timebase import Stretch
from norvik.store.trash import Contents
from norvik.web.shared.clip_words import VIEW_NAMES, clip_words, contradiction, look_at
from norvik.web.shared.figure_words import figure_words
from norvik.web.shared.language import day, listed, noun, short_day, times

ROLE_NAMES = {
    "before": "before",
    "drill": "drill",
    "after": "after",
    "race": "race",
    "speed-step": "speed step",
    "model": "example",
}


def number(value: float | None, digits: int = 1) -> str:
    """A number with a real minus sign; a dash where it is unknown."""
    if value is None:
        return "–"
    text = f"{value:.{digits}f}"
    if float(text) == 0:
        text = text.lstrip("-")
    return text.replace("-", "−")


def plus_minus(u: float | None, digits: int = 1, k: float = 2.0) -> str:
    """k times the standard uncertainty, rounded up (JCGM 100:2008, 7.2.6), never shown as zero."""
    if u is None:
        return "± ?"
    # What is exact but for the last bit of a float is not pushed up a digit.
    steps = max(1, math.ceil(k * u * 10**digits - 1e-9))
    return f"± {steps / 10**digits:.{digits}f}"


def swimmer_plus_minus(own: Own | None, digits: int = 1) -> str:
    """How well a clip tells the swimmer's own value; empty where it can't."""
    return "" if own is None else plus_minus(own.u, digits, k95(own))


def plus_minus_of(reading: Reading, digits: int = 1) -> str:
    """The swimmer's plus-minus where a clip tells it, else that of the clip, and which it is."""
    if reading.own is not None:
        return swimmer_plus_minus(reading.own, digits)
    return f"{plus_minus(reading.u, digits)} (this clip alone)" if reading.u else ""


def pace(value: float | None) -> str:
    """A pace per 100 as it is called at the pool: 1:32.5; empty when it is not known."""
    if value is None:
        return ""
    tenths = round(10 * value)
    return f"{tenths // 600}:{tenths % 600 / 10:04.1f}"


def slow_motion(stretches: tuple[Stretch, ...]) -> str:
    """How slowly a file plays, to go behind other words; empty when it plays in real time."""
    if len(stretches) > 1:
        return " · slow motion with ramps"
    factor = stretches[0].factor
    return "" if factor == 1 else f" · slow motion × {factor:g}"


def clock(seconds: float) -> str:
    """Real time in a clip: 1:02.345."""
    minutes, rest = divmod(max(0.0, seconds), 60)
    return f"{int(minutes)}:{rest:06.3f}"


def swim_time(seconds: float) -> str:
    """As a watch shows it, to the hundredth: 5:40.80; under a minute 21.40."""
    minutes, rest = divmod(round(100 * seconds) / 100, 60)
    return f"{minutes:.0f}:{rest:05.2f}" if minutes else f"{rest:.2f}"


def watch_time(seconds: float) -> str:
    """As it is read off a watch in the hand: tenths, hundredths only where there are any."""
    text = swim_time(seconds)
    return text[:-1] if text.endswith("0") else text


def figure(value: float, digits: int, unit: str) -> str:
    """A pool test's figure: minutes from a minute on, as 1:40.5; else a number."""
    if unit == "s" and value >= 60:
        return watch_time(round(value, digits))
    return number(value, digits)


def megabytes(count: int) -> str:
    if count < 1e6:
        return f"{count / 1e3:.0f} kB"
    return f"{count / 1e6:.1f} MB" if count < 1e9 else f"{count / 1e9:.2f} GB"


def limit_source(band: Band) -> str:
    """Where a limit comes from, as a coach is told: own choices are called that."""
    words = re.sub(r"\bmemory\b", "published, from memory", band.source)
    words = re.sub(r"\bpractice\b", "common practice", words)
    return re.sub(r"\bown\b", "our own choice", words)


def good_range(band: Band, digits: int) -> str:
    """Where a limit's good values lie, as in "90 to 130"; empty where nothing is called good."""
    low, high = (
        None if end is None else number(end, max(digits, 0))
        for end in (band.good_from, band.good_to)
    )
    if low is not None and high is not None:
        return f"{low} to {high}"
    return f"from {low}" if low is not None else f"up to {high}" if high is not None else ""


def cost_names(costs: tuple[str, ...]) -> str:
    return ", ".join(COSTS[c] for c in costs)


_WORK = (("marks", "mark"), ("ticks", "tick"), ("remarks", "remark"),
         ("loops", "loop"), ("measures", "measure"))  # fmt: skip


def work_in(contents: Contents) -> str:
    """The work that hangs on clips, as in "12 marks, 3 ticks and 1 review"."""
    counts = [(getattr(contents, field), word) for field, word in _WORK]
    said = [times(n, word) for n, word in counts if n]
    if not said:
        return "no work in it" if contents.clips == 1 else "no work in them"
    return listed(said)


def register_filters(app: Flask) -> None:
    functions: dict[str, Any] = {
        "number": number,
        "plus_minus": plus_minus,
        "plus_minus_of": plus_minus_of,
        "swimmer_plus_minus": swimmer_plus_minus,
        "day": day,
        "short_day": short_day,
        "button_name": button_name,
        "event_name": event_name,
        "pace": pace,
        "slow_motion": slow_motion,
        "clock": clock,
        "swim_time": swim_time,
        "watch_time": watch_time,
        "figure": figure,
        "megabytes": megabytes,
        "work_in": work_in,
        "dose": dose,
        "mistakes_of": mistakes_of,
        "cost_names": cost_names,
        "from_json": json.loads,
        "limit_source": limit_source,
        "good_range": good_range,
        "figure_words": figure_words,
        "one_of_level": lambda level: LEVEL_WORDS[level][0],
        "view_name": lambda v: VIEW_NAMES.get(v, v),
        "clip_words": clip_words,
        "look_at": look_at,
        "contradiction": contradiction,
        "role_name": lambda r: ROLE_NAMES.get(r, r),
    }
    app.jinja_env.filters.update(functions)
    app.jinja_env.globals.update(times=times, noun=noun)
