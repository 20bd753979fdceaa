"""Frame times, posters and stills of a clip."""

from __future__ import annotations

import secrets
from pathlib import Path
from typing import Any

import numpy as np
from flask import Blueprint, jsonify, redirect, request, url_for
from flask.typing import ResponseReturnValue

from norvik.core.errors import NotFoundError
from norvik.files import names
from norvik.footage.stills import frame_image, jpeg
from norvik.store import clips
from norvik.store.clips import Clip
from norvik.web.shared import asked
from norvik.web.shared.database import database, footage
from norvik.web.shared.kept_file import kept_file

blueprint = Blueprint("media", __name__, url_prefix="/clips/<int:clip_id>")

#: A frame never changes under its address.
_KEPT_S = 3600
_WIDTHS = (160, 320, 480, 640, 960)
POSTER_WIDTH = 320


@blueprint.get("/frames.json")
def frames(clip_id: int) -> ResponseReturnValue:
    """Real seconds of the clip's frames, and where film, packets and sound lie.

    first and last: the clip's frames in the recording. times: real seconds of first..last, or
    null when they are evenly `interval` apart from `start` on. whole: no more frames will come.
    """
    clip = asked.ready_clip(clip_id)
    recording = clip.recording
    base = clips.time_base(database(), clip)
    real = base.real_s[clip.first_frame : clip.last_frame + 1]
    steps = np.diff(real)
    even = steps.size > 0 and float(np.ptp(steps)) < 1e-7
    where: dict[str, Any] = {"recording_id": recording.id, "frames": recording.frames}
    return jsonify(
        rate={"num": recording.rate.numerator, "den": recording.rate.denominator},
        first=clip.first_frame,
        last=clip.last_frame,
        start=float(real[0]),
        interval=float(real[-1] - real[0]) / steps.size if even else None,
        times=None if even else [round(float(t), 6) for t in real],
        whole=recording.state == "ready",
        film=url_for("recordings.film", **where),
        packets=url_for("recordings.packets", **where),
        sound=url_for("recordings.sound", recording_id=recording.id) if recording.sound else None,
        media_start=float(base.media_s[clip.first_frame]),
        stretches=[[s.from_frame, s.factor] for s in base.stretches],
    )


@blueprint.get("/poster.jpg")
def poster(clip_id: int) -> ResponseReturnValue:
    """The middle of the clip, small. A whole recording's was made when it was prepared."""
    clip = asked.clip(clip_id)
    path = footage().at_hand(names.poster(clip.recording.id))
    if clip.is_part and clip.watchable:
        return redirect(
            url_for("media.still", clip_id=clip_id, frame=clip.middle_frame, w=POSTER_WIDTH)
        )
    if not path.is_file():
        raise NotFoundError("This clip has no picture yet.")
    return kept_file(path, mimetype="image/jpeg", max_age=60)


@blueprint.get("/frames/<int:frame>.jpg")
def still(clip_id: int, frame: int) -> ResponseReturnValue:
    """One frame as a picture, kept once it has been made."""
    clip = asked.ready_clip(clip_id)
    width = request.args.get("w", 0, type=int)
    if frame >= clip.recording.frames:
        raise NotFoundError(f"There is no frame {frame} in this clip.")
    path = still_file(clip, frame, width if width in _WIDTHS else 0)
    return kept_file(path, mimetype="image/jpeg", max_age=_KEPT_S)


def still_file(clip: Clip, frame: int, width: int) -> Path:
    """The file of a frame as a picture; width 0: as large as the review copy."""
    recording = clip.recording
    path = footage().at_hand(names.frame(recording.id, frame, width))
    if not path.is_file():
        picture = frame_image(footage().at_hand(str(recording.review_path)), recording.rate, frame)
        part = path.with_suffix(f".{secrets.token_hex(4)}.part")
        part.write_bytes(jpeg(picture, width or None))
        part.replace(path)
    return path
