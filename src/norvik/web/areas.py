"""The areas of the job, each a folder with its views, its templates and its scripts side by side.

A page names a template or a script without its folder ("bench/page.html", "js/bench.js"); it is
looked for in every area. So a screen can move to another folder without an edit anywhere else.
"""

from __future__ import annotations

from pathlib import Path

from flask import Flask, Response, send_from_directory
from jinja2 import ChoiceLoader, FileSystemLoader
from werkzeug.exceptions import NotFound

AREAS = (
    "footage",
    "clip",
    "beside",
    "review",
    "talk",
    "send",
    "link",
    "swimmer",
    "squad",
    "reference",
    "account",
    "people",
    "mine",
)
_HERE = Path(__file__).parent


def template_folders() -> list[Path]:
    """Where templates lie: what all pages share, then each area's own."""
    return [_HERE / "templates", *(_HERE / area / "templates" for area in AREAS)]


def script_folders() -> list[Path]:
    """Where scripts lie: what all pages share, then each area's own."""
    return [
        _HERE / "static" / "js",
        *(f for area in AREAS if (f := _HERE / area / "scripts").is_dir()),
    ]


def init_app(app: Flask) -> None:
    """Serve templates, scripts, styles, fonts and icons out of the areas."""
    app.jinja_loader = ChoiceLoader([FileSystemLoader(f) for f in template_folders()])
    app.static_folder = str(_HERE / "static")
    scripts = script_folders()

    def static(filename: str) -> Response:
        folder, _, name = filename.partition("/")
        if folder == "js":
            for place in scripts:
                if (place / name).is_file():
                    return send_from_directory(place, name)
            raise NotFound
        return send_from_directory(_HERE / "static", filename)

    app.add_url_rule("/static/<path:filename>", endpoint="static", view_func=static)
