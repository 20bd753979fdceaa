"""What somebody looked at or changed goes into the trail, once an hour for each thing.

Sending, erasing and the like are noted where they are done, each time.
"""

from __future__ import annotations

import logging
import sqlite3

from flask import Flask, Response, g, request
from flask_login import current_user

from norvik.web.shared.database import database
from norvik.workflow import trail

log = logging.getLogger(__name__)


def init_app(app: Flask) -> None:
    @app.after_request
    def note(response: Response) -> Response:
        asked_for = g.get("asked_for")
        if asked_for is None or response.status_code >= 400:
            return response
        kind, key, swimmer_id = asked_for
        looked = request.method in ("GET", "HEAD")
        # A picture or a bit of a page is part of looking at the page.
        if looked and (response.mimetype != "text/html" or request.headers.get("HX-Request")):
            return response
        try:
            trail.note_once(
                database(), current_user.id, "saw" if looked else "changed", kind, key, swimmer_id
            )
        except sqlite3.Error as error:
            # A full disk must not keep anybody from looking.
            log.error("the trail could not be written: %s", error)
        return response
