"""How it should look and how a fault looks, small, for beside a finding."""

from __future__ import annotations

from flask import render_template, url_for
from markupsafe import Markup

from norvik.core.judging.ranking import Ranked
from norvik.core.strokes.names import StrokeName
from norvik.core.time.quantities.rate import stroke_rate
from norvik.model.dials import DIALS
from norvik.model.stance import STEPS, VIEW_OF, plainest_phase, stance
from norvik.workflow.clip_timing import ClipTiming
from norvik.workflow.same_phase import phase_for


def figure_at(stroke: StrokeName, phase: float, view: str) -> Markup:
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


def figure_address(timed: ClipTiming, ranked: Ranked) -> str:
    """The page of the turning figure with this fault: at the swimmer's own rate and instant.

    Empty for a fault that the figure cannot show. Where the clip has no rate the page takes its
    own; where the fault's frame is not within marked cycles, the instant at which it shows most.
    """
    dial = DIALS.get(ranked.fault.id)
    if dial is None:
        return ""
    seen = [(time_s, f.side) for f in ranked.findings for time_s in f.instants]
    phase = None
    if seen and dial.stroke == timed.clip.stroke:
        phase = phase_for(timed, *seen[0], ranked.fault)
    rate = stroke_rate(timed.timing)
    return url_for(
        "strokes.show", stroke=dial.stroke, fault=dial.fault, view=VIEW_OF[dial.view],
        step=round(STEPS * phase) % STEPS if phase is not None else None,
        rate=round(rate.value, 1) if rate is not None else None,
    )  # fmt: skip
