"""How it should look and how a fault looks, small, for beside a finding."""

from __future__ import annotations

from flask import render_template
from markupsafe import Markup

from norvik.model.dials import DIALS
from norvik.model.stance import VIEW_OF, plainest_phase, stance


def figure_at(stroke: str, phase: float, view: str) -> Markup:
    """How it should look at a share of the cycle, from the side that a camera's view shows best."""
    shown = stance(stroke, round(phase, 3), VIEW_OF.get(view, "side"))
    return Markup(render_template("strokes/_good.html", good=shown))


def fault_figure(fault: str) -> Markup:
    """How it should look and how the fault looks, small, for beside a finding; empty if unknown."""
    dial = DIALS.get(fault)
    if dial is None:
        return Markup("")
    phase, view = plainest_phase(fault), VIEW_OF[dial.view]
    return Markup(
        render_template(
            "strokes/_pair.html",
            good=stance(dial.stroke, phase, view),
            bad=stance(dial.stroke, phase, view, fault),
        )
    )
