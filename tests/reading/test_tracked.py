"""Points that were tracked elsewhere tell the stroke without a look at the film."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from bench.kick_films import features_of, kicked_points
from bench.reading import matched, truth
from bench.swum_films import STROKES, SwumFilm, pointed, takes
from click.testing import CliRunner

from norvik.cli import main
from norvik.core.reading.kick_count import BEATS
from norvik.core.reading.tracked import Places, enough, tracked_joints
from norvik.core.strokes import STROKES as STROKE_RULES
from norvik.core.strokes.names import Side
from norvik.formats.events_csv import read_events
from norvik.formats.keypoints_csv import write_keypoints
from norvik.model.film import Shot
from norvik.reading.follow import Pose
from norvik.reading.followed import Followed
from norvik.reading.network import JOINTS
from norvik.reading.read import read_followed
from norvik.reading.tracked import followed_by_points
from tests.clips import numbered_clip

#: Swimmers that no template was made from.
SEED = 61_000


def joints_of(shot: Shot) -> dict[str, dict[int, tuple[float, float, float]]]:
    """Where every joint truly is, by what a coach calls it."""
    return {
        joint.replace("_", " "): {
            n: (float(x), float(y), 1.0) for n, (x, y) in enumerate(shot.camera.project(places))
        }
        for joint, places in shot.joints.items()
    }


@pytest.mark.parametrize("stroke", STROKES)
def test_the_stroke_is_told_by_tracked_joints(stroke: str) -> None:
    """A tracker that is off by a centimetre or two and loses one joint in seven for a frame."""
    for job in takes(SEED, {"plain": 1}, seconds=10):
        if job[0].swim.stroke != stroke:
            continue
        film = pointed(job)
        read = read_followed(film.followed, job[0].swim.stroke_name, job[0].view)
        found = [m for m in matched(film, read) if m[0] == "arm"]
        there = sum(t[0] == "arm" for t in truth(film))
        close = sum(abs(off) <= 0.08 for _, _, off, _ in found)
        assert close >= 0.9 * there
        assert close >= 0.9 * len(found)
        assert not read.measures  # nothing was learnt of how such a tracker sees them
        assert read.looks_like is not None
        assert read.looks_like[0] == stroke


@pytest.mark.parametrize("beats", BEATS)
def test_kicks_of_tracked_joints_are_counted(beats: int) -> None:
    """Two kicks are not called four or six, nor the other way round."""
    for (take, mirrored), make in kicked_points(SEED, {"plain": 1}):
        if take.swim.beats == beats:
            seen = features_of(((take, mirrored), make), ("ankle", "knee"))
            assert seen.told == beats, take.view


@pytest.mark.parametrize("stroke", ["freestyle", "butterfly"])
def test_a_swimmer_who_turns_is_read_length_by_length(stroke: str) -> None:
    """On the way back the picture is mirrored: the camera sees the other arm."""
    job = next(t for t in takes(SEED, {"plain": 1}, seconds=8) if t[0].swim.stroke == stroke)
    film, name, view = pointed(job), job[0].swim.stroke_name, job[0].view
    there = read_followed(film.followed, name, view)
    turned = read_followed(_and_back(film.followed), name, view)
    assert there.cycle is not None
    assert turned.cycle is not None
    assert turned.cycle.seconds == pytest.approx(there.cycle.seconds, rel=0.01)
    assert turned.cycle.cycles > 1.9 * there.cycle.cycles
    assert turned.cycle.u95 < there.cycle.u95
    assert "mark the wall yourself" in turned.reasons["walls"]
    assert "walls" not in there.reasons
    back = [replace(e, time_s=e.time_s - BACK_S, side=MIRRORED.get(e.side, e.side))
            for e in turned.events if e.time_s > BACK_S]  # fmt: skip
    own = [e for e in turned.events if e.time_s < BACK_S]
    assert len(own) == len(there.events)
    assert {(e.side, e.event) for e in back} == {(e.side, e.event) for e in there.events}
    for event in there.events:
        same = [b for b in back if (b.side, b.event) == (event.side, event.event)]
        assert min(abs(b.time_s - event.time_s) for b in same) < 0.05


BACK_S = 10.0
MIRRORED: dict[Side, Side] = {"left": "right", "right": "left"}


def _and_back(followed: Followed) -> Followed:
    """The same length swum back ten seconds later, with two seconds at the wall out of sight."""
    names = list(JOINTS)
    other = [
        names.index(n.replace("left", "?").replace("right", "left").replace("?", "right"))
        for n in names
    ]
    last = max(followed.times_s)
    back = tuple(
        Pose(p.frame + last + 1, p.points[other] * [-1, 1] + [1280, 0], p.visible[other])
        for p in followed.poses
    )
    times = {n + last + 1: time_s + BACK_S for n, time_s in followed.times_s.items()}
    return replace(followed, poses=followed.poses + back, times_s={**followed.times_s, **times})


def test_another_template_is_used_than_for_the_network() -> None:
    """The network sees joints beside their place: by its templates true joints are misread."""
    job = next(t for t in takes(SEED, {"plain": 1}, seconds=10) if t[0].swim.stroke == "freestyle")
    film = pointed(job)
    stroke, view = job[0].swim.stroke_name, job[0].view
    as_network = SwumFilm(
        film.shot, False, Followed(film.followed.poses, film.followed.times_s, by_points=False)
    )
    own, other = (
        sum(abs(m[2]) <= 0.08 for m in matched(one, read_followed(one.followed, stroke, view)))
        for one in (film, as_network)
    )
    assert own > other


POINTS: dict[str, Places] = {
    "left shoulder": {0: (0, 0, 1), 3: (0, 0, 1)}, "right hip": {0: (60, 0, 1), 3: (60, 6, 1)},
    "right wrist": {0: (9, 9, 1), 3: (9, 9, 0.4)}, "mouth": {0: (1, 1, 1)}, "head": {0: (2, 2, 1)},
    "buoy": {0: (5, 5, 1)},
}  # fmt: skip


def test_names_and_doubts_of_tracked_points() -> None:
    tracked = tracked_joints(POINTS)
    # The mouth lies nearer to the nose than the top of the head does; a buoy is no joint.
    assert set(tracked) == {"nose", "left_shoulder", "right_hip", "right_wrist"}
    assert tracked["nose"] == {0: (1, 1, 1)}
    # Less sure than 0.5 is not there.
    assert set(tracked["right_wrist"]) == {0}


def test_one_side_of_the_trunk_stands_for_both() -> None:
    times = {n: n / 30 for n in range(6)}
    followed = followed_by_points(tracked_joints(POINTS), times)
    # A gap of a tenth of a second is bridged; outside of what was tracked nobody is seen.
    assert [pose.frame for pose in followed.poses] == [0, 1, 2, 3]
    assert followed.by_points
    assert followed.seen == pytest.approx(4 / 6)
    names = ("left_shoulder", "right_shoulder", "left_hip", "right_hip", "left_wrist")
    at = [list(JOINTS).index(name) for name in names]
    assert followed.poses[2].points[at].tolist()[:4] == [[0, 0], [0, 0], [60, 4], [60, 4]]
    assert np.isnan(followed.poses[2].points[at[4]]).all()


@pytest.mark.parametrize(
    ("without", "whole"),
    [("", True), ("left wrist", True), ("wrist", False), ("left hip", True), ("hip", False),
     ("shoulder", False), ("knee", True)],
)  # fmt: skip
def test_trunk_and_one_wrist_are_enough(without: str, whole: bool) -> None:
    parts = ("wrist", "hip", "shoulder", "knee")
    frame: Mapping[int, tuple[float, float, float]] = {0: (1, 1, 1), 1: (1, 1, 1)}
    points = {f"{side} {part}": frame for side in ("left", "right") for part in parts}
    kept = {name: of for name, of in points.items() if not (without and without in name)}
    assert enough(tracked_joints(kept), range(4)) is whole
    assert not enough(tracked_joints(kept), range(5))


def test_the_command_reads_points_and_no_picture(tmp_path: Path) -> None:
    """The film shows a bar and numbers, no swimmer: only its times are taken from it."""
    take = next(t for t, _ in takes(SEED, {"plain": 1}, seconds=8) if t.swim.stroke == "butterfly")
    shot = Shot(take)
    frames = len(shot.times)
    video = numbered_clip(tmp_path / "none.mp4", [float(t) for t in shot.times])
    text = write_keypoints(0, frames - 1, joints_of(shot))
    points, events = tmp_path / "keypoints.csv", tmp_path / "events.csv"
    points.write_text(text)
    run = ["read", str(video), "--stroke", "butterfly", "--view", take.view]
    done = CliRunner().invoke(
        main, [*run, "--points", str(points), "--events", str(events), "--json"]
    )
    assert done.exit_code == 0, done.output
    answer = json.loads(done.output)
    assert answer["rate_cycles_per_min"] == pytest.approx(60 / take.swim.cycle_s, rel=0.03)
    assert (
        len(read_events(events.read_bytes(), STROKE_RULES["butterfly"]).marks)
        == answer["events"]
        > 20
    )

    for spoilt, sentence in (
        (text.replace("hip", "belt"), "Shoulder, hip and wrist"),
        ("frame,point\n", "are missing"),
    ):
        points.write_text(spoilt)
        refused = CliRunner().invoke(main, [*run, "--points", str(points)])
        assert refused.exit_code == 1
        assert sentence in refused.output
    refused = CliRunner().invoke(main, [*run, "--points", str(tmp_path / "gone.csv")])
    assert refused.exit_code == 1
    assert "gone.csv cannot be read" in refused.output
