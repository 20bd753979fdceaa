"""The templates that come along: how each limb is seen through a cycle of each stroke.

By the network, which sees every joint a little beside its place, and as points that were tracked
show it. Made by scripts/make-reading-templates.py, which also says from what.
"""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

import msgspec
import numpy as np

from norvik.core.reading.kick_count import KickCount
from norvik.core.reading.kick_motion import KickMotion
from norvik.core.reading.phase import Template
from norvik.core.reading.places import Places
from norvik.core.reading.stroke import Templates
from norvik.core.strokes.names import StrokeName

_BY_NETWORK, _BY_POINTS = "templates.json", "templates_of_points.json"


class _Limb(msgspec.Struct):
    events: dict[str, float]
    near: list[list[float]]
    far: list[list[float]]
    spread: list[list[float]]


class _Measure(msgspec.Struct):
    places: tuple[tuple[float, float], ...]
    u: float


class _Kicks(msgspec.Struct):
    joints: tuple[str, ...]
    centre: list[float]
    scale: list[float]
    means: list[list[float]]
    inverse: list[list[float]]


class _Counted(msgspec.Struct):
    """Of a stroke in a view, by kicks in a cycle; see `KickMotion`."""

    later: dict[int, float]
    off: dict[int, float]


class _KickMotion(msgspec.Struct):
    count: _Kicks
    views: dict[str, dict[str, _Counted]]


class _View(msgspec.Struct):
    arms: _Limb
    legs: _Limb | None = None
    offs: dict[str, float] = {}
    measures: dict[str, _Measure] = {}


class _Templates(msgspec.Struct):
    """Stroke to view to what was learnt there, and the counts of kicks of all of them: by joints
    that were tracked, by how the picture changes.
    """

    freestyle: dict[str, _View]
    backstroke: dict[str, _View]
    breaststroke: dict[str, _View]
    butterfly: dict[str, _View]
    kicks: _Kicks | None = None
    kick_motion: _KickMotion | None = None


@lru_cache(maxsize=2)
def _all(name: str) -> _Templates:
    return msgspec.json.decode(Path(__file__).with_name(name).read_bytes(), type=_Templates)


def templates_of(stroke: StrokeName, view: str, by_points: bool = False) -> Templates | None:
    """The templates of a stroke in a view; None where there are none.

    by_points: of joints that were tracked, not seen by the network; no measure is learnt of those.
    """
    found = _all(_BY_POINTS if by_points else _BY_NETWORK)
    views: dict[str, _View] = getattr(found, stroke, {})
    view_ = views.get(view)
    if view_ is None:
        return None
    return Templates(
        _made(view_.arms), _made(view_.legs) if view_.legs else None, view_.offs,
        {name: Places(one.places, one.u) for name, one in view_.measures.items()},
        _kicks(found.kicks) if found.kicks else None,
        _kick_motion(found.kick_motion, stroke, view),
    )  # fmt: skip


def _kick_motion(one: _KickMotion | None, stroke: str, view: str) -> KickMotion | None:
    counted = one.views.get(stroke, {}).get(view) if one else None
    if one is None or counted is None:
        return None
    return KickMotion(_kicks(one.count), counted.later, counted.off)


def _kicks(one: _Kicks) -> KickCount:
    return KickCount(
        one.joints, np.array(one.centre), np.array(one.scale), np.array(one.means),
        np.array(one.inverse),
    )  # fmt: skip


def _made(limb: _Limb) -> Template:
    return Template(
        np.array(limb.near), np.array(limb.far), np.array(limb.spread), dict(limb.events)
    )
