"""The model swimmer is what it says, and the core reads out what was put in."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

import cv2
import numpy as np
import pytest

from norvik.core.strokes import STROKES
from norvik.core.strokes.events import Mark
from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import GRID_ALONE
from norvik.footage.probe import probe
from norvik.footage.review_copy import make_review_copy
from norvik.formats.events_csv import read_events
from norvik.model import proportions
from norvik.model.camera import VIEWS, camera_for
from norvik.model.dials import DIALS, usual_swim, with_faults
from norvik.model.film import Conditions, Shot, Take, film
from norvik.model.pose import Build, pose
from norvik.model.schedule import STROKES as SWUM
from norvik.model.schedule import Swim, schedule

SEGMENTS = {
    ("shoulder", "elbow"): proportions.UPPER_ARM,
    ("elbow", "wrist"): proportions.FOREARM,
    ("wrist", "fingertip"): proportions.HAND,
    ("hip", "knee"): proportions.THIGH,
    ("knee", "ankle"): proportions.SHANK,
}


@pytest.mark.parametrize("stroke", SWUM)
@pytest.mark.parametrize("height", [1.62, 1.95])
@pytest.mark.parametrize("amount", [0.0, 1.0])
def test_limbs_keep_their_published_lengths(stroke: str, height: float, amount: float) -> None:
    # Drillis and Contini 1966, in Winter (recalled from memory, not looked up).
    dials = {d.fault: amount for d in DIALS.values() if d.stroke == stroke}
    build = Build(height, dials=dials)
    take = with_faults(Take(usual_swim(stroke), build, seconds=7), dials)
    times = take.frame_times()
    joints = pose(schedule(take.swim, 7), take.build, times, stroke)
    for (upper, lower), share in SEGMENTS.items():
        for side in ("left", "right"):
            bone = np.linalg.norm(joints[f"{side}_{upper}"] - joints[f"{side}_{lower}"], axis=1)
            assert bone == pytest.approx(share * height, rel=1e-6), (upper, lower)


def test_hands_are_in_the_water_between_entry_and_exit() -> None:
    plan = schedule(Swim(variation=0), 6)
    times = np.arange(0, 6, 1 / 240)
    joints = pose(plan, Build(), times)
    for side, cycles in plan.arms.items():
        height = joints[f"{side}_fingertip"][:, 2]
        for c in cycles:
            pulling = (times > c.at["catch"]) & (times < c.at["exit"] - 0.12)
            if pulling.any():
                assert height[pulling].max() < 0.02
            swinging = (times > c.at["exit"] + 0.15) & (times < c.end - 0.12)
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
    steady = replace(swim, variation=0.0)
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


def test_a_difference_between_the_arms_shows_in_the_symmetry() -> None:
    for difference in (-0.2, 0.0, 0.3):
        swim = Swim(variation=0.0, difference=difference)
        timing = compute_timing(marked_on_frames(swim, 240), "freestyle", 1 / 240)
        left = swim.pull * (1 + difference) / (1 + swim.pull * difference)
        expected = 200 * (swim.pull - left) / (swim.pull + left)
        assert timing.symmetry_pct is not None
        assert timing.symmetry_pct["pull"] == pytest.approx(expected, abs=1.0)


def test_rate_lies_within_its_stated_uncertainty_about_95_times_of_100() -> None:
    """Random sub-frame offsets: 2u has to cover the truth as often as it says."""
    rng = np.random.default_rng(9)
    covered = 0
    runs = 400
    for _ in range(runs):
        cycle, start = rng.uniform(1.1, 2.2), rng.uniform(0, 1)
        true = [start + n * cycle for n in range(4)]
        marked = [Mark(np.floor(t * 60) / 60, "arm", "right", "entry") for t in true]
        rate = compute_timing(marked, "freestyle", 1 / 60, None, GRID_ALONE).rate
        assert rate.cycles_per_min is not None
        assert rate.u_cycles_per_min is not None
        covered += abs(rate.cycles_per_min - 60 / cycle) <= 2 * rate.u_cycles_per_min
    # The difference of two rectangular errors is triangular: 2u covers 96.6 % of it.
    assert 0.94 <= covered / runs <= 0.99


def marked_on_frames(swim: Swim, fps: int, seconds: float = 30) -> list[Mark]:
    return [
        Mark(round(m.time_s * fps) / fps, m.lane, m.side, m.event)
        for m in schedule(swim, seconds).marks(0, seconds)
    ]


@pytest.mark.parametrize("fps", [60, 240])
@pytest.mark.parametrize("stroke", ["backstroke", "breaststroke", "butterfly"])
def test_the_other_strokes_read_out_what_was_put_in(stroke: str, fps: int) -> None:
    swim = replace(usual_swim(stroke, 36, seed=4), variation=0.0)
    timing = compute_timing(marked_on_frames(swim, fps), stroke, 1 / fps)
    assert [p for p in timing.problems if 2 < p.mark.time_s < 28] == []
    u = timing.rate.u_cycles_per_min
    assert u is not None
    assert timing.rate.cycles_per_min == pytest.approx(36, abs=3 * u)
    assert timing.rate.strokes_per_min == pytest.approx(
        72 if stroke == "backstroke" else 36, abs=6 * u
    )
    for name, share in (("entry", swim.entry), ("catch", swim.catch), ("pull", swim.pull)):
        phase = timing.phases["both"][name]
        assert phase is not None
        expected = share / (swim.entry + swim.catch + swim.pull + swim.recovery) * swim.cycle_s
        assert phase.mean_s == pytest.approx(expected, abs=3 / fps / 6**0.5)
    if stroke == "butterfly":
        assert timing.kick is not None
        assert timing.kick.beats_per_cycle == pytest.approx(2)
        assert timing.breathing.breaths_per_cycle == pytest.approx(0.5, abs=0.05)
        assert timing.breathing.in_push_share_pct == 100
    if stroke == "breaststroke":
        assert timing.gaps is not None
        shooting = swim.recovery * swim.cycle_s
        assert timing.gaps.t2_s == pytest.approx(-0.25 * shooting, abs=2 / fps)
        assert timing.gaps.t3_s == pytest.approx(-0.08 * shooting, abs=2 / fps)


def test_a_wall_reads_out_its_parts() -> None:
    swim = replace(usual_swim("wall"), variation=0.0)
    plan = schedule(swim, 12)
    timing = compute_timing(marked_on_frames(swim, 240, 12), "freestyle", 1 / 240)
    (wall,) = timing.walls
    assert wall.beats == swim.dolphins + swim.flutters
    expected = plan.wall("breakout") - plan.wall("push")
    assert wall.under_water_s == pytest.approx(expected, abs=2 / 240)
    assert timing.cycles.count >= 2


@pytest.mark.parametrize(
    ("fault", "measure"),
    [
        ("overglide", lambda t: t.phases["both"]["entry"].share_pct),
        ("uneven-rhythm", lambda t: t.rhythm_pct),
        ("kick-uneven", lambda t: t.kick.longest_gap_s),
        ("back-late-hold", lambda t: t.phases["both"]["catch"].share_pct),
        ("breast-slow-heels", lambda t: t.legs["heels"].mean_s),
        ("breast-hands-stop", lambda t: t.phases["both"]["pull"].share_pct),
        ("fly-late-breath", lambda t: -t.breathing.in_push_share_pct),
        ("fly-extra-kick", lambda t: t.kick.beats_per_cycle),
        ("fly-short", lambda t: -t.phases["both"]["entry"].share_pct),
    ],
)
def test_a_dial_of_timing_moves_its_number(fault: str, measure) -> None:  # type: ignore[no-untyped-def]
    stroke = DIALS[fault].stroke
    values = []
    for amount in (0.0, 0.5, 1.0):
        take = with_faults(Take(usual_swim(stroke)), {fault: amount})
        values.append(measure(compute_timing(marked_on_frames(take.swim, 240), stroke, 1 / 240)))
    assert values[0] < values[2]
    assert values == sorted(values)


@pytest.mark.parametrize("fault", sorted(DIALS))
def test_every_dial_changes_what_its_view_shows(fault: str) -> None:
    dial = DIALS[fault]
    plain = Take(usual_swim(dial.stroke), seconds=6, view=dial.view, fps=30)
    turned = with_faults(plain, {fault: 1.0})
    if turned.swim.dials:
        assert schedule(turned.swim, 6).marks(0, 6) != schedule(plain.swim, 6).marks(0, 6)
        return
    shots = [Shot(plain), Shot(turned)]
    camera = shots[0].camera
    moved = max(
        float(np.abs(camera.project(shots[0].joints[j]) - camera.project(shots[1].joints[j])).max())
        for j in shots[0].joints
        if j != "face"
    )
    face = np.abs(shots[0].joints["face"] - shots[1].joints["face"]).max()
    assert moved > 15 or face > 0.3, f"{fault} moves nothing by more than {moved:.0f} px"


def test_dials_refuse_what_cannot_be() -> None:
    with pytest.raises(KeyError):
        with_faults(Take(Swim()), {"no-such-fault": 1})
    with pytest.raises(ValueError, match="backstroke"):
        with_faults(Take(Swim()), {"back-cross": 1})
    with pytest.raises(ValueError, match="between 0 and 1"):
        with_faults(Take(Swim()), {"crossing": 1.5})


def test_joints_move_within_human_ranges() -> None:
    for stroke in SWUM:
        shot = Shot(Take(usual_swim(stroke), seconds=7, fps=60))
        for name, least in (("elbow", 20), ("knee", 30)):
            for side in ("left", "right"):
                a, b, c = (
                    shot.joints[f"{side}_{j}"]
                    for j in (
                        ("shoulder", "elbow", "wrist")
                        if name == "elbow"
                        else ("hip", "knee", "ankle")
                    )
                )
                first, second = a - b, c - b
                cosine = np.sum(first * second, axis=1) / (
                    np.linalg.norm(first, axis=1) * np.linalg.norm(second, axis=1)
                )
                assert np.degrees(np.arccos(np.clip(cosine, -1, 1))).min() > least, (stroke, name)


@pytest.mark.parametrize("view", VIEWS)
def test_cameras_against_opencvs_projection(view: str) -> None:
    camera = camera_for(view, tilt_deg=4.0)
    points = np.random.default_rng(2).uniform(-0.8, 0.8, (40, 3))
    axes = camera.axes
    assert axes @ axes.T == pytest.approx(np.eye(3), abs=1e-12)
    rotation, _ = cv2.Rodrigues(axes)
    middle = (camera.width_px / 2, camera.height_px / 2)
    matrix = np.array([[camera.focal_px, 0, middle[0]], [0, camera.focal_px, middle[1]], [0, 0, 1]])
    expected, _ = cv2.projectPoints(
        points, rotation, -axes @ np.array(camera.position), matrix, None
    )
    assert camera.project(points) == pytest.approx(expected[:, 0], abs=1e-6)


def test_slow_motion_rotation_and_hard_conditions(tmp_path: Path) -> None:
    out = tmp_path / "phone.mp4"
    conditions = Conditions(
        haze=0.4, blur=0.3, tilt_deg=3, hidden=((0.05, 0.2),), crf=30, rotation_deg=90
    )
    take = Take(Swim(), seconds=0.25, fps=240, stored_fps=30, still=True, conditions=conditions)
    film(take, out)
    facts = probe(out).as_dict()
    assert (facts["frames"], facts["rotation_deg"]) == (60, 90)
    assert (facts["width"], facts["height"]) == (1280, 720)
    assert facts["duration_s"] == pytest.approx(2.0)
    assert take.stretch == 8


def test_film_events_and_truth_agree(tmp_path: Path) -> None:
    out = tmp_path / "swim.mp4"
    film(Take(Swim(seed=3), seconds=4), out)
    found = probe(out)
    truth = json.loads((tmp_path / "swim.truth.json").read_text())
    assert found.frames == 240 == len(truth["frame_times_s"]) == len(truth["joints_px"]["crown"])
    assert found.media_s == pytest.approx(truth["frame_times_s"], abs=1e-4)
    events = read_events((tmp_path / "swim.events.csv").read_bytes(), STROKES["freestyle"])
    assert not events.bad_rows
    assert [m.time_s for m in events.marks] == [e["time_s"] for e in truth["events"]]
    timing = compute_timing(events.marks, "freestyle")
    assert timing.rate.cycles_per_min == pytest.approx(truth["rate_cycles_per_min"], rel=1e-4)
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
