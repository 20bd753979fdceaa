"""A number for each request, and one line in the log for it.

The line names the route and not the address: addresses of links hold their token.
"""

from __future__ import annotations

import logging
import re
import secrets
import time

from flask import Flask, Response, g, request
from flask_login import current_user

log = logging.getLogger("norvik.requests")

_HEADER = "X-Request-ID"
_NUMBER = re.compile(r"[A-Za-z0-9._-]{8,64}")


def request_id() -> str:
    """The number of this request; one that a trusted proxy gave is kept."""
    if "request_id" not in g:
        given = request.headers.get(_HEADER, "")
        g.request_id = given if _NUMBER.fullmatch(given) else secrets.token_hex(8)
    return str(g.request_id)


def init_app(app: Flask) -> None:
    @app.before_request
    def begin() -> None:
        g.began = time.perf_counter()
        request_id()

    @app.after_request
    def end(response: Response) -> Response:
        response.headers[_HEADER] = request_id()
        spent_ms = 1000 * (time.perf_counter() - g.get("began", time.perf_counter()))
        # Asking who is signed in would load the session: only where that has been done.
        who = current_user.id if "_login_user" in g and current_user.is_authenticated else None
        log.info(
            "%s %s %d",
            request.method, request.endpoint or "nowhere", response.status_code,
            extra={
                "method": request.method, "route": request.endpoint or "",
                "status": response.status_code, "ms": round(spent_ms, 1), "account": who,
                "address": request.remote_addr or "",
            },
        )  # fmt: skip
        return response

    app.jinja_env.globals["request_id"] = request_id
