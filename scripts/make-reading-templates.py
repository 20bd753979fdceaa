"""Make the templates of reading: how a network sees each limb through one cycle of each stroke.

The model swimmer is filmed in many styles, builds and both ways of painting, each film is followed
as any other, and what the network answered is gathered by where the swimmer truly was in the cycle.
So what a network always gets a little wrong is in the template, too. About half an hour on two
processors:

    python scripts/make-reading-templates.py src/norvik/reading/templates.json
"""

from __future__ import annotations

import json
import sys
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from itertools import pairwise
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from norvik.core.reading.limbs import limbs_of
from norvik.model.film import Conditions, Shot, Take
from norvik.model.filmlike.shot import FilmlikeShot
from norvik.model.pose import Build
from norvik.model.schedule import USUAL, Schedule, Swim
from norvik.reading.detect import Detector
from norvik.reading.follow import follow_swimmer, usual_trunk
from norvik.reading.network import JOINTS, LitePose

Series = NDArray[np.float64]

STROKES = ("freestyle", "backstroke", "breaststroke", "butterfly")
VIEWS = ("side-under", "side-above")
STEPS = 180
FPS = 30
#: Films of each stroke and view, by how they are painted.
FILMS = {"plain": 5, "filmlike": 2}
#: Beside a limb's own spread: how much another swimmer may differ, in trunk lengths.
OTHERS = 0.12
_SMOOTH = np.array([1.0, 2.0, 3.0, 3.0, 2.0, 1.0, 1.0]) / 13


def takes() -> list[tuple[Take, bool]]:
    """Takes, each with whether its picture is mirrored."""
    found = []
    for style, count in FILMS.items():
        for stroke in STROKES:
            for view in VIEWS:
                for n in range(count):
                    seed = 5000 + 100 * STROKES.index(stroke) + 10 * VIEWS.index(view) + n
                    rng = np.random.default_rng(seed + (style == "filmlike") * 1000)
                    conditions = Conditions(
                        haze=float(rng.uniform(0, 0.5)), tilt_deg=float(rng.uniform(-4, 4))
                    )
                    take = Take(
                        _swim(stroke, rng, seed), Build(height_m=float(rng.uniform(1.55, 1.95))),
                        seconds=8, fps=FPS, view=view, style=style, conditions=conditions,
                    )  # fmt: skip
                    found.append((take, n % 2 == 1))
    return found


def _swim(stroke: str, rng: np.random.Generator, seed: int) -> Swim:
    usual = USUAL[stroke]
    shares = np.array([usual.entry, usual.catch, usual.pull, usual.recovery])
    shares = shares * np.exp(rng.normal(0, 0.1, 4))
    entry, catch, pull, recovery = (float(s) for s in shares / shares.sum())
    lag = float(np.clip(rng.normal(0.5, 0.03), 0.42, 0.58))
    return replace(
        usual, cycle_s=usual.cycle_s * float(np.exp(rng.normal(0, 0.12))), entry=entry,
        catch=catch, pull=pull, recovery=recovery, seed=seed,
        lag=lag if stroke in ("freestyle", "backstroke") else 0.5,
        breath_every=1 if stroke in ("breaststroke", "butterfly") else usual.breath_every,
    )  # fmt: skip


def arm_events(plan: Schedule, side: str) -> list[dict[str, float]]:
    return [c.at for c in plan.arms.get(side) or plan.arms["both"]]


def leg_events(plan: Schedule, _side: str) -> list[dict[str, float]]:
    return [{"heels": c.heels, "set": c.set, "close": c.close} for c in plan.legs]


def places_of(cycles: list[dict[str, float]]) -> dict[str, float]:
    """Mean place of each event in a cycle, 0 to 1."""
    found: dict[str, list[float]] = {}
    opens = next(iter(cycles[0]))
    for a, b in pairwise(cycles):
        for event, time_s in a.items():
            found.setdefault(event, []).append((time_s - a[opens]) / (b[opens] - a[opens]))
    return {event: float(np.mean(shares)) for event, shares in found.items()}


def followed(job: tuple[Take, bool]) -> dict[str, Any]:
    """What the network saw of a take, with where each limb truly was."""
    take, mirrored = job
    shot = (FilmlikeShot if take.style == "filmlike" else Shot)(take)

    def picture(n: int) -> NDArray[np.uint8]:
        image = shot.frame(n)[:, :, ::-1]
        return np.ascontiguousarray(image[:, ::-1] if mirrored else image)

    detector, count = Detector(), len(shot.times)
    usual = usual_trunk((picture(n) for n in range(0, count, FPS)), detector)
    frames = ((n, picture(n)) for n in range(count))
    seen = {name: np.full((count, 2), np.nan) for name in JOINTS}
    for pose in follow_swimmer(frames, LitePose(), detector, 1 / FPS, usual_px=usual):
        for name, point in zip(JOINTS, pose.points, strict=True):
            seen[name][pose.frame] = point
    true = {
        name: shot.camera.project(points) for name, points in shot.joints.items() if name != "face"
    }
    true["nose"] = true["neck"]
    if mirrored:
        width = shot.camera.width_px - 1
        true = {name: np.stack([width - p[:, 0], p[:, 1]], 1) for name, p in true.items()}
    return {
        "take": take, "plan": shot.plan, "times": shot.times,
        "seen": limbs_of(seen), "true": limbs_of(true),
    }  # fmt: skip


def template(films: list[dict[str, Any]], limb: str) -> dict[str, Any]:
    """One limb of one stroke in one view."""
    events = arm_events if limb == "arms" else leg_events
    places = places_of([c for f in films for c in events(f["plan"], "right")[:6]])
    places = {
        event: float(np.mean([places_of(events(f["plan"], "right"))[event] for f in films]))
        for event in places
    }
    gathered: list[list[list[Series]]] = [[[] for _ in range(STEPS)] for _ in range(2)]
    for film in films:
        seen, true = getattr(film["seen"], limb), getattr(film["true"], limb)
        near = 1 if film["take"].swim.stroke != "backstroke" else 0
        for side, far in ((near, 0), (1 - near, 1)):
            cycles = events(film["plan"], ("left", "right")[side])
            at = np.array([c[e] for c in cycles for e in places])
            place = np.array([k + p for k, _ in enumerate(cycles) for p in places.values()])
            phase = np.interp(film["times"], at, place)
            for n, now in enumerate(phase):
                # Whichever of both the network took for this one.
                own = min(seen[n], key=lambda s: _off(s, true[n, side]))
                gathered[far][int(now * STEPS) % STEPS].append(own)
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


def main() -> None:
    with ProcessPoolExecutor(2) as pool:
        films = list(pool.map(followed, takes()))
    found: dict[str, Any] = {}
    for stroke in STROKES:
        for view in VIEWS:
            own = [f for f in films if (f["take"].swim.stroke, f["take"].view) == (stroke, view)]
            found.setdefault(stroke, {})[view] = {"arms": template(own, "arms")}
            if stroke == "breaststroke":
                found[stroke][view]["legs"] = template(own, "legs")
    Path(sys.argv[1]).write_text(json.dumps(found, separators=(",", ":")) + "\n")


if __name__ == "__main__":
    main()
