"""Strokes: the model swimmer to turn and to scrub, and how each fault looks."""

from __future__ import annotations

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue

from norvik.core.errors import NotFoundError
from norvik.core.strokes import STROKES as SWUM
from norvik.core.strokes.definitions import definitions
from norvik.core.strokes.names import StrokeName
from norvik.model.dials import DIALS
from norvik.model.schedule import STROKES
from norvik.model.stance import (
    EYES,
    STEPS,
    VIEWS,
    Stance,
    cycle_seconds,
    events_of,
    plainest_phase,
    stance,
    stance_from,
)
from norvik.web.shared.database import database
from norvik.workflow.own_catalogue import tables_of

#: Rates a minute at which the figure is played.
RATES = (10.0, 200.0)

blueprint = Blueprint("strokes", __name__, url_prefix="/strokes")


@blueprint.get("/")
@blueprint.get("/<stroke>/")
def show(stroke: StrokeName = "freestyle") -> ResponseReturnValue:
    if stroke not in STROKES:
        raise NotFoundError("There is no such stroke.")
    return render_template("strokes/page.html", **_context(stroke))


@blueprint.get("/<stroke>/figure")
def figure(stroke: StrokeName) -> ResponseReturnValue:
    """The figure alone, as the coach turns or scrubs it."""
    if stroke not in STROKES:
        raise NotFoundError("There is no such stroke.")
    return render_template("strokes/_figure.html", **_context(stroke))


def _context(stroke: StrokeName) -> dict[str, object]:
    view, eye = request.args.get("view", "side"), _eye()
    step = request.args.get("step", type=int)
    fault = request.args.get("fault", "")
    dials = [d for d in DIALS.values() if d.stroke == stroke]
    if fault not in {d.fault for d in dials}:
        fault = ""
    if step is None:
        step = round(plainest_phase(fault) * STEPS) if fault else 0
    view = view if view in VIEWS else "side"
    phase = step % STEPS / STEPS

    def seen(of_fault: str = "") -> Stance:
        if eye is not None:
            return stance_from(stroke, phase, *eye, of_fault)
        return stance(stroke, phase, view, of_fault)

    return {
        "stroke": stroke,
        "strokes": STROKES,
        "views": VIEWS,
        "view": view,
        "step": step % STEPS,
        "steps": STEPS,
        "fault": fault,
        "dials": dials,
        "events": events_of(stroke),
        "definitions": definitions(stroke),
        "names": _fault_names(),
        "good": seen(),
        "bad": seen(fault) if fault else None,
        "laid": bool(request.args.get("laid")),
        "eye": eye or EYES[view],
        "turned": eye is not None,
        "cycle_s": cycle_seconds(stroke),
        "rate": _rate(stroke),
        "per_cycle": SWUM[stroke].strokes_per_cycle if stroke in SWUM else 2,
    }


def _rate(stroke: StrokeName) -> str:
    """Cycles or strokes a minute at which the figure is played: those asked for, or the usual."""
    asked = request.args.get("rate", type=float)
    if asked is not None and RATES[0] <= asked <= RATES[1]:
        return f"{asked:g}"
    each = SWUM[stroke].strokes_per_cycle if stroke in SWUM else 2
    return f"{60 * each / cycle_seconds(stroke):.0f}"


def _eye() -> tuple[int, int] | None:
    """Degrees that the eye went round the swimmer and over it; None where a named view is asked.

    In steps of five degrees, so that the same figure is not worked out for every pixel of a drag.
    """
    turn, over = (request.args.get(name, type=int) for name in ("round", "over"))
    if turn is None or over is None:
        return None
    return 5 * round(turn / 5) % 360, 5 * round(max(-90, min(90, over)) / 5)


def _fault_names() -> dict[str, str]:
    """What each fault is called, by its id, over all strokes."""
    return {
        fault.id: fault.name
        for stroke in SWUM
        for fault in tables_of(database(), stroke).faults.values()
    }
