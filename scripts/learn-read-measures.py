"""Learn where a coach clicks against where a network sees the joints, for measures on the frame.

The model swimmer is filmed with and without faults, each film is followed as any other, and what
the network answered is held against the swimmer's true joints. Other swimmers then tell how far a
value is off, and whether it follows the swimmer at all: a network that puts the elbow where an
elbow usually is never sees one that drops, and such a measure is not proposed. About a quarter of
an hour on two processors:

    PYTHONPATH=. python scripts/learn-read-measures.py src/norvik/reading/templates.json
"""

from __future__ import annotations

import json
import sys
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np
from bench.measured_films import Proposed, follows, moving_takes, nothing_learnt, proposed_of
from bench.swum_films import STROKES, SwumFilm, followed

from norvik.core.reading.on_frame import PLANS, VIEW, places_between
from norvik.core.reading.places import Places

#: Films of each stroke, by how they are painted, and their first seeds.
FILMS = {"plain": 9, "filmlike": 2}
PLACE_SEED, CHECK_SEED = 31_000, 42_000
#: A real swimmer is less like the model than another model is: what is off is said larger by this.
WIDER = 1.25


def films_of(first_seed: int) -> list[SwumFilm]:
    with ProcessPoolExecutor(2) as pool:
        return list(pool.map(followed, moving_takes(first_seed, FILMS)))


def places(films: list[SwumFilm], stroke: str) -> dict[str, Places]:
    """The middle of where each point of each measure truly lay."""
    found = proposals(films, stroke, nothing_learnt(stroke))
    between = {
        name: np.median(
            [places_between(np.array(p.read.points), p.here, p.limbs) for p in of], axis=0
        )
        for name, of in found.items()
    }
    return {
        name: Places(tuple((round(float(x), 3), round(float(y), 3)) for x, y in of), 0.0)
        for name, of in between.items()
    }


def proposals(
    films: list[SwumFilm], stroke: str, learnt: dict[str, Places]
) -> dict[str, list[Proposed]]:
    """All proposals by measure; film tells which of them came from one."""
    found: dict[str, list[Proposed]] = {name: [] for name in PLANS[stroke]}
    for film in films:
        if film.shot.take.swim.stroke == stroke:
            for one in proposed_of(film, learnt):
                found[one.read.measure].append(one)
    return {name: of for name, of in found.items() if of}


def main() -> None:
    path = Path(sys.argv[1])
    kept = json.loads(path.read_text())
    learning, checking = films_of(PLACE_SEED), films_of(CHECK_SEED)
    for stroke in STROKES:
        learnt = places(learning, stroke)
        made = {}
        for name, of in proposals(checking, stroke, learnt).items():
            off = np.array([p.value - p.true for p in of])
            u = WIDER * float(np.sqrt(np.mean(off**2)))
            alike, slope, fine = follows(of)
            print(
                f"{stroke:12} {name:18} {len(of):3} times, off {off.mean():6.2f}, u {u:6.2f}, "
                f"alike {alike:5.2f}, slope {slope:5.2f}  "
                f"{'proposed' if fine else 'does not follow'}",
                flush=True,
            )
            if fine:
                made[name] = {"places": learnt[name].places, "u": float(f"{u:.2g}")}
        kept[stroke][VIEW]["measures"] = made
    path.write_text(json.dumps(kept, separators=(",", ":")) + "\n")


if __name__ == "__main__":
    main()
