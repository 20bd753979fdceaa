"""Reading films: how fast, how often right, and whether the plus-minus holds."""

from __future__ import annotations

import time
from collections import defaultdict
from collections.abc import Mapping
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np

from bench import read_elsewhere
from bench.figures import line
from bench.kick_films import KickFilm, features_of, kicked
from bench.measured_films import Proposed, moving_takes, proposed_of
from bench.read_elsewhere import true_cycle
from bench.swum_films import STROKES, SwumFilm, followed, pointed, takes
from norvik.core.frame.measures import MEASURES
from norvik.core.reading.on_frame import VIEW
from norvik.core.strokes.names import Lane, Side, StrokeName
from norvik.demo.seed import SHIPPED
from norvik.reading.detect import Detector
from norvik.reading.network import LitePose
from norvik.reading.read import Read, read_film, read_followed
from norvik.reading.templates import templates_of

#: Swimmers that neither the templates nor what is said to be off were made from.
_SEED = 12_000
_FILMS = {"plain": 2, "filmlike": 1}
#: The same as points of a tracker that is no network of ours.
_POINTED = {"plain": 4}
#: Of each count of kicks, stroke and view.
_COUNTED = {"plain": 1, "filmlike": 1}
#: The same for measures on the frame, on swimmers with and without faults.
_MEASURED_SEED, _MEASURED = 53_000, {"plain": 4, "filmlike": 1}
#: Lane: its name, seconds that are close, recall and precision to reach, plain and film-like.
_LANES = {
    "arm": ("arm events", 0.08, "0.90 / 0.90, film-like 0.75 / 0.75"),
    "leg": ("kicks and leg events", 0.08, "0.70 / 0.75"),
    "breath": ("breaths", 0.15, "0.75 / 0.70"),
}
_OTHER: dict[Side, Side] = {"left": "right", "right": "left"}
#: Farther than this a read event is another one, seconds.
_SAME_S = 0.3


def truth(film: SwumFilm) -> list[tuple[Lane, Side, str, float]]:
    """(lane, side, event, seconds) of what truly happened; kicks and breaths without a side."""
    found: list[tuple[Lane, Side, str, float]] = []
    for m in film.shot.plan.marks(0, float(film.shot.times[-1])):
        side = _OTHER.get(m.side, m.side) if film.mirrored else m.side
        if not m.event.startswith("bubbles"):
            found.append((m.lane, side if m.lane == "arm" else "", m.event, m.time_s))
    return found


def matched(film: SwumFilm, read: Read) -> list[tuple[Lane, str, float, float]]:
    """(lane, event, read minus true, said plus-minus) of each read event; inf where there is none.

    Each true event is matched once, with the first read one that is nearest to it.
    """
    left = truth(film)
    found = []
    for e in read.events:
        kind = (e.lane, e.side if e.lane == "arm" else "", e.event)
        near = [t for t in left if t[:3] == kind and abs(t[3] - e.time_s) < _SAME_S]
        best = min(near, key=lambda t: abs(t[3] - e.time_s), default=None)
        if best is not None:
            left.remove(best)
        found.append((e.lane, e.event, e.time_s - best[3] if best else np.inf, e.u95_s))
    return found


def errors(film: SwumFilm, read: Read) -> list[tuple[str, float]]:
    """(event, read minus true in seconds) of the read events that have a true one."""
    return [(event, off) for _, event, off, _ in matched(film, read) if np.isfinite(off)]


def run(room: Path) -> None:
    _speed()
    with ProcessPoolExecutor(2) as pool:
        films = list(pool.map(followed, takes(_SEED, _FILMS, seconds=10)))
        measured = list(pool.map(followed, moving_takes(_MEASURED_SEED, _MEASURED)))
        made = kicked(_SEED, _COUNTED)
        counted = list(pool.map(features_of, made))
    _rates(films)
    read_elsewhere.run()
    _events(films, _FILMS)
    _kicks(films)
    _kick_counts(list(counted))
    points = [pointed(take) for take in takes(_SEED, _POINTED, seconds=10)]
    _events(points, _POINTED, "tracked points")
    _measures(measured)


def _speed() -> None:
    network, finder = LitePose(), Detector()
    for name, seconds in (("rimvold-side-pace.mp4", 10),):
        began = time.perf_counter()
        read = read_film(SHIPPED / name, "freestyle", network, finder, view="side-under")
        took = time.perf_counter() - began
        shown = max(read.followed.times_s.values())
        line(
            "reading 720p film-like, 60 frames/s",
            f"{60 * shown / took:.0f} film frames/s, 10 s in {10 * took / shown:.1f} s",
            f"35 frames/s, {2 * seconds} s",
        )


