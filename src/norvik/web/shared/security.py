"""Headers that keep a page to its own scripts, styles and pictures."""

from __future__ import annotations

from flask import Flask, Response

_POLICY = "; ".join(
    (
        "default-src 'self'",
        "img-src 'self' data: blob:",
        "media-src 'self' blob:",
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'self'",
        "frame-ancestors 'none'",
    )
)


def init_app(app: Flask) -> None:
    @app.after_request
    def add_headers(response: Response) -> Response:
        response.headers.setdefault("Content-Security-Policy", _POLICY)
        response.headers.setdefault("X-Content-Type-Options", "nosniff")
        response.headers.setdefault("Referrer-Policy", "same-origin")
        if response.mimetype == "text/html":
            # Pages show people: nothing of them stays in a shared computer's cache.
            response.headers.setdefault("Cache-Control", "no-store")
        return response
