"""Film, frame times, posters and stills of a clip."""

from __future__ import annotations

import secrets

from flask import Blueprint, jsonify, request, send_file
from flask.typing import ResponseReturnValue

from norvik.core.errors import NotFoundError
from norvik.footage.stills import frame_image, jpeg
from norvik.store import clips
from norvik.web.database import database, settings

blueprint = Blueprint("media", __name__, url_prefix="/clips/<int:clip_id>")

#: A clip's film and frames never change under one address.
_FOREVER = 365 * 24 * 3600
_WIDTHS = (320, 480, 640, 960)


@blueprint.get("/film.mp4")
def film(clip_id: int) -> ResponseReturnValue:
    """The review copy; answers ranges, so that the browser fetches what it needs."""
    clip = _ready(clip_id)
    response = send_file(
        settings().data / str(clip.review_path), mimetype="video/mp4", conditional=True
    )
    response.headers["Cache-Control"] = f"private, max-age={_FOREVER}, immutable"
    return response


@blueprint.get("/frames.json")
def frames(clip_id: int) -> ResponseReturnValue:
    """Real seconds of every frame and the rate of the review copy."""
    clip = _ready(clip_id)
    base = clips.time_base(database(), clip)
    rate = {"num": clip.rate_num, "den": clip.rate_den}
    return jsonify(rate=rate, times=[round(float(t), 6) for t in base.real_s])


@blueprint.get("/poster.jpg")
def poster(clip_id: int) -> ResponseReturnValue:
    path = settings().pictures / f"poster-{clip_id}.jpg"
    if not path.is_file():
        raise NotFoundError("This clip has no picture yet.")
    return send_file(path, mimetype="image/jpeg", conditional=True, max_age=_FOREVER)


@blueprint.get("/frames/<int:frame>.jpg")
def still(clip_id: int, frame: int) -> ResponseReturnValue:
    """One frame as a picture, kept once it has been made."""
    clip = _ready(clip_id)
    width = request.args.get("w", 0, type=int)
    if frame >= (clip.frames or 0):
        raise NotFoundError(f"There is no frame {frame} in this clip.")
    if width not in _WIDTHS:
        width = 0
    path = settings().pictures / f"frame-{frame}-{width}-{clip_id}.jpg"
    if not path.is_file():
        picture = frame_image(settings().data / str(clip.review_path), clip.rate, frame)
        part = path.with_suffix(f".{secrets.token_hex(4)}.part")
        part.write_bytes(jpeg(picture, width or None))
        part.replace(path)
    return send_file(path, mimetype="image/jpeg", conditional=True, max_age=_FOREVER)


def _ready(clip_id: int) -> clips.Clip:
    clip = clips.by_id(database(), clip_id)
    if clip.state != "ready" or not clip.review_path:
        raise NotFoundError("This clip is still being prepared. Wait until it is ready.")
    return clip
