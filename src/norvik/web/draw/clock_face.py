"""Where to aim, on the clock that the swimmer sees ahead: now, target and aim as three hands."""

from __future__ import annotations

import math

from flask import render_template
from markupsafe import Markup

from norvik.core.frame.clock import hours_of, oclock
from norvik.core.frame.measures import MEASURES
from norvik.core.prescription.overcorrect import Aim

#: Reach of a hand of the clock in drawing units, the centre being 0, 0.
_REACH = 52.0


def clock_face(aim: Aim) -> Markup:
    """The drawing for a hand's place at entry; empty for what has no place on the clock."""
    if aim.measure != "entry-line":
        return Markup("")
    hands = []
    for name, value, reach in (
        ("now", aim.now, 0.72), ("target", aim.target, 0.88), ("aim", aim.aim, 1.0)
    ):  # fmt: skip
        angle = math.radians(30 * hours_of(value, aim.side))
        x, y = math.sin(angle) * _REACH * reach, -math.cos(angle) * _REACH * reach
        hands.append((name, round(x, 1), round(y, 1), oclock(value, aim.side)))
    return Markup(render_template("judge/_clock.html", hands=hands, aim=aim))


def aim_words(aim: Aim) -> str:
    """The same for what has no place on the clock, in the measure's own unit."""
    unit, digits = MEASURES[aim.measure].unit, MEASURES[aim.measure].digits
    now, target, beyond = (
        f"{v:.{digits}f}".replace("-", "−") for v in (aim.now, aim.target, aim.aim)
    )
    return (
        f"Aim for {beyond} {unit} (now {now}, it belongs at {target}): it feels far too much and "
        "lands about right. Film, then aim for less."
    )
