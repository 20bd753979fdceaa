"""The current: the map of causes, what was found lit, with the point to start with."""

from __future__ import annotations

from dataclasses import dataclass

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue

from norvik.core.judging.cause_graph import CurrentMap, around, current_map
from norvik.core.judging.ranking import ORDERS, Ranked, rank
from norvik.store import reviews
from norvik.web.draw.fault_figure import fault_figure
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.workflow.choose import BECAUSE
from norvik.workflow.review_judgement import MOST_FOCUSES, StrokeJudgement

blueprint = Blueprint("causes", __name__, url_prefix="/clips/<int:clip_id>/causes")

#: Size of a place on the map, in drawing units; the map is drawn at about its own size.
COLUMN, ROW, BOX, TOP = 208.0, 36.0, 28.0, 24.0
#: Thickness of a stream for its cost: least, and for each unit of score.
_THIN, _PER_SCORE, _THICKEST = 2.0, 7.0, 16.0


@dataclass(frozen=True, slots=True)
class Place:
    """kind: "fault", "watch", "open" or "" (not found). number: of a chosen point."""

    fault: str
    name: str
    x: float
    y: float
    kind: str
    number: int | None
    knot: int | None


@dataclass(frozen=True, slots=True)
class Stream:
    """lit: both ends are found. width: by the cost of its source."""

    path: str
    width: float
    lit: bool


@dataclass(frozen=True, slots=True)
class Knot:
    x: float
    y: float
    height: float
    names: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class River:
    width: float
    height: float
    places: tuple[Place, ...]
    streams: tuple[Stream, ...]
    knots: tuple[Knot, ...]


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    """What was found with what is one step away, or the whole map.

    `order` looks at another order of work, `fault` opens one point.
    """
    here = asked.clip_in_review(clip_id)
    judgement = here.section
    own = judgement.catalogue.questions["order"].chosen(judgement.swimmer.schools).id
    order = request.args.get("order", own)
    order = order if order in ORDERS else own
    findings = judgement.findings
    ranked = rank(findings, judgement.catalogue, judgement.swimmer.pain, order)
    chosen = [f.fault.id for f in judgement.focuses]
    places = {
        f.fault: n for n, f in enumerate(here.review.review.focuses, 1)
        if f.stroke == judgement.stroke
    }  # fmt: skip
    kinds = _kinds(judgement)
    whole = "whole" in request.args or not kinds
    near = None if whole else around(judgement.catalogue, {*kinds, *chosen})
    drawn = current_map(judgement.catalogue, {*kinds, *chosen}, near)
    open_id = request.args.get("fault", "")
    if open_id not in judgement.catalogue.faults:
        open_id = next((r.fault.id for r in ranked if r.fault.id not in chosen), "") or (
            chosen[0] if chosen else ""
        )
    return render_template(
        "causes/page.html",
        clip=here.clip,
        j=judgement,
        review=here.review,
        timed=here.own.timed,
        river=river_of(drawn, judgement, ranked, kinds, places),
        order=order,
        whole=whole,
        own_order=own,
        orders=judgement.catalogue.questions["order"].schools,
        ranked=ranked,
        chosen=chosen,
        most=MOST_FOCUSES,
        chosen_in_all=len(here.review.review.focuses),
        fault=judgement.catalogue.faults.get(open_id),
        of_fault=[f for f in findings if f.id == open_id and f.kind != "strength"],
        rank_of={r.fault.id: r for r in ranked},
        reasons=reviews.reasons(database(), here.review.review.id, judgement.stroke),
        because=BECAUSE,
        fault_figure=fault_figure,
        frames=[one for f in findings if f.id == open_id for one in judgement.frames_of(f)[:4]],
    )


def _kinds(judgement: StrokeJudgement) -> dict[str, str]:
    """The gravest kind of finding of each fault."""
    found: dict[str, str] = {}
    for kind in ("watch", "open", "fault"):
        for f in judgement.of_kind(kind):
            if f.id in judgement.catalogue.faults:
                found[f.id] = kind
    return found


def river_of(
    drawn: CurrentMap, judgement: StrokeJudgement, ranked: list[Ranked], kinds: dict[str, str],
    chosen: dict[str, int],
) -> River:  # fmt: skip
    """Places, streams and knots in drawing units. chosen: place of each chosen point."""
    score = {r.fault.id: r.own for r in ranked}
    box = COLUMN - 28
    places = {
        s.fault: Place(
            s.fault, judgement.catalogue.faults[s.fault].name, 8 + s.column * COLUMN,
            TOP + s.row * ROW, kinds.get(s.fault, ""),
            chosen.get(s.fault), s.knot,
        )
        for s in drawn.spots
    }  # fmt: skip
    streams = []
    for a, b in drawn.links:
        start, end = places[a], places[b]
        if start.knot is not None and start.knot == end.knot:
            continue  # drawn as a knot
        x1, y1 = start.x + box, start.y + BOX / 2
        x2, y2 = end.x, end.y + BOX / 2
        half = (x1 + x2) / 2
        lit = kinds.get(a) == "fault" and kinds.get(b) == "fault"
        width = min(_THICKEST, _THIN + _PER_SCORE * score.get(a, 0.0)) if lit else 1.5
        path = f"M{x1:.0f} {y1:.0f}C{half:.0f} {y1:.0f} {half:.0f} {y2:.0f} {x2:.0f} {y2:.0f}"
        streams.append(Stream(path, round(width, 1), lit))
    streams.sort(key=lambda s: s.lit)
    knotted: dict[int, list[Place]] = {}
    for p in places.values():
        if p.knot is not None:
            knotted.setdefault(p.knot, []).append(p)
    knots = tuple(
        Knot(min(p.x for p in k) - 5, min(p.y for p in k) - 5,
             max(p.y for p in k) - min(p.y for p in k) + BOX + 10, tuple(p.name for p in k))
        for k in knotted.values()
    )  # fmt: skip
    return River(
        drawn.columns * COLUMN + 8, TOP + drawn.rows * ROW + 10, tuple(places.values()),
        tuple(streams), knots,
    )  # fmt: skip
