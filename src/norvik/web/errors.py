"""The one place where an error becomes a page, or a notice when htmx asks."""

from __future__ import annotations

import logging

from flask import Flask, Response, make_response, render_template, request
from flask_wtf.csrf import CSRFError
from werkzeug.exceptions import HTTPException

from norvik.core.errors import NorvikError, NotFoundError

log = logging.getLogger(__name__)

_SENTENCES = {
    400: "Something in the request could not be read. Go back and try again.",
    403: "You may not do this. Sign in with another account.",
    404: "There is no such page. It may have been deleted.",
    405: "That cannot be done here. Go back and try again.",
    413: "This is more than Norvik can take in one piece.",
}


def init_app(app: Flask) -> None:
    @app.errorhandler(NorvikError)
    def refused(error: NorvikError) -> Response:
        return _answer(error.sentence, 404 if isinstance(error, NotFoundError) else 422)

    @app.errorhandler(CSRFError)
    def forged(error: CSRFError) -> Response:
        return _answer("This page is too old to act on. Load it again and repeat the step.", 400)

    @app.errorhandler(HTTPException)
    def http(error: HTTPException) -> Response:
        if error.response is not None or (error.code or 500) < 400:
            return make_response(error.get_response())
        code = error.code or 500
        return _answer(_SENTENCES.get(code, error.description or "Something went wrong."), code)

    @app.errorhandler(Exception)
    def broken(error: Exception) -> Response:
        log.exception("request failed: %s %s", request.method, request.path)
        sentence = "Something went wrong in Norvik itself. What you had saved is safe; try again."
        return _answer(sentence, 500)


def _answer(sentence: str, code: int) -> Response:
    if request.headers.get("HX-Request"):
        response = make_response(render_template("_notice.html", sentence=sentence), code)
        response.headers["HX-Retarget"] = "#notice"
        response.headers["HX-Reswap"] = "outerHTML"
        return response
    if request.accept_mimetypes.best == "application/json":
        return make_response({"sentence": sentence}, code)
    return make_response(render_template("error.html", sentence=sentence, code=code), code)
