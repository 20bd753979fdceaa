"""Make the templates of reading: how a network sees each limb through one cycle of each stroke.

The model swimmer is filmed in many styles, builds and both ways of painting, each film is followed
as any other, and what the network answered is gathered by where the swimmer truly was in the
cycle. So what a network always gets a little wrong is in the template, too. A second run, over
other swimmers, tells how far what is read is off. A swimmer whose points were tracked is told by
templates of the joints themselves. About a quarter of an hour each on two processors, of points a
minute:

    export PYTHONPATH=. FILE=src/norvik/reading/templates.json
    python scripts/make-reading-templates.py $FILE templates
    python scripts/make-reading-templates.py $FILE offs
    python scripts/make-reading-templates.py src/norvik/reading/templates_of_points.json \
        templates points        (and: offs points)
"""

from __future__ import annotations

import json
import sys
from concurrent.futures import ProcessPoolExecutor
from itertools import pairwise
from pathlib import Path
from typing import Any

import numpy as np
from bench.reading import errors
from bench.swum_films import STROKES, VIEWS, SwumFilm, followed, pointed, takes
from numpy.typing import NDArray

from norvik.core.reading.limbs import Limbs, limbs_of
from norvik.core.reading.stroke import BREATH
from norvik.core.strokes.names import Side, StrokeName
from norvik.model.schedule import Schedule
from norvik.reading.network import JOINTS
from norvik.reading.read import read_followed

Series = NDArray[np.float64]

STEPS = 180
#: Films of each stroke and view, by how they are painted, and their first seeds.
FILMS = {"plain": 5, "filmlike": 2}
POINTED = {"plain": 12}
TEMPLATE_SEED, OFF_SEED = 5000, 9000
#: A real swimmer is less like the model than another model: what is off is said larger by this.
WIDER = 1.25
#: Nothing is said to be better than this, seconds: about a frame that was read.
LEAST_OFF_S = 0.03
#: Beside a limb's own spread: how much another swimmer may differ, in trunk lengths.
OTHERS = 0.12
_SMOOTH = np.array([1.0, 2.0, 3.0, 3.0, 2.0, 1.0, 1.0]) / 13


def arm_events(plan: Schedule, side: Side) -> list[dict[str, float]]:
    return [c.at for c in plan.arms.get(side) or plan.arms["both"]]


def leg_events(plan: Schedule, _side: Side) -> list[dict[str, float]]:
    return [{"heels": c.heels, "set": c.set, "close": c.close} for c in plan.legs]


def places_of(cycles: list[dict[str, float]]) -> dict[str, float]:
    """Mean place of each event in a cycle, 0 to 1."""
    found: dict[str, list[float]] = {}
    opens = next(iter(cycles[0]))
    for a, b in pairwise(cycles):
        for event, time_s in a.items():
            found.setdefault(event, []).append((time_s - a[opens]) / (b[opens] - a[opens]))
    return {event: float(np.mean(shares)) for event, shares in found.items()}


def breath_places(plan: Schedule, places: dict[str, float]) -> dict[str, float]:
    """Mean place of the events of a breath to the front in a cycle of the arms."""
    cycles = arm_events(plan, "both")
    at = np.array([c[e] for c in cycles for e in places])
    place = np.array([k + p for k, _ in enumerate(cycles) for p in places.values()])
    return {
        event: float(np.mean([np.interp(getattr(b, event), at, place) % 1 for b in plan.breaths]))
        for event in BREATH
    }


def limbs(film: SwumFilm) -> tuple[Limbs, Limbs]:
    """What the network saw of a film, and where every limb truly was."""
    shot, count = film.shot, len(film.shot.times)
    seen = {name: np.full((count, 2), np.nan) for name in JOINTS}
    for pose in film.followed.poses:
        for name, point in zip(JOINTS, pose.points, strict=True):
            seen[name][pose.frame] = point
    true = {
        name: shot.camera.project(points) for name, points in shot.joints.items() if name != "face"
    }
    true["nose"] = true["neck"]
    if film.mirrored:
        width = shot.camera.width_px - 1
        true = {name: np.stack([width - p[:, 0], p[:, 1]], 1) for name, p in true.items()}
    return limbs_of(seen), limbs_of(true)


