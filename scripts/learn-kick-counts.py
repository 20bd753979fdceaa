"""Learn how many kicks go to a cycle, from films of model swimmers with two, four and six.

Half an hour on two processors for films, a minute for tracked points:

    export PYTHONPATH=. IN=src/norvik/reading
    python scripts/learn-kick-counts.py $IN/templates.json
    python scripts/learn-kick-counts.py $IN/templates_of_points.json points

Of films it is learnt from how the picture changes where the legs are, with when a kick comes after
they changed most; of tracked points from the rhythms of the joints.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import Any

import numpy as np
from bench.kick_films import KickFilm, features_of, kicked, kicked_points

from norvik.core.reading.kick_count import KickCount, learn

SEED = 140_000
FILMS = {"plain": 4, "filmlike": 4}
POINTED = {"plain": 16}
#: Few films should not say too much of features that go together (scaled variance; own choice,
#: the best of 0.1, 0.3 and 1 where each film was left out once).
HELD = {"films": 0.1, "points": 0.3}
#: Toes are not among the joints that most trackers have.
JOINTS = ("ankle", "knee")
#: A real swimmer is less like the model than another model is; and few films that agree by chance
#: are no proof (shares of the time from kick to kick; own choice).
WIDER, LEAST_OFF = 1.25, 0.04


def main() -> None:
    path, kind = Path(sys.argv[1]), "points" if sys.argv[2:] == ["points"] else "films"
    made = kicked_points(SEED, POINTED) if kind == "points" else kicked(SEED, FILMS)
    with ProcessPoolExecutor(2) as pool:
        films = list(pool.map(features_of, made, [JOINTS] * len(made)))
    found = json.loads(path.read_text())
    count = _written(counted(films, HELD[kind], JOINTS if kind == "points" else ()))
    if kind == "points":
        found["kicks"] = count
    else:
        found.pop("kicks", None)
        found["kick_motion"] = {"count": count, "views": later(films)}
    path.write_text(json.dumps(found, separators=(",", ":")) + "\n")


def counted(films: Sequence[KickFilm], held: float, joints: Sequence[str]) -> KickCount:
    """Learnt of all; says how often each film is told right by the others."""
    seen = [(film.beats, film.features) for film in films if film.features is not None]
    beats, features = [n for n, _ in seen], np.array([one for _, one in seen])
    told = []
    for n, (true, one) in enumerate(seen):
        others = learn(np.delete(features, n, 0), beats[:n] + beats[n + 1 :], (), held)
        likely = others.likely(one)
        count = max(likely, key=lambda n: likely[n])
        told.append((true, count, likely[count]))
    for least in (0.0, 0.6, 0.75, 0.9):
        kept = [(true, count) for true, count, sure in told if sure >= least]
        right = sum(true == count for true, count in kept)
        print(f"{least}: told in {len(kept)} of {len(films)}, right in {right}")
    return learn(features, beats, joints, held)


def later(films: Sequence[KickFilm]) -> dict[str, dict[str, Any]]:
    """By stroke, view and count: when a kick comes after the legs changed most, and how far off
    the kicks of each film are where the others say so; shares of the time from kick to kick.
    """
    found: dict[str, dict[str, Any]] = {}
    groups = {(f.stroke, f.view, f.beats) for f in films}
    for stroke, view, beats in sorted(groups):
        own = [_turns(f) for f in films if (f.stroke, f.view, f.beats) == (stroke, view, beats)]
        each = [one for one in own if len(one)]
        off = np.concatenate([
            np.angle(one / _middle(each[:n] + each[n + 1 :])) / (2 * np.pi)
            for n, one in enumerate(each)
        ])  # fmt: skip
        spread = max(LEAST_OFF, WIDER * float(np.sqrt(np.mean(off**2))))
        share = float(np.angle(_middle(each)) / (2 * np.pi))
        of = found.setdefault(stroke, {}).setdefault(view, {"later": {}, "off": {}})
        of["later"][str(beats)], of["off"][str(beats)] = round(share, 4), round(spread, 4)
        print(f"{stroke} {view} {beats}: {share:.2f} later, off by {spread:.2f}")
    return found


def _turns(film: KickFilm) -> np.ndarray:
    """When each true kick comes after the legs changed most, as a turn on the unit circle."""
    if not film.most_at:
        return np.zeros(0, complex)
    most, kicks = np.array(film.most_at), np.array(film.kicks)
    apart = float(np.median(np.diff(film.openings))) / film.beats
    nearest = np.abs(kicks[:, None] - most[None]).argmin(axis=1)
    return np.exp(2j * np.pi * (kicks - most[nearest]) / apart)


def _middle(turns: Sequence[np.ndarray]) -> complex:
    """Each film counts as much as another."""
    total = complex(np.mean([one.mean() for one in turns]))
    return total / abs(total)


def _written(learnt: KickCount) -> dict[str, Any]:
    return {
        "joints": learnt.joints, "centre": np.round(learnt.centre, 4).tolist(),
        "scale": np.round(learnt.scale, 4).tolist(), "means": np.round(learnt.means, 4).tolist(),
        "inverse": np.round(learnt.inverse, 4).tolist(),
    }  # fmt: skip


if __name__ == "__main__":
    main()
