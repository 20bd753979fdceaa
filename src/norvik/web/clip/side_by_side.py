"""Side by side: two films held at the same instant of the stroke."""

from __future__ import annotations

from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue

from norvik.core.strokes.definitions import event_name
from norvik.core.time.in_step import CycleEvents
from norvik.model.dials import DIALS
from norvik.model.stance import STEPS, VIEW_OF, events_of, stance
from norvik.store.clips import Clip
from norvik.web.clip.picture_svg import as_png, picture_answer
from norvik.web.clip.strip import strip_svg
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.workflow.clip_timing import ClipTiming
from norvik.workflow.own_catalogue import tables_of
from norvik.workflow.side_by_side import Pairing, Wish, beside_figure, pair, proposals

blueprint = Blueprint("side_by_side", __name__, url_prefix="/clips/<int:clip_id>/beside")


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    """The page; without a second clip in the address the best one is taken."""
    clip = asked.ready_clip(clip_id)
    others = proposals(database(), clip)
    if request.args.get("with") == "figure":
        return _figure_page(clip, others)
    wanted = request.args.get("with", type=int)
    other = asked.ready_clip(wanted) if wanted is not None else others[0]
    pairing = pair(database(), clip, other, _wish())
    arms = pairing.one.timing.resolved.stroke.arms
    return render_template(
        "beside/page.html",
        clip=clip,
        other=other,
        others=others,
        arms=arms,
        events=[(e, event_name(e)) for e in pairing.one.timing.resolved.stroke.arm_events],
        state=_state(pairing),
    )


def _figure_page(clip: Clip, others: list[Clip]) -> ResponseReturnValue:
    """The film beside the figure, swimming well or with one fault."""
    beside = beside_figure(database(), clip, request.args.get("side", ""))
    dials = {d: dial for d, dial in DIALS.items() if dial.stroke == clip.stroke}
    fault = request.args.get("fault", "")
    fault = fault if fault in dials else ""
    view = VIEW_OF.get(clip.view, "side")
    faults = tables_of(database(), clip.stroke).faults
    timed = beside.one
    first = beside.cycles[0] if beside.cycles else None
    mine = [_cycle(timed, c) for c in beside.cycles]
    state = {
        "way": "phase", "asked": "phase", "cannot": beside.cannot, "side": beside.side,
        "other_side": beside.side, "event": "", "n": 0, "m": 0, "first": clip.first_frame,
        "begin": timed.frame_of(first.begin_s) if first else clip.first_frame,
        "frames": beside.stances,
        "cycles": [mine, [_of_figure(clip)] * len(mine)],
    }  # fmt: skip
    return render_template(
        "beside/page.html",
        clip=clip,
        other=None,
        others=others,
        arms=timed.timing.resolved.stroke.arms,
        events=[],
        state=state,
        stances=[stance(clip.stroke, n / STEPS, view, fault) for n in range(STEPS)],
        fault=fault,
        faults=[(d, faults[d].name) for d in dials if d in faults],
    )


@blueprint.get("/frames.json")
def frames(clip_id: int) -> ResponseReturnValue:
    """The other film's frame for each frame of this one, for another way or another cycle."""
    clip = asked.ready_clip(clip_id)
    other = asked.ready_clip(request.args.get("with", 0, type=int))
    return jsonify(_state(pair(database(), clip, other, _wish())))


@blueprint.get("/strip.<any(png,svg):kind>")
def strip(clip_id: int, kind: str) -> ResponseReturnValue:
    """The events of one cycle of both films in two columns, as a picture to keep or to send."""
    clip = asked.ready_clip(clip_id)
    other = asked.ready_clip(request.args.get("with", 0, type=int))
    svg = strip_svg(pair(database(), clip, other, _wish()))
    data = svg.encode() if kind == "svg" else as_png(svg)
    return picture_answer(data, kind, f"strip-{clip_id}-{other.id}.{kind}")


def _wish() -> Wish:
    args = request.args
    return Wish(
        way=args.get("way", "phase"),
        side=args.get("side", ""),
        other_side=args.get("other_side", ""),
        event=args.get("event", ""),
        n=args.get("n", 0, type=int),
        m=args.get("m", 0, type=int),
        one_frame=args.get("one_frame", type=int),
        other_frame=args.get("other_frame", type=int),
    )


def _state(pairing: Pairing) -> dict[str, object]:
    """What the page needs: frames from the first one on, cycles of both as frames of their events.

    begin: the frame on which the pair opens.
    """
    wish, one, other = pairing.wish, pairing.one, pairing.other
    mine, theirs = pairing.cycles
    begin = one.clip.first_frame
    if wish.way == "phase" and not pairing.cannot:
        begin = one.frame_of(mine[wish.n].begin_s)
    elif wish.one_frame is not None:
        begin = one.clamped(wish.one_frame)
    return {
        "way": wish.way if not pairing.cannot else "clock",
        "asked": wish.way,
        "cannot": pairing.cannot,
        "side": wish.side,
        "other_side": wish.other_side,
        "event": wish.event,
        "n": wish.n,
        "m": wish.m,
        "first": one.clip.first_frame,
        "begin": begin,
        "frames": pairing.frames,
        "cycles": [[_cycle(one, c) for c in mine], [_cycle(other, c) for c in theirs]],
    }


def _of_figure(clip: Clip) -> list[list[object]]:
    """The figure's own cycle, its stances in place of frames."""
    shares = events_of(clip.stroke)
    opens = next(iter(shares))
    events = [[e, event_name(e), round(STEPS * share)] for e, share in shares.items()]
    return [*events, [opens, event_name(opens), STEPS]]


def _cycle(timed: ClipTiming, cycle: CycleEvents) -> list[list[object]]:
    """[event, its name, frame] from the opening to the end."""
    events = [(e, timed.frame_of(t)) for e, t in cycle.events]
    events.append((cycle.events[0][0], timed.frame_of(cycle.end_s)))
    return [[e, event_name(e), frame] for e, frame in events]