def template(films: list[SwumFilm], limb: str) -> dict[str, Any]:
    """One limb of one stroke in one view."""
    events = arm_events if limb == "arms" else leg_events
    places = places_of([c for f in films for c in events(f.shot.plan, "right")[:6]])
    places = {
        event: float(np.mean([places_of(events(f.shot.plan, "right"))[event] for f in films]))
        for event in places
    }
    gathered: list[list[list[Series]]] = [[[] for _ in range(STEPS)] for _ in range(2)]
    for film in films:
        seen, true = (getattr(one, limb) for one in limbs(film))
        near = 1 if film.shot.take.swim.stroke != "backstroke" else 0
        for side, far in ((near, 0), (1 - near, 1)):
            cycles = events(film.shot.plan, ("left", "right")[side])
            at = np.array([c[e] for c in cycles for e in places])
            place = np.array([k + p for k, _ in enumerate(cycles) for p in places.values()])
            phase = np.interp(film.shot.times, at, place)
            for n, now in enumerate(phase):
                # Whichever of both the network took for this one.
                own = min(seen[n], key=lambda s: _off(s, true[n, side]))
                gathered[far][int(now * STEPS) % STEPS].append(own)
    if limb == "arms" and "both" in films[0].shot.plan.arms:
        breaths = [breath_places(f.shot.plan, places) for f in films]
        places |= {event: float(np.mean([b[event] for b in breaths])) for event in BREATH}
    near_mean, far_mean = (
        _smoothed(np.array([np.nanmedian(step, axis=0) for step in of])) for of in gathered
    )
    spread = np.array(
        [
            1.48 * np.nanmedian(np.abs(step - np.nanmedian(step, axis=0)), axis=0)
            for step in gathered[0]
        ]
    )
    spread = np.sqrt(_smoothed(spread) ** 2 + OTHERS**2)
    return {
        "events": {event: round(at, 4) for event, at in places.items()},
        "near": np.round(near_mean, 3).tolist(), "far": np.round(far_mean, 3).tolist(),
        "spread": np.round(spread, 3).tolist(),
    }  # fmt: skip


def _off(seen: Series, true: Series) -> float:
    return float(np.nansum(np.abs(seen - true)) + 9 * np.isnan(seen).sum())


def _smoothed(steps: Series) -> Series:
    """Lightly, round the cycle."""
    wide = np.concatenate([steps[-3:], steps, steps[:3]])
    return np.stack([np.convolve(one, _SMOOTH, "valid") for one in wide.T], axis=1)


def offs(films: list[SwumFilm], stroke: StrokeName, view: str) -> dict[str, float]:
    """SD in seconds, about zero, of every event that is read, by event."""
    found: dict[str, list[float]] = {}
    for film in films:
        for event, off in errors(film, read_followed(film.followed, stroke, view)):
            found.setdefault(event, []).append(off)
    return {
        event: round(max(LEAST_OFF_S, WIDER * float(np.sqrt(np.mean(np.square(of))))), 3)
        for event, of in sorted(found.items())
    }


def of_kind(films: list[SwumFilm], stroke: str, view: str) -> list[SwumFilm]:
    return [f for f in films if (f.shot.take.swim.stroke, f.shot.take.view) == (stroke, view)]


def main() -> None:
    path, what = Path(sys.argv[1]), sys.argv[2]
    kind = (pointed, POINTED) if sys.argv[3:] == ["points"] else (followed, FILMS)
    with ProcessPoolExecutor(2) as pool:
        seed = TEMPLATE_SEED if what == "templates" else OFF_SEED
        # How far off something is should hold for swimmers with faults, too.
        films = list(pool.map(kind[0], takes(seed, kind[1], faulty=what == "offs")))
    found = json.loads(path.read_text()) if path.exists() else {}
    for stroke in STROKES:
        for view in VIEWS:
            own = of_kind(films, stroke, view)
            if what == "offs":
                found[stroke][view]["offs"] = offs(own, stroke, view)
                continue
            made: dict[str, Any] = {"arms": template(own, "arms")}
            if stroke == "breaststroke":
                made["legs"] = template(own, "legs")
            found.setdefault(stroke, {})[view] = made
    path.write_text(json.dumps(found, separators=(",", ":")) + "\n")


if __name__ == "__main__":
    main()
