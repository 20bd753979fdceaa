"""Where the fonts of paper lie."""

from __future__ import annotations

from pathlib import Path

from flask import current_app


def fonts() -> Path:
    return Path(str(current_app.static_folder)) / "fonts"
