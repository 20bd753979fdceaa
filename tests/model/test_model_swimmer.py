"""The model swimmer is what it says, and the core reads out what was put in."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

from norvik.core.events import Mark
from norvik.core.strokes import STROKES
from norvik.core.timing import compute_timing
from norvik.footage.probe import probe
from norvik.footage.review_copy import make_review_copy
from norvik.formats.events_csv import read_events
from norvik.model import proportions
from norvik.model.film import Take, film
from norvik.model.pose import Build, pose
from norvik.model.schedule import Swim, schedule

SEGMENTS = {
    ("shoulder", "elbow"): proportions.UPPER_ARM,
    ("elbow", "wrist"): proportions.FOREARM,
    ("wrist", "fingertip"): proportions.HAND,
    ("hip", "knee"): proportions.THIGH,
    ("knee", "ankle"): proportions.SHANK,
}


@pytest.mark.parametrize("build", [Build(), Build(1.62, 55, 0.22, 1.0, 1.0), Build(1.95, 20)])
def test_limbs_keep_their_published_lengths(build: Build) -> None:
    # Drillis and Contini 1966, in Winter (recalled from memory, not looked up).
    joints = pose(schedule(Swim(), 5), build, np.arange(0, 5, 1 / 60))
    for (upper, lower), share in SEGMENTS.items():
        for side in ("left", "right"):
            bone = np.linalg.norm(joints[f"{side}_{upper}"] - joints[f"{side}_{lower}"], axis=1)
            assert bone == pytest.approx(share * build.height_m, rel=1e-6), (upper, lower)


def test_hands_are_in_the_water_between_entry_and_exit() -> None:
    plan = schedule(Swim(variation=0), 6)
    times = np.arange(0, 6, 1 / 240)
    joints = pose(plan, Build(), times)
    for side, cycles in plan.arms.items():
        height = joints[f"{side}_fingertip"][:, 2]
        for c in cycles:
            pulling = (times > c.catch) & (times < c.exit - 0.12)
            if pulling.any():
                assert height[pulling].max() < 0.02
            swinging = (times > c.exit + 0.15) & (times < c.next_entry - 0.12)
            if swinging.any():
                assert joints[f"{side}_elbow"][swinging, 2].max() > 0.1


GRID = [
    Swim(cycle_s=cycle, pull=pull, recovery=0.62 - pull, lag=lag, breath_every=every, seed=seed)
    for cycle, pull, lag, every, seed in (
        (1.2, 0.40, 0.50, 2, 1),
        (1.7, 0.34, 0.48, 3, 2),
        (2.2, 0.30, 0.53, 4, 3),
        (1.5, 0.45, 0.50, 3, 4),
    )
]


@pytest.mark.parametrize("swim", GRID, ids=lambda s: f"{s.cycle_s}s-{s.breath_every}")
@pytest.mark.parametrize("fps", [60, 240])
def test_the_core_reads_out_what_was_put_in(swim: Swim, fps: int) -> None:
    """Marks on the nearest frame; every quantity within 3 of its own standard uncertainties."""
    steady = Swim(**{**{f: getattr(swim, f) for f in Swim.__slots__}, "variation": 0.0})
    plan = schedule(steady, 30)
    marked = [Mark(round(m.time_s * fps) / fps, m.lane, m.side, m.event) for m in plan.marks(0, 30)]
    timing = compute_timing(marked, "freestyle", 1 / fps)
    inside = [p for p in timing.problems if 2 < p.mark.time_s < 28]
    assert inside == []
    u = timing.rate.u_cycles_per_min
    assert u is not None
    assert timing.rate.cycles_per_min == pytest.approx(60 / swim.cycle_s, abs=3 * u)
    shares = {"entry": swim.entry, "catch": swim.catch, "pull": swim.pull}
    total = swim.entry + swim.catch + swim.pull + swim.recovery
    for name, share in shares.items():
        phase = timing.phases["both"][name]
        assert phase is not None
        # Marks on a frame raster of a steady swim err together: u of one, not of the mean.
        expected = share / total * swim.cycle_s
        assert phase.mean_s == pytest.approx(expected, abs=3 / fps / 6**0.5)
    assert timing.coordination is not None
    tolerance = 300 / fps / 6**0.5 / swim.cycle_s
    expected_index = 100 * (swim.pull / total - 0.5)
    assert timing.coordination.index_pct == pytest.approx(expected_index, abs=tolerance)
    assert timing.rhythm_pct == pytest.approx(100 * (1 - 2 * swim.lag), abs=2 * tolerance)
    assert set(timing.breathing.pattern or []) == {swim.breath_every}
    assert timing.breathing.return_s == pytest.approx(swim.return_s, abs=3 / fps)
    assert timing.breathing.head_lead_s == pytest.approx(swim.head_lead_s, abs=3 / fps)
    assert timing.kick is not None
    assert timing.kick.beats_per_cycle == pytest.approx(swim.beats)


def test_rate_lies_within_its_stated_uncertainty_about_95_times_of_100() -> None:
    """Random sub-frame offsets: 2u has to cover the truth as often as it says."""
    rng = np.random.default_rng(9)
    covered = 0
    runs = 400
    for _ in range(runs):
        cycle, start = rng.uniform(1.1, 2.2), rng.uniform(0, 1)
        true = [start + n * cycle for n in range(4)]
        marked = [Mark(np.floor(t * 60) / 60, "arm", "right", "entry") for t in true]
        rate = compute_timing(marked, "freestyle", 1 / 60).rate
        assert rate.cycles_per_min is not None
        assert rate.u_cycles_per_min is not None
        covered += abs(rate.cycles_per_min - 60 / cycle) <= 2 * rate.u_cycles_per_min
    # The difference of two rectangular errors is triangular: 2u covers 96.6 % of it.
    assert 0.94 <= covered / runs <= 0.99


def test_film_events_and_truth_agree(tmp_path: Path) -> None:
    out = tmp_path / "swim.mp4"
    film(Take(Swim(seed=3), seconds=2.5), out)
    found = probe(out)
    truth = json.loads((tmp_path / "swim.truth.json").read_text())
    assert found.frames == 150 == len(truth["frame_times_s"]) == len(truth["joints_px"]["crown"])
    assert found.media_s == pytest.approx(truth["frame_times_s"], abs=1e-4)
    events = read_events((tmp_path / "swim.events.csv").read_bytes(), STROKES["freestyle"])
    assert not events.bad_rows
    assert [m.time_s for m in events.marks] == [e["time_s"] for e in truth["events"]]
    # Made so that it needs no second encode.
    assert not make_review_copy(out, tmp_path / "copy.mp4").copied
    assert list(tmp_path.glob("*.part")) == []


def test_a_variable_frame_rate_film(tmp_path: Path) -> None:
    out = tmp_path / "swim.mp4"
    take = Take(Swim(seed=3), seconds=1.5, jitter=0.4)
    film(take, out)
    found = probe(out)
    assert not found.constant_rate
    assert found.media_s == pytest.approx(take.frame_times(), abs=1e-4)
