"""Learn how many kicks go to a cycle, from films of model swimmers with two, four and six.

A third of an hour on two processors for the network, a minute for tracked points:

    export PYTHONPATH=. IN=src/norvik/reading
    python scripts/learn-kick-counts.py $IN/templates.json
    python scripts/learn-kick-counts.py $IN/templates_of_points.json points
"""

from __future__ import annotations

import json
import sys
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np
from bench.kick_films import features_of, kicked, kicked_points

from norvik.core.reading.kick_count import learn

SEED = 140_000
FILMS = {"plain": 4, "filmlike": 4}
POINTED = {"plain": 16}
#: Few films should not say too much of features that go together (scaled variance; own choice,
#: the best of 0.1, 0.3 and 1 where each film was left out once).
HELD = 0.3
#: Toes are not among the joints that most trackers have.
JOINTS = {"network": ("ankle", "toe", "knee"), "points": ("ankle", "knee")}


def main() -> None:
    path, kind = Path(sys.argv[1]), "points" if sys.argv[2:] == ["points"] else "network"
    made = kicked_points(SEED, POINTED) if kind == "points" else kicked(SEED, FILMS)
    with ProcessPoolExecutor(2) as pool:
        films = list(pool.map(features_of, made, [JOINTS[kind]] * len(made)))
    seen = [(film.beats, film.features) for film in films if film.features is not None]
    beats, features = [n for n, _ in seen], np.array([one for _, one in seen])
    told = []
    for n, (true, one) in enumerate(seen):
        others = learn(np.delete(features, n, 0), beats[:n] + beats[n + 1 :], (), HELD)
        likely = others.likely(one)
        count = max(likely, key=lambda n: likely[n])
        told.append((true, count, likely[count]))
    for least in (0.0, 0.6, 0.75, 0.9):
        kept = [(true, count) for true, count, sure in told if sure >= least]
        right = sum(true == count for true, count in kept)
        print(f"{least}: told in {len(kept)} of {len(films)}, right in {right}")
    learnt = learn(features, beats, JOINTS[kind], HELD)
    found = json.loads(path.read_text())
    found["kicks"] = {
        "joints": learnt.joints, "centre": np.round(learnt.centre, 4).tolist(),
        "scale": np.round(learnt.scale, 4).tolist(), "means": np.round(learnt.means, 4).tolist(),
        "inverse": np.round(learnt.inverse, 4).tolist(),
    }  # fmt: skip
    path.write_text(json.dumps(found, separators=(",", ":")) + "\n")


if __name__ == "__main__":
    main()
