"""The model swimmer at each arm event of a stroke, small, for beside the event's definition."""

from __future__ import annotations

from functools import cache

from flask import render_template
from markupsafe import Markup

from norvik.core.strokes.names import StrokeName
from norvik.model.stance import VIEW_OF, events_of, stance


@cache
def event_figures(stroke: StrokeName, view: str) -> dict[str, Markup]:
    """By event: a drawing in lines from where the clip was filmed, else from the side."""
    seen_from = VIEW_OF.get(view, "side")
    return {
        event: Markup(
            render_template("strokes/_small.html", stance=stance(stroke, phase, seen_from))
        )
        for event, phase in events_of(stroke).items()
    }
