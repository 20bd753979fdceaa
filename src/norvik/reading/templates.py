"""The templates that come along: how the network sees each limb through a cycle of each stroke.

Made by scripts/make-reading-templates.py, which also says from what.
"""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

import msgspec
import numpy as np

from norvik.core.reading.phase import Template
from norvik.core.reading.places import Places
from norvik.core.reading.stroke import Templates
from norvik.core.strokes.names import StrokeName

_FILE = Path(__file__).with_name("templates.json")


class _Limb(msgspec.Struct):
    events: dict[str, float]
    near: list[list[float]]
    far: list[list[float]]
    spread: list[list[float]]


class _Measure(msgspec.Struct):
    places: tuple[tuple[float, float], ...]
    u: float


class _View(msgspec.Struct):
    arms: _Limb
    legs: _Limb | None = None
    offs: dict[str, float] = {}
    measures: dict[str, _Measure] = {}


@lru_cache(maxsize=1)
def _all() -> dict[str, dict[str, _View]]:
    return msgspec.json.decode(_FILE.read_bytes(), type=dict[str, dict[str, _View]])


def templates_of(stroke: StrokeName, view: str) -> Templates | None:
    """The templates of a stroke in a view; None where there are none."""
    view_ = _all().get(stroke, {}).get(view)
    if view_ is None:
        return None
    return Templates(
        _made(view_.arms), _made(view_.legs) if view_.legs else None, view_.offs,
        {name: Places(one.places, one.u) for name, one in view_.measures.items()},
    )  # fmt: skip


def _made(limb: _Limb) -> Template:
    return Template(
        np.array(limb.near), np.array(limb.far), np.array(limb.spread), dict(limb.events)
    )
