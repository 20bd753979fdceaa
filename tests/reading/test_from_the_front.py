"""From the front the joints mislead about the rate: it comes from how the picture stirs."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

from norvik.core.reading.motion import stirred_cycle
from norvik.model.camera import camera_for
from norvik.model.dials import usual_swim
from norvik.model.film import Take, film
from norvik.model.filmlike.pool import FilmPool
from norvik.reading.detect import Detector
from norvik.reading.network import LitePose
from norvik.reading.read import read_film
from norvik.reading.stir import Stir

pytest.importorskip("ai_edge_litert")


def test_the_rate_of_a_film_from_the_front(tmp_path: Path) -> None:
    """Its joints said 23.7 cycles/min here."""
    out = tmp_path / "front.mp4"
    take = Take(usual_swim("butterfly", 48, 7), seconds=7, fps=30, view="front-under")
    film(take, out)
    true = json.loads(out.with_suffix(".truth.json").read_text())["rate_cycles_per_min"]
    read = read_film(out, "butterfly", LitePose(), Detector(), view="front-under")
    assert read.cycle is not None
    assert 60 / read.cycle.seconds == pytest.approx(true, rel=0.02)
    assert abs(read.cycle.seconds - 60 / true) <= read.cycle.u95
    assert not read.events
    assert "the rate comes from the movement in the picture" in read.reasons["events"]


def test_an_empty_pool_from_the_front_stirs_without_a_stroke() -> None:
    pool, stir = FilmPool(camera_for("front-under"), 3.0, 0.2), Stir()
    pictures = (
        (n, n / 30, np.ascontiguousarray(pool.frame(1.4 * n / 30, n / 30)[..., ::-1]))
        for n in range(160)
    )
    assert sum(1 for _ in stir.beside(pictures)) == 160
    for stroke in ("freestyle", "backstroke", "breaststroke", "butterfly"):
        found = stirred_cycle(*stir.evenly(), stroke)  # type: ignore[arg-type]
        assert found == "no regular stroke can be seen"


def test_a_still_picture_does_not_stir_and_a_moved_one_does() -> None:
    rng = np.random.default_rng(1)
    picture = rng.integers(0, 255, (360, 640, 3)).astype(np.uint8)
    stir = Stir()
    moved = picture.copy()
    # In the upper left quarter alone something else is seen.
    moved[:180, :320] = rng.integers(0, 255, (180, 320, 3))
    film_ = [(0, 0.0, picture), (2, 1 / 30, picture), (4, 2 / 30, moved), (6, 3 / 30, moved)]
    assert [n for n, _, _ in stir.beside(film_)] == [0, 2, 4, 6]
    parts, apart = stir.evenly()
    assert apart == pytest.approx(1 / 30)
    assert parts.shape == (3, 60)
    assert parts[0].max() < 1e-6
    assert parts[2].max() < 1e-6
    quarter = parts[1].reshape(6, 10)
    assert quarter[:3, :5].min() > 1
    assert quarter[4:, 6:].max() < 0.2
    empty, _ = Stir().evenly()
    assert empty.shape == (0, 60)
