"""What is drawn and measured on both films, each laid on the other; and the trunk that does it."""

from __future__ import annotations

import json
from collections.abc import Iterable

from flask import Blueprint, jsonify, request
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import Point
from norvik.core.frame.laid_on import Trunk, swims_to
from norvik.model.stance import VIEW_OF
from norvik.painting.overlay import fragment
from norvik.painting.raster import as_png
from norvik.store import drawings
from norvik.store.connection import transaction
from norvik.store.drawings import StoredDrawing
from norvik.web.beside.films import paired
from norvik.web.beside.paths_picture import paths_svg
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.picture_svg import picture_answer
from norvik.workflow.clip_drawings import TRUNK, Painted
from norvik.workflow.side_by_side.across import across, size_of
from norvik.workflow.side_by_side.figure import beside_figure, figure_in_trunks
from norvik.workflow.side_by_side.measured import MeasuredPair, measured_pairs
from norvik.workflow.side_by_side.pairing import Pairing
from norvik.workflow.side_by_side.paths import point_paths
from norvik.workflow.side_by_side.trunks import Trunks

blueprint = Blueprint("beside_drawn", __name__, url_prefix="/clips/<int:clip_id>/beside")


@blueprint.get("/drawn.json")
def drawn(clip_id: int) -> ResponseReturnValue:
    """Drawings of both films on both, trunks by frame, and measures of the same instant."""
    return jsonify(_drawn(paired(clip_id)))


def _drawn(pairing: Pairing) -> dict[str, object]:
    found = across(database(), pairing)
    films = pairing.one, pairing.other
    widths = [size_of(film)[0] for film in films]
    return {
        "films": [
            {
                "own": _items(found.own[n], widths[n]),
                "laid": _items(found.laid[n], widths[n]),
                "trunks": _trunks(found.trunks[n]),
                "size": size_of(film),
                "settable": film.clip is not None,
            }
            for n, film in enumerate(films)
        ],
        "mirror": found.mirror,
        "measures": [_measure(p) for p in measured_pairs(database(), pairing)],
    }


def _items(painted: Iterable[Painted], width: int) -> list[dict[str, object]]:
    return [
        {"first": p.stored.first, "last": p.stored.last, "svg": fragment(p, width)}
        for p in painted
        if p.stored.kind != TRUNK
    ]


def _trunks(trunks: Trunks) -> dict[str, object]:
    """By frame: shoulder x, y, hip x, y in source pixels; and which way the swimmer swims there."""
    return {
        "at": {
            frame: [round(v, 1) for p in trunk for v in p] for frame, trunk in trunks.at.items()
        },
        "ways": {frame: swims_to(trunk) for frame, trunk in trunks.at.items()},
        "swims_to": trunks.swims_to,
    }


def _measure(pair: MeasuredPair) -> dict[str, object]:
    """In words: "Elbow angle, right: 104° and 96°, −8° ± 5, a real difference"."""
    measure = pair.measure
    unit = measure.unit if measure.unit == "°" else f" {measure.unit}"

    def number(value: float, sign: bool = False) -> str:
        return f"{value:{'+' if sign else ''}.{measure.digits}f}".replace("-", "−")

    sides = pair.sides[0] if pair.sides[0] == pair.sides[1] else " / ".join(pair.sides)
    return {
        "name": measure.name + (f", {sides}" if sides else ""),
        "values": [f"{number(v)}{unit}" for v in pair.values],
        "difference": f"{number(pair.difference, True)}{unit} ± {number(pair.plus_minus)}",
        "real": pair.real,
        "frames": pair.frames,
    }


@blueprint.get("/outline.json")
def outline(clip_id: int) -> ResponseReturnValue:
    """The model figure in trunk lengths, and which stance belongs to each frame of both films."""
    pairing = paired(clip_id)
    one = beside_figure(pairing.one, pairing.wish.side)
    other = beside_figure(pairing.other, pairing.wish.other_side)
    return jsonify(
        stances=figure_in_trunks(pairing.one.stroke, VIEW_OF.get(pairing.one.view, "side")),
        frames=[one.stances, other.stances],
        first=[pairing.one.first, pairing.other.first],
        cannot=one.cannot or other.cannot,
    )


@blueprint.post("/trunk")
def set_trunk(clip_id: int) -> ResponseReturnValue:
    """Keep shoulder and hip of a frame of one of the films, and give what is drawn anew."""
    pairing = paired(clip_id)
    film = pairing.other if request.form.get("which") == "other" else pairing.one
    if film.clip is None:
        raise MeasureError("The model swimmer's shoulder and hip are known. Set the swimmer's.")
    clip = asked.ready_clip(film.clip.id)
    frame = request.form.get("frame", -1, type=int)
    clip.require(frame)
    trunk = _trunk(request.form.get("points", ""), size_of(film))
    there = [d for d in drawings.of_clip(database(), clip.id)
             if d.kind == TRUNK and d.frame == frame]  # fmt: skip
    with transaction(database()):
        for d in there:
            drawings.delete(database(), clip.id, current_user.id, d.id)
        made = StoredDrawing(0, TRUNK, "", "", frame, frame, frame, tuple(trunk))
        drawings.add(database(), clip.id, current_user.id, made)
    return jsonify(_drawn(paired(clip_id)))


def _trunk(text: str, size: tuple[int, int]) -> Trunk:
    try:
        shoulder, hip = (Point(float(x), float(y)) for x, y in json.loads(text))
    except (ValueError, TypeError):
        raise MeasureError("Click the shoulder first, then the hip.") from None
    if not all(0 <= p.x <= size[0] and 0 <= p.y <= size[1] for p in (shoulder, hip)):
        raise MeasureError("Shoulder and hip have to lie in the picture. Set them again.")
    trunk = Trunk(shoulder, hip)
    if trunk.length_px < 8:
        raise MeasureError("Shoulder and hip lie on each other. Set them again.")
    return trunk


@blueprint.get("/paths.<any(png,svg):kind>")
def paths(clip_id: int, kind: str) -> ResponseReturnValue:
    """The way of the hand, or of another followed point, in one cycle of both films."""
    svg = paths_svg(*point_paths(database(), paired(clip_id), request.args.get("point", "")))
    return picture_answer(svg.encode() if kind == "svg" else as_png(svg), kind, f"paths.{kind}")
