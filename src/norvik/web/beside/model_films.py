"""The model swimmer's films: the film itself, its frame times, and where its packets lie."""

from __future__ import annotations

import re
from pathlib import Path

from flask import Blueprint, jsonify, url_for
from flask.typing import ResponseReturnValue

from norvik.core.errors import NotFoundError
from norvik.files import names
from norvik.footage.packets import packet_list
from norvik.web.shared.database import footage
from norvik.web.shared.kept_file import kept_file

blueprint = Blueprint("model_films", __name__, url_prefix="/model-films/<name>")

_NAME = re.compile(r"[a-z]+-[a-z-]+-(\d+)-(\d+)-\d+")
_FOREVER_S = 365 * 24 * 3600


def _file(name: str) -> tuple[Path, int]:
    """The file and its frames a second. Raises NotFoundError."""
    fits = _NAME.fullmatch(name)
    path = footage().at_hand(names.model_film(name)) if fits else None
    if not fits or path is None or not path.is_file():
        raise NotFoundError("This film of the model swimmer has been deleted. Reload the page.")
    return path, int(fits[2])


@blueprint.get("/film.mp4")
def film(name: str) -> ResponseReturnValue:
    return kept_file(_file(name)[0], mimetype="video/mp4", max_age=_FOREVER_S)


@blueprint.get("/packets.json")
def packets(name: str) -> ResponseReturnValue:
    return jsonify(packet_list(_file(name)[0]))


@blueprint.get("/frames.json")
def frames(name: str) -> ResponseReturnValue:
    """As a clip gives its own: see footage/media.py."""
    path, fps = _file(name)
    last = len(packet_list(path)["position"]) - 1
    return jsonify(
        rate={"num": fps, "den": 1}, first=0, last=last, start=0.0, interval=1 / fps, times=None,
        whole=True, film=url_for("model_films.film", name=name),
        packets=url_for("model_films.packets", name=name), sound=None, media_start=0.0,
        stretches=[[0, 1.0]],
    )  # fmt: skip
