"""Headers that keep a page to its own scripts, styles and pictures."""

from __future__ import annotations

from flask import Flask, Response, request

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


#: What tells of people in words and numbers.
_WORDS = {"text/html", "text/csv", "application/json", "text/calendar", "application/zip",
          "application/pdf", "message/rfc822", "text/vtt"}  # fmt: skip
_FEATURES = "camera=(), geolocation=(), microphone=(self), payment=(), usb=()"
_YEAR_S = 31_536_000


def init_app(app: Flask, https: bool = False) -> None:
    @app.after_request
    def add_headers(response: Response) -> Response:
        response.headers.setdefault("Content-Security-Policy", _POLICY)
        response.headers.setdefault("X-Content-Type-Options", "nosniff")
        response.headers.setdefault("Referrer-Policy", "same-origin")
        response.headers.setdefault("Permissions-Policy", _FEATURES)
        response.headers.setdefault("Cross-Origin-Opener-Policy", "same-origin")
        if https:
            response.headers.setdefault("Strict-Transport-Security", f"max-age={_YEAR_S}")
        if request.endpoint == "static":
            return response
        said = response.headers.get("Cache-Control", "")
        if response.mimetype in _WORDS and said in ("", "no-cache"):
            # Pages and tables tell of people: nothing of them stays in a shared computer's cache.
            response.headers["Cache-Control"] = "no-store"
        else:
            # Pictures and films of people are kept by their own browser alone.
            kept = said.replace("public", "private") or "private, no-cache"
            response.headers["Cache-Control"] = kept
        return response
