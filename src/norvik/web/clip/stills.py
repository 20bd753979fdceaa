"""Stills of a clip: kept by one key, with drawing and caption, as PNG, SVG or JPEG; and a sheet."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

import cv2
import numpy as np
from flask import Blueprint, redirect, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user
from markupsafe import escape
from numpy.typing import NDArray

from norvik.core.errors import FootageError, MeasureError, NotFoundError
from norvik.core.judging.coaching_model import Fault
from norvik.core.judging.on_frame import Rule
from norvik.core.strokes.names import Side, StrokeName, side_of
from norvik.footage.stills import frame_image, jpeg, source_image
from norvik.painting.overlay import fragments, stylesheet
from norvik.painting.raster import as_png
from norvik.store import stills
from norvik.web.shared import asked
from norvik.web.shared.database import database, footage
from norvik.web.shared.picture_svg import image_in, picture_answer, picture_svg
from norvik.workflow.clip_drawings import ClipDrawings, drawings_of, picture_size
from norvik.workflow.clip_stills import caption_of, series, where_of
from norvik.workflow.clip_timing import ClipTiming, time_clip
from norvik.workflow.own_catalogue import tables_of

blueprint = Blueprint("stills", __name__, url_prefix="/clips/<int:clip_id>/stills")

_LONGEST_CAPTION = 300
#: Pictures of a series: columns, and width of each in pixels.
_COLUMNS, _TILE = 3, 640
#: Lines and words in a review are that much larger: its pictures stand two in a row.
_LARGER = 1.6


@dataclass(frozen=True, slots=True)
class KeptStill:
    id: int
    frame: int
    caption: str
    own: str


@blueprint.post("/")
def keep(clip_id: int) -> ResponseReturnValue:
    clip = asked.ready_clip(clip_id)
    frame = request.form.get("frame", -1, type=int)
    clip.require(frame)
    new = stills.keep(database(), clip_id, current_user.id, frame)
    return f"Frame {frame} {'added to' if new else 'is already in'} the review."


@blueprint.post("/<int:still_id>/caption")
def caption(clip_id: int, still_id: int) -> ResponseReturnValue:
    asked.ready_clip(clip_id)
    words = request.form.get("caption", "").strip()
    if len(words) > _LONGEST_CAPTION:
        raise MeasureError(f"Captions have at most {_LONGEST_CAPTION} letters.")
    stills.set_caption(database(), clip_id, still_id, words)
    return redirect(url_for("review.of_clip", clip_id=clip_id, _anchor="stills"))


@blueprint.post("/<int:still_id>/delete")
def delete(clip_id: int, still_id: int) -> ResponseReturnValue:
    asked.ready_clip(clip_id)
    stills.delete(database(), clip_id, still_id)
    return redirect(url_for("review.of_clip", clip_id=clip_id, _anchor="stills"))


@blueprint.get("/<int:frame>.<any(png,svg,jpg):kind>")
def picture_file(clip_id: int, frame: int, kind: str) -> ResponseReturnValue:
    """One frame with what is drawn on it; PNG and SVG at the source's size with the caption."""
    clip = asked.ready_clip(clip_id)
    if not clip.holds(frame):
        raise NotFoundError(f"There is no frame {frame} in this clip.")
    timed = time_clip(database(), clip)
    if kind == "jpg":
        return picture_answer(
            still_jpeg(timed, frame, 960, _asked_measures(clip.stroke)), kind, None
        )
    svg = _still_svg(timed, drawings_of(database(), timed), frame)
    data = svg.encode() if kind == "svg" else as_png(svg)
    return picture_answer(data, kind, f"still-{clip_id}-{frame}.{kind}")


def _asked_measures(stroke: StrokeName) -> set[str] | None:
    """The measures that show the fault in `of`; None when it names none: then all are drawn."""
    fault = tables_of(database(), stroke).faults.get(request.args.get("of", ""))
    return measures_of(fault) if fault else None


def measures_of(fault: Fault) -> set[str]:
    """What is measured on a frame to show a fault."""
    return {Rule.read(text).what for text in fault.shown_by}


@blueprint.get("/series.<any(png,svg):kind>")
def sheet(clip_id: int, kind: str) -> ResponseReturnValue:
    """The events of one cycle of an arm in one sheet, each with its time and what is drawn."""
    clip = asked.ready_clip(clip_id)
    timed = time_clip(database(), clip)
    frame = request.args.get("frame", clip.first_frame, type=int)
    side = side_of(request.args.get("side", "right"))
    svg = _sheet_svg(timed, drawings_of(database(), timed), frame, side)
    data = svg.encode() if kind == "svg" else as_png(svg)
    return picture_answer(data, kind, f"series-{clip_id}-{side}.{kind}")


def kept_stills(timed: ClipTiming) -> list[KeptStill]:
    """The stills of a clip with the captions they are shown with."""
    kept = stills.of_clip(database(), timed.clip.id)
    if not kept:
        return []
    drawn = drawings_of(database(), timed)
    return [
        KeptStill(s.id, s.frame, caption_of(timed, drawn, s.frame, s.caption), s.caption)
        for s in kept
        if timed.clip.holds(s.frame)
    ]


