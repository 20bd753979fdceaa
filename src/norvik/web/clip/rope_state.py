"""What the rope shows and what the script of the bench works with, after every mark."""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple
from zlib import crc32

import msgspec
from flask import render_template, request
from markupsafe import Markup

from norvik.core.time.expect import arm_expectations, breath_expectations, wall_expectations
from norvik.core.time.proposals import LEAST_CYCLES, merged, propose
from norvik.web.clip.rope import Lane, fitting, lane_rows, lay_out, window_around
from norvik.web.shared.database import database
from norvik.workflow.clip_timing import ClipTiming
from norvik.workflow.clip_tracks import track_proposals
from norvik.workflow.reading import Proposed, proposed

#: The page looks only a few proposals ahead; each mark brings new ones.
_MOST_PROPOSALS = 24


class Drawn(NamedTuple):
    """A lane as markup, and a tag that is the same for the same drawing."""

    markup: Markup
    tag: str


@lru_cache(maxsize=400)
def draw_lane(lane: Lane, width: int, label: int) -> Drawn:
    """A mark changes one lane, so the others are not drawn again."""
    text = render_template("bench/_lane.html", lane=lane, rope_width=width, rope_label=label)
    return Drawn(Markup(text), f"{crc32(text.encode()):08x}")


def rope_context(timed: ClipTiming, frame: int, left: Proposed | None = None) -> dict[str, object]:
    """What the rope shows around a frame, and what the script of the page works with.

    left: what is still proposed from the film, where it is at hand.
    """
    base, stroke = timed.time_base, timed.timing.resolved.stroke
    rows = lane_rows(stroke)
    at_s = base.time_of(timed.clamped(frame))
    span = request.values.get("span", type=float)
    width = fitting(request.values.get("wide", type=int))
    from_s, to_s = window_around(timed, at_s, span, width)
    least = 1 if request.values.get("copy") else LEAST_CYCLES
    usual = propose(timed.timing.resolved, timed.to_s, least)
    # What was seen on the film counts more than the rhythm, a point that was followed most.
    read = (proposed(database(), timed) if left is None else left).proposals
    proposals = merged(merged(usual, read), track_proposals(database(), timed))
    ordered = proposals
    if request.values.get("order") == "doubt":
        ordered = sorted(proposals, key=lambda p: (p.sure is None, p.sure or 0.0, p.time_s))
    return {
        "rope": lay_out(timed, from_s, to_s, proposals, width),
        "draw_lane": draw_lane,
        # Tags of the lanes that the page has already.
        "have": frozenset(request.values.get("have", "").split()),
        "state": _json(
            {
                # What comes next from which frame on: no request is needed while the coach steps.
                "expected": _expectations(timed),
                "proposals": [
                    [timed.frame_of(p.time_s), p.side, p.event, p.lane, p.sure]
                    for p in ordered[:_MOST_PROPOSALS]
                ],
                "marks": [
                    [m.frame, m.id, m.lane, m.side, m.event, rows.get((m.lane, m.side)), m.note]
                    for m in timed.marks
                ],
            }
        ),
    }


def _json(value: object) -> Markup:
    """JSON that can stand in a script element: quicker than the filter, for hundreds of marks."""
    text = msgspec.json.encode(value).decode()
    for character, escaped in (("<", "\\u003c"), (">", "\\u003e"), ("&", "\\u0026")):
        text = text.replace(character, escaped)
    return Markup(text)


def _expectations(timed: ClipTiming) -> dict[str, list[tuple[int, str]]]:
    """(frame, event) pairs by lane: from that frame on, that event is expected."""
    stroke = timed.timing.resolved.stroke
    frames = {m.time_s: m.frame or 0 for m in timed.events}
    steps = {
        f"arm-{side}": arm_expectations(timed.events, stroke, side if stroke.alternating else "")
        for side in stroke.arms
    }
    steps["breath"] = breath_expectations(timed.events)
    steps["wall"] = wall_expectations(timed.events)
    return {
        lane: [(frames.get(since_s, 0), event) for since_s, event in found]
        for lane, found in steps.items()
    }
