"""The one place where an error becomes a page, or a notice when htmx asks."""

from __future__ import annotations

import errno
import logging
import sqlite3

from flask import Flask, Response, current_app, make_response, render_template, request
from flask_wtf.csrf import CSRFError
from werkzeug.exceptions import HTTPException, SecurityError

from norvik.core.errors import (
    ApartError,
    ForbiddenError,
    NorvikError,
    NotFoundError,
    NotReadyError,
)
from norvik.storage import reserve
from norvik.store import reviews
from norvik.web.shared import asked
from norvik.web.shared.database import database

log = logging.getLogger(__name__)

_SENTENCES = {
    400: "Something in the request could not be read. Go back and try again.",
    403: "You may not do this. Sign in with another account.",
    404: "Page not found. It may have been deleted.",
    405: "That cannot be done here. Go back and try again.",
    413: "This is more than Norvik can take in one piece.",
}

#: A refusal that is none of these: what was asked cannot be done as it was asked.
_CODES: dict[type[NorvikError], int] = {
    ForbiddenError: 403,
    NotFoundError: 404,
    NotReadyError: 409,
}


def init_app(app: Flask) -> None:
    @app.errorhandler(NorvikError)
    def refused(error: NorvikError) -> Response:
        return _answer(error.sentence, _CODES.get(type(error), 422))

    @app.errorhandler(ApartError)
    def apart(error: ApartError) -> Response:
        """A page that asks what nobody has decided yet."""
        if request.headers.get("HX-Request") or _wants_json():
            return _answer(error.sentence, 409)
        clip = asked.clip((request.view_args or {})["clip_id"])
        finished = [
            r for r in reviews.of_swimmer(database(), clip.swimmer_id or 0)
            if r.done_at and r.filmed_on == clip.filmed_on
        ]  # fmt: skip
        page = render_template("apart.html", clip=clip, finished=finished, page=request.path)
        return make_response(page)

    @app.errorhandler(CSRFError)
    def forged(error: CSRFError) -> Response:
        answer = _answer("This page is too old to act on. Load it again and repeat the step.", 400)
        answer.headers["X-Norvik-Token"] = "old"
        return answer

    @app.errorhandler(OverflowError)
    def beyond_numbers(error: OverflowError) -> Response:
        # A number larger than the database holds names nothing that is there.
        log.info("number out of range: %s %s", request.method, request.path)
        return _answer("A number in this request is too large. Go back and check it.", 404)

    @app.errorhandler(sqlite3.Error)
    def no_database(error: sqlite3.Error) -> Response:
        """Whatever page this would be, it must not ask the database for anything."""
        code, sentence = _database_says(error)
        log.error("database: %s on %s %s", error, request.method, request.path)
        reserve.give_up(current_app.config["NORVIK_SETTINGS"])
        return _bare(sentence, code)

    @app.errorhandler(OSError)
    def no_room(error: OSError) -> Response:
        if error.errno not in (errno.ENOSPC, errno.EDQUOT):
            return broken(error)
        log.error("disk: %s on %s %s", error, request.method, request.path)
        reserve.give_up(current_app.config["NORVIK_SETTINGS"])
        return _bare(_DISK_FULL, 507)

    @app.errorhandler(SecurityError)
    def another_host(error: SecurityError) -> Response:
        # No page has an address under a name that is not ours: not even that of an error.
        sentence = "This server does not answer to that name. Use the address that you were given."
        return Response(sentence, 400, mimetype="text/plain")

    @app.errorhandler(HTTPException)
    def http(error: HTTPException) -> Response:
        if error.response is not None or (error.code or 500) < 400:
            return make_response(error.get_response())
        code = error.code or 500
        return _answer(_SENTENCES.get(code, error.description or "Something went wrong."), code)

    @app.errorhandler(Exception)
    def broken(error: Exception) -> Response:
        log.exception("request failed: %s %s", request.method, request.path)
        sentence = "Something went wrong in Norvik. What you saved is safe; try again."
        return _answer(sentence, 500)


_DISK_FULL = (
    "The disk is full. Nothing saved is lost. Empty the trash or remove originals "
    "under Library, Storage, or make room on the disk; then try again."
)


def _database_says(error: sqlite3.Error) -> tuple[int, str]:
    name = getattr(error, "sqlite_errorname", "") or ""
    if name.startswith(("SQLITE_FULL", "SQLITE_IOERR")):
        return 507, _DISK_FULL
    if name.startswith(("SQLITE_READONLY", "SQLITE_CANTOPEN")):
        return 507, "The data folder cannot be written. Check its disk and its permissions."
    if name.startswith(("SQLITE_BUSY", "SQLITE_LOCKED")):
        return 503, "The database is busy. Wait a moment and try again."
    return 500, "Something went wrong in Norvik. What you saved is safe; try again."


def _wants_json() -> bool:
    return request.accept_mimetypes.best == "application/json"


def _bare(sentence: str, code: int) -> Response:
    """An answer that rests on nothing but itself."""
    if _wants_json():
        return make_response({"sentence": sentence}, code)
    if request.headers.get("HX-Request"):
        response = make_response(render_template("_notice.html", sentence=sentence), code)
        response.headers["HX-Retarget"] = "#notice"
        response.headers["HX-Reswap"] = "outerHTML"
        return response
    return make_response(render_template("bare.html", sentence=sentence), code)


def _answer(sentence: str, code: int) -> Response:
    if request.headers.get("HX-Request"):
        response = make_response(render_template("_notice.html", sentence=sentence), code)
        response.headers["HX-Retarget"] = "#notice"
        response.headers["HX-Reswap"] = "outerHTML"
        return response
    if request.accept_mimetypes.best == "application/json":
        return make_response({"sentence": sentence}, code)
    return make_response(render_template("error.html", sentence=sentence, code=code), code)
