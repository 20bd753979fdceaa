"""What somebody looked at or changed goes into the trail.

Looking and working are noted once an hour for each thing; what leaves the house, or is removed for
good, each time. Making links, sending and erasing are noted where they are done.
"""

from __future__ import annotations

import logging
import sqlite3
from collections.abc import Mapping

from flask import Flask, Response, g, request
from flask_login import current_user

from norvik.web.shared.database import database
from norvik.workflow import trail

log = logging.getLogger(__name__)

#: Route: what it is noted as, each time.
_EACH_TIME: Mapping[str, str] = {
    "send.take_back": "link-taken-back",
    "send_mail.file": "exported",
    "send_mail.files": "exported",
    "review.download": "exported",
    "review.paper": "exported",
    "swimmers.export": "exported",
    "swimmers.table": "exported",
    "swimmers.restore": "restored",
    "clip_files.everything": "exported",
    "recordings.original": "exported",
    "making_film.film": "exported",
    "consent.paper": "saw",
    "uploads.take": "brought-in",
    "library.throw_away": "removed",
    "trash.bring_back": "restored",
    "trash.delete": "deleted",
    "storage.release": "released",
    "club.show": "settings-changed",
    "club.tables": "settings-changed",
    "club.marking": "settings-changed",
    "club.reading": "settings-changed",
}


def init_app(app: Flask) -> None:
    @app.after_request
    def note(response: Response) -> Response:
        if response.status_code >= 400 or "person" not in g:
            return response
        kind, key, swimmer_id = g.get("asked_for", ("", None, None))
        looked = request.method in ("GET", "HEAD")
        always = _EACH_TIME.get(request.endpoint or "")
        try:
            if always and not (looked and always == "settings-changed"):
                # Later bytes of a film belong to its first ones.
                if response.status_code != 206:
                    trail.note(database(), current_user.id, always, kind, key, swimmer_id,
                               words=_words())  # fmt: skip
            elif key is not None and _counts(response, looked):
                trail.note_once(
                    database(), current_user.id, "saw" if looked else "changed", kind, key,
                    swimmer_id,
                )  # fmt: skip
        except sqlite3.Error as error:
            # A full disk must not keep anybody from looking.
            log.error("the trail could not be written: %s", error)
        return response


def _counts(response: Response, looked: bool) -> bool:
    """A picture or a bit of a page is part of looking at the page."""
    whole = response.mimetype == "text/html" and "HX-Request" not in request.headers
    return whole or not looked


def _words() -> str:
    """How many clips a form named, or all of them."""
    ids = request.form.getlist("ids", type=int) if request.method == "POST" else []
    if request.form.get("all"):
        return "all"
    return f"clips {', '.join(map(str, ids[:40]))}" if ids else ""