def still_jpeg(
    timed: ClipTiming,
    frame: int,
    width: int,
    measures: Collection[str] | None = None,
    plain: bool = False,
) -> bytes:
    """A frame with what is drawn on it, without a caption, for pages and the review.

    measures: of all that was measured on it only these are drawn; None draws all. plain: nothing.
    """
    recording = timed.clip.recording
    image = frame_image(footage().at_hand(str(recording.review_path)), recording.rate, frame)
    drawn = [] if plain else drawings_of(database(), timed).on_frame(frame)
    if measures is not None:
        drawn = [p for p in drawn if p.stored.kind != "measure" or p.stored.name in measures]
    if not drawn:
        return jpeg(image, width)
    source = picture_size(recording)
    # Drawn at the size that is asked for: lines and words keep their weight.
    size = (width, round(width * source[1] / source[0]))
    figures = fragments(drawn, round(_LARGER * source[0]))
    inside = f'<g transform="scale({width / source[0]:.5f})">{figures}</g>'
    styles = stylesheet(_LARGER * source[0] / 1000)
    svg = picture_svg(size, image_in(image, size) + inside, styles)
    made = cv2.imdecode(np.frombuffer(as_png(svg), np.uint8), cv2.IMREAD_COLOR)
    assert made is not None  # it was written a moment ago
    return jpeg(np.asarray(made, np.uint8))


def _picture(timed: ClipTiming, frame: int) -> NDArray[np.uint8]:
    """A frame upright and as large as it was filmed, shape (height, width, 3), blue-green-red.

    From the original where it is still kept and gives the frame, else from the review copy.
    """
    recording = timed.clip.recording
    path = recording.original_path
    original = footage().at_hand(path) if path else None
    if original is not None and original.is_file() and not recording.times_estimated:
        try:
            return source_image(original, float(timed.time_base.media_s[frame]))
        except FootageError:
            pass  # the review copy has every frame that could be decoded
    return frame_image(footage().at_hand(str(recording.review_path)), recording.rate, frame)


def _still_svg(timed: ClipTiming, drawn: ClipDrawings, frame: int) -> str:
    clip = timed.clip
    image = _picture(timed, frame)
    width, height = picture_size(clip.recording)
    own = next((s.caption for s in stills.of_clip(database(), clip.id) if s.frame == frame), "")
    unit = width / 1000
    bar = round(64 * unit)
    lines = [caption_of(timed, drawn, frame, own), where_of(timed, clip, frame)]
    return picture_svg(
        (width, height + bar),
        image_in(image, (width, height))
        + fragments(drawn.on_frame(frame), width)
        + _bar(width, height, bar, lines, unit),
        stylesheet(unit),
    )


def _sheet_svg(timed: ClipTiming, drawn: ClipDrawings, frame: int, side: Side) -> str:
    clip, recording = timed.clip, timed.clip.recording
    frames = series(timed, frame, side)
    copy = footage().at_hand(str(recording.review_path))
    width, height = picture_size(recording)
    tile = _TILE, round(_TILE * height / width)
    bar = 34
    rows = -(-len(frames) // _COLUMNS)
    whole = _COLUMNS * _TILE, rows * (tile[1] + bar) + 40
    parts = []
    for n, one in enumerate(frames):
        x, y = (n % _COLUMNS) * tile[0], (n // _COLUMNS) * (tile[1] + bar)
        image = frame_image(copy, recording.rate, one.frame)
        scale = tile[0] / width
        said = f"{one.event}  {one.seconds:.2f} s, {100 * one.share:.0f} % of the cycle"
        parts.append(
            f'<g transform="translate({x} {y})">{image_in(image, tile)}'
            f'<g transform="scale({scale:.5f})">{fragments(drawn.on_frame(one.frame), width)}</g>'
            f'<rect y="{tile[1]}" width="{tile[0]}" height="{bar}" class="bar"/>'
            f'<text class="caption" x="10" y="{tile[1] + 23}" font-size="18">{escape(said)}</text>'
            "</g>"
        )
    where = f"{where_of(timed, clip, frames[0].frame)}: one cycle, {side}"
    parts.append(
        f'<text class="caption" x="10" y="{whole[1] - 13}" font-size="18">{escape(where)}</text>'
    )
    return picture_svg(whole, "".join(parts), stylesheet(width / 1000))


def _bar(width: int, top: int, bar: int, lines: list[str], unit: float) -> str:
    said = [line for line in lines if line]
    size = 20 * unit
    made = "".join(
        f'<text class="caption" x="{12 * unit:.1f}" y="{top + (n + 1) * 26 * unit:.1f}" '
        f'font-size="{size:.1f}">{escape(line)}</text>'
        for n, line in enumerate(said)
    )
    return f'<rect class="bar" y="{top}" width="{width}" height="{bar}"/>{made}'
