"""Films of the model swimmer, followed as any other film: what reading is made from and tried on.

Builds, splits of the cycle, rates, coordination, haze, tilt and direction differ from film to film;
another first seed gives other swimmers.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from norvik.core.reading.tracked import tracked_joints
from norvik.core.strokes.names import STROKE_NAMES
from norvik.model.dials import with_faults
from norvik.model.film import Conditions, Shot, Take
from norvik.model.filmlike.shot import FilmlikeShot
from norvik.model.pose import Build
from norvik.model.schedule import USUAL, Swim
from norvik.reading.detect import Detector
from norvik.reading.follow import usual_trunk
from norvik.reading.followed import Followed, follow_film
from norvik.reading.network import LitePose
from norvik.reading.tracked import followed_by_points

Image = NDArray[np.uint8]

STROKES = STROKE_NAMES
VIEWS = ("side-under", "side-above")
FPS = 30


@dataclass(frozen=True)
class SwumFilm:
    """A take that was followed. mirrored: its picture was, so that left and right change places."""

    shot: Shot
    mirrored: bool
    followed: Followed


#: Faults that change a stroke's timing or its arms most.
FAULTS = {
    "freestyle": ("overglide", "uneven-rhythm", "straight-arm", "dropped-elbow"),
    "backstroke": ("back-late-hold", "back-little-roll", "back-cross"),
    "breaststroke": ("breast-slow-heels", "breast-hands-stop", "breast-flat-forearms"),
    "butterfly": ("fly-short", "fly-late-breath", "fly-wide"),
}


def takes(
    first_seed: int, films: Mapping[str, int], seconds: float = 8, faulty: bool = False,
    views: Sequence[str] = VIEWS,
) -> list[tuple[Take, bool]]:  # fmt: skip
    """Takes, each with whether it is mirrored. films: of each stroke and view, by style.

    faulty: every second swimmer has a fault.
    """
    found = []
    for style, count in films.items():
        for stroke in STROKES:
            for view in views:
                for n in range(count):
                    seed = first_seed + 100 * STROKES.index(stroke) + 10 * views.index(view) + n
                    rng = np.random.default_rng(seed + (style == "filmlike") * 1000)
                    conditions = Conditions(
                        haze=float(rng.uniform(0, 0.5)), tilt_deg=float(rng.uniform(-4, 4))
                    )
                    swim = _swim(stroke, rng, seed)
                    faults = {}
                    if faulty and n % 2 == 0:
                        fault = FAULTS[stroke][seed // 2 % len(FAULTS[stroke])]
                        faults = {fault: float(rng.uniform(0.5, 0.9))}
                    take = Take(
                        swim, Build(height_m=float(rng.uniform(1.55, 1.95))),
                        seconds=seconds, fps=FPS, view=view, style=style, conditions=conditions,
                    )  # fmt: skip
                    take = with_faults(take, faults)
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


def followed(job: tuple[Take, bool]) -> SwumFilm:
    """Film a take and follow its swimmer."""
    take, mirrored = job
    shot = (FilmlikeShot if take.style == "filmlike" else Shot)(take)

    def picture(n: int) -> Image:
        image = shot.frame(n)[:, :, ::-1]
        return np.ascontiguousarray(image[:, ::-1] if mirrored else image)

    def pictures() -> Iterator[tuple[int, float, Image]]:
        for n, time_s in enumerate(shot.times):
            yield n, float(time_s), picture(n)

    detector = Detector()
    usual = usual_trunk((picture(n) for n in range(0, len(shot.times), FPS)), detector)
    return SwumFilm(shot, mirrored, follow_film(pictures(), LitePose(), detector, usual))


#: How far a tracker puts a joint beside its place, SD in trunk lengths, and in which share of the
#: frames it has none (own choice: a good one, along skin).
_BESIDE, _NONE = 0.03, 0.15


def pointed(job: tuple[Take, bool]) -> SwumFilm:
    """The same as a tracker would have it that is no network of ours: no picture is looked at."""
    take, _ = job
    shot = Shot(take)
    rng = np.random.default_rng(take.swim.seed)
    neck, pelvis = (shot.camera.project(shot.joints[name]) for name in ("neck", "pelvis"))
    trunk = float(np.median(np.hypot(*(neck - pelvis).T)))
    points: dict[str, dict[int, tuple[float, float, float]]] = {}
    for joint, places in shot.joints.items():
        at = shot.camera.project(places)
        at = at + rng.normal(0, _BESIDE * trunk, at.shape)
        name = joint.replace("_", " ").replace("toe", "toes")
        lost = rng.uniform(size=len(at)) < _NONE
        points[name] = {n: (float(x), float(y), 1.0) for n, (x, y) in enumerate(at) if not lost[n]}
    times = {n: float(time_s) for n, time_s in enumerate(shot.times)}
    return SwumFilm(shot, False, followed_by_points(tracked_joints(points), times))