def _rates(films: list[SwumFilm]) -> None:
    offs: list[float] = []
    held: list[bool] = []
    for film in films:
        stroke = film.shot.take.swim.stroke_name
        read = read_followed(film.followed, stroke, film.shot.take.view)
        off = read.cycle.seconds / true_cycle(film.shot) - 1 if read.cycle else np.inf
        offs.append(float(abs(off)))
        held.append(
            read.cycle is not None and bool(abs(off) <= read.cycle.u95 / read.cycle.seconds)
        )
    line(
        f"stroke rate without a mark, {len(films)} films",
        f"within 1 %: {np.mean(np.array(offs) <= 0.01):.2f}, 2 %: "
        f"{np.mean(np.array(offs) <= 0.02):.2f}, plus-minus holds {np.mean(held):.2f}",
        "0.90, 1.00, 0.90",
    )


def _kicks(films: list[SwumFilm]) -> None:
    """Of all strokes together: of each there are few films, and one of them may tell no kick."""
    for style in _FILMS:
        right = told = there = 0
        for film in (f for f in films if f.shot.take.style == style):
            stroke = film.shot.take.swim.stroke_name
            found = matched(film, read_followed(film.followed, stroke, film.shot.take.view))
            right += sum(lane == "leg" and abs(off) <= 0.08 for lane, _, off, _ in found)
            told += sum(lane == "leg" for lane, *_ in found)
            there += sum(t[0] == "leg" for t in truth(film))
        line(
            f"kicks and leg events of all strokes, {style}",
            f"{right / there:.2f}/{right / max(1, told):.2f}", _LANES["leg"][2],
        )  # fmt: skip


def _kick_counts(films: list[KickFilm]) -> None:
    """Swimmers with two, four and six kicks: a wrong count would be a fault that nobody has."""
    for style in _COUNTED:
        own = [film for film in films if film.style == style]
        told = [film for film in own if film.told]
        right = sum(film.told == film.beats for film in told)
        line(
            f"kicks a cycle, {style}, {len(own)} films with 2, 4 or 6",
            f"told in {len(told)}, right in {right}", "right in 9 of 10 told",
        )  # fmt: skip


def _events(films: list[SwumFilm], styles: Mapping[str, int], called: str = "") -> None:
    held: list[bool] = []
    for style in styles:
        counts: dict[tuple[StrokeName, str], list[int]] = defaultdict(lambda: [0, 0, 0])
        for film in (f for f in films if f.shot.take.style == style):
            stroke = film.shot.take.swim.stroke_name
            read = read_followed(film.followed, stroke, film.shot.take.view)
            for lane in _LANES:
                counts[stroke, lane][2] += sum(t[0] == lane for t in truth(film))
            for lane, _, off, u95 in matched(film, read):
                counts[stroke, lane][0] += abs(off) <= _LANES[lane][1]
                counts[stroke, lane][1] += 1
                if np.isfinite(off):
                    held.append(abs(off) <= u95)
        for lane, (name, _, goal) in _LANES.items():
            said = []
            for stroke in STROKES:
                right, told, there = counts[stroke, lane]
                if told:
                    said.append(f"{stroke[:6]} {right / max(1, there):.2f}/{right / told:.2f}")
                elif there:
                    said.append(f"{stroke[:6]} not told")
            line(f"{name}, {called or style}: recall/precision", "  ".join(said), goal)
    line(
        f"plus-minus of read events{' of ' + called if called else ''} holds",
        f"{np.mean(held):.2f}",
        "0.90",
    )


def _measures(films: list[SwumFilm]) -> None:
    gathered: dict[tuple[StrokeName, str], list[Proposed]] = defaultdict(list)
    for film in films:
        stroke = film.shot.take.swim.stroke_name
        templates = templates_of(stroke, VIEW)
        assert templates is not None  # there are some for every stroke from the side
        for one in proposed_of(film, templates.measures):
            gathered[stroke, one.read.measure].append(one)
    for (stroke, measure), of in gathered.items():
        off = np.array([p.value - p.true for p in of])
        held = np.abs(off) <= np.array([1.96 * p.read.u for p in of])
        unit = MEASURES[measure].unit
        line(
            f"proposed measure {measure}, {stroke}, {len(of)} times",
            f"off by {np.sqrt(np.mean(off**2)):.1f} {unit} (one SD), plus-minus holds "
            f"{np.mean(held):.2f}",
            "plus-minus 0.90",
        )
