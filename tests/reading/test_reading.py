"""Reading a film: the networks' files, the geometry round them, and the model swimmer's truth."""

from __future__ import annotations

import json
import sys
from collections.abc import Iterator
from itertools import pairwise
from pathlib import Path

import av
import numpy as np
import pytest
from click.testing import CliRunner
from jsonschema import Draft202012Validator
from numpy.typing import NDArray

from norvik.cli import main
from norvik.core.errors import ReadingError
from norvik.core.strokes import STROKES
from norvik.demo.people import AKSEL, PETRA
from norvik.demo.seed import SHIPPED
from norvik.footage.copy_frames import spread_pictures
from norvik.formats.events_csv import read_events
from norvik.formats.schemas import SCHEMAS
from norvik.formats.tracks_csv import read_tracks
from norvik.model.camera import VIEWS, camera_for
from norvik.model.film import Shot
from norvik.model.filmlike.pool import FilmPool
from norvik.model.scene import Pool
from norvik.model.truth import true_rate
from norvik.reading.detect import Detector, Person, _unturned
from norvik.reading.files import FOLDER, LANDMARKS, network
from norvik.reading.follow import Pose, follow_swimmer, usual_trunk
from norvik.reading.followed import follow_film
from norvik.reading.network import JOINTS, Landmarks, LitePose
from norvik.reading.read import read_followed
from tests.clips import numbered_clip

Image = NDArray[np.uint8]
AT = {name: n for n, name in enumerate(JOINTS)}


def frames(name: str, every: int, count: int) -> Iterator[tuple[int, Image]]:
    with av.open(str(SHIPPED / name)) as film:
        for n, frame in enumerate(film.decode(video=0)):
            if n % every == 0:
                yield n, frame.to_ndarray(format="rgb24")
            if n >= every * count:
                return


def tapped(shot: Shot, n: int) -> Person:
    hips, shoulders = (
        shot.camera.project(0.5 * (shot.joints[f"left_{j}"][n] + shot.joints[f"right_{j}"][n]))
        for j in ("hip", "shoulder")
    )
    return Person((hips[0], hips[1]), (shoulders[0], shoulders[1]), 1.0)


# ---- the networks' files ----


def test_a_missing_or_damaged_network_is_told(tmp_path: Path) -> None:
    with pytest.raises(ReadingError, match=r"the pose network is missing\. Install Norvik again"):
        network(LANDMARKS, tmp_path)
    for part in LANDMARKS.parts:
        (tmp_path / part).write_bytes((FOLDER / part).read_bytes()[:-1])
    with pytest.raises(ReadingError, match="the pose network is damaged"):
        network(LANDMARKS, tmp_path)
    assert all((FOLDER / part).stat().st_size < 4_000_000 for part in LANDMARKS.parts)


def test_another_network_has_to_be_one(tmp_path: Path) -> None:
    with pytest.raises(ReadingError, match="Choose a network file that exists"):
        LitePose(tmp_path / "none.tflite")
    text = tmp_path / "text.tflite"
    text.write_text("no network")
    with pytest.raises(ReadingError, match="not a network that Norvik can run"):
        LitePose(text)
    with pytest.raises(ReadingError, match="does not find 39 landmarks"):
        LitePose(FOLDER / "pose_detection.tflite")


def test_without_the_package_the_rest_works(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setitem(sys.modules, "ai_edge_litert.interpreter", None)
    with pytest.raises(ReadingError, match="Everything else works without it"):
        LitePose()


# ---- geometry ----


class Dots:
    """Stands in for a network: every joint is a dot of its own brightness."""

    size = 256

    def landmarks(self, picture: Image) -> Landmarks:
        points = np.zeros((len(JOINTS), 2), np.float32)
        for n in range(len(JOINTS)):
            there = np.abs(picture[..., 0].astype(int) - _shade(n)) <= 2
            rows, columns = np.nonzero(there & (picture[..., 1] > 252))
            if rows.size:
                points[n] = columns.mean(), rows.mean()
        return Landmarks(points, np.ones(len(JOINTS), np.float32), 1.0)


def _shade(n: int) -> int:
    return 60 + 10 * n


class Nobody:
    def person(self, picture: Image) -> Person | None:
        return None


@pytest.mark.parametrize("turn_deg", [0, 35, 90, 170, 250])
def test_joints_come_back_to_their_own_pixels(turn_deg: float) -> None:
    """However the body lies, against the places that the dots were put at."""
    picture = np.zeros((720, 1280, 3), np.uint8)
    turn = np.deg2rad(turn_deg)
    hips, trunk = np.array([640.0, 360.0]), 110.0
    shoulders = hips + trunk * np.array([np.sin(turn), -np.cos(turn)])
    # The others far from the trunk, round it.
    ways = np.linspace(0, 2 * np.pi, len(JOINTS), endpoint=False)
    places = {n: hips + 230 * np.array([np.cos(w), np.sin(w)]) for n, w in enumerate(ways)}
    across = 30 * np.array([np.cos(turn), np.sin(turn)])
    for joint, middle in (("hip", hips), ("shoulder", shoulders)):
        places[AT[f"left_{joint}"]], places[AT[f"right_{joint}"]] = middle - across, middle + across
    for n, (x, y) in places.items():
        picture[round(y) - 5 : round(y) + 6, round(x) - 5 : round(x) + 6] = (_shade(n), 255, 0)
    seen = Person((640.0, 360.0), (float(shoulders[0]), float(shoulders[1])), 1.0)
    (pose,) = follow_swimmer([(7, picture)], Dots(), Nobody(), 1 / 30, seen)
    assert pose.frame == 7
    for n, place in places.items():
        assert pose.points[n] == pytest.approx(place, abs=2.5), n


def test_quarter_turns_are_turned_back() -> None:
    picture = np.zeros((40, 60), np.uint8)
    picture[7, 52] = 255
    for turn in range(4):
        rows, columns = np.nonzero(np.rot90(picture, turn))
        x, y = _unturned(columns[0] + 0.5, rows[0] + 0.5, turn, 60, 40)
        assert (x, y) == pytest.approx((52.5, 7.5)), turn


def test_a_swimmer_that_is_lost_is_looked_for_again() -> None:
    class Fading(Dots):
        shown = 0

        def landmarks(self, picture: Image) -> Landmarks:
            self.shown += 1
            found = super().landmarks(picture)
            gone = 5 < self.shown <= 13
            return Landmarks(found.points, found.visible * (0.1 if gone else 1.0), 1.0)

    class Looking:
        asked = 0

        def person(self, picture: Image) -> Person | None:
            self.asked += 1
            return Person((640.0, 360.0), (640.0, 250.0), 0.9) if self.asked > 2 else None

    picture = np.zeros((720, 1280, 3), np.uint8)
    trunk = {"left_hip": (610, 360), "right_hip": (670, 360), "left_shoulder": (610, 250),
             "right_shoulder": (670, 250)}  # fmt: skip
    for joint, (x, y) in trunk.items():
        picture[y - 5 : y + 6, x - 5 : x + 6] = (_shade(AT[joint]), 255, 0)
    looking = Looking()
    start = Person((640.0, 360.0), (640.0, 250.0), 1.0)
    poses = list(
        follow_swimmer([(n, picture) for n in range(25)], Fading(), looking, 1 / 30, start)
    )
    assert [p.frame for p in poses] == [0, 1, 2, 3, 4, *range(15, 25)]
    assert looking.asked == 3


# ---- against the model swimmer's truth ----


@pytest.fixture(scope="module")
def followed() -> tuple[Shot, list[Pose]]:
    shot = Shot(AKSEL)
    found = follow_swimmer(
        frames("rimvold-side-pace.mp4", 2, 60), LitePose(), Nobody(), 1 / 30, tapped(shot, 0)
    )
    return shot, list(found)


def test_legs_and_trunk_are_found_where_they_are(followed: tuple[Shot, list[Pose]]) -> None:
    """In trunk lengths, left and right forgiven for each other: legs cross from the side."""
    shot, poses = followed
    assert len(poses) >= 54
    for joint, most in (("hip", 0.15), ("knee", 0.20), ("ankle", 0.25), ("shoulder", 0.40)):
        away = []
        for pose in poses:
            n = pose.frame
            true = [shot.camera.project(shot.joints[f"{s}_{joint}"][n]) for s in ("left", "right")]
            found = [pose.points[AT[f"{s}_{joint}"]] for s in ("left", "right")]
            trunk = np.linalg.norm(
                shot.camera.project(shot.joints["neck"][n])
                - shot.camera.project(shot.joints["pelvis"][n])
            )
            straight, crossed = (
                sum(np.linalg.norm(a - b) for a, b in zip(found, order, strict=True)) / 2
                for order in (true, true[::-1])
            )
            away.append(min(straight, crossed) / trunk)
        assert np.median(away) < most, joint


def test_the_detector_finds_a_swimmer_and_nobody_in_an_empty_pool() -> None:
    detector, shot = Detector(), Shot(AKSEL)
    found = [(n, detector.person(picture)) for n, picture in frames("rimvold-side-pace.mp4", 30, 5)]
    seen = [(n, p) for n, p in found if p is not None]
    assert len(seen) >= 3
    for n, person in seen:
        hips = np.array(tapped(shot, n).hips)
        trunk = np.linalg.norm(hips - np.array(tapped(shot, n).shoulders))
        assert np.linalg.norm(np.array(person.hips) - hips) < 0.6 * trunk
    for view in VIEWS:
        pool = FilmPool(camera_for(view), 3.0, 0.0)
        empty = np.ascontiguousarray(pool.frame(2.0, 1.0)[..., ::-1])
        assert detector.person(empty) is None, view


def test_a_film_without_a_mark_tells_rate_events_and_joints(tmp_path: Path) -> None:
    """Of a film with a variable frame rate: the rate within 1 % of the truth, arm events as near
    as they say, and files that are read again by our own readers."""
    shot = Shot(PETRA)
    events, tracks = tmp_path / "events.csv", tmp_path / "tracks.csv"
    result = CliRunner().invoke(
        main,
        ["read", str(SHIPPED / "lundeholm-phone.mp4"), "--stroke", "freestyle", "--view",
         "side-under", "--events", str(events), "--tracks", str(tracks), "--json"],
    )  # fmt: skip
    assert result.exit_code == 0, result.output
    answer = json.loads(result.stdout)
    Draft202012Validator(SCHEMAS["read"]()).validate(answer)
    true_s = float(shot.times[-1])
    assert answer["rate_cycles_per_min"] == pytest.approx(true_rate(shot.plan, true_s), rel=0.01)
    assert 0.6 < answer["seen"] <= 1
    assert set(answer["confidence"]) >= {"entry", "catch", "press", "exit"}
    assert "breaths" in answer["reasons"]
    read = read_events(events.read_bytes(), STROKES["freestyle"])
    assert not read.bad_rows
    assert len(read.marks) == answer["events"]
    assert all(of["origin"] == "proposed" for of in read.extra.values())
    true = [m for m in shot.plan.marks(0, true_s) if m.lane == "arm"]
    arms = [m for m in read.marks if m.lane == "arm"]
    off = [
        min(abs(t.time_s - m.time_s) for t in true if (t.side, t.event) == (m.side, m.event))
        for m in arms
    ]
    assert len(arms) >= 0.85 * len(true)
    assert np.mean(np.array(off) <= 0.1) >= 0.85
    # As many kicks as there are, from how the picture changes at the feet.
    beats = np.array([m.time_s for m in shot.plan.marks(0, true_s) if m.lane == "leg"])
    kicks = np.array([m.time_s for m in read.marks if m.lane == "leg"])
    assert len(kicks) == pytest.approx(len(beats), abs=3)
    assert np.mean(np.abs(kicks[:, None] - beats[None]).min(axis=1) <= 0.08) >= 0.85
    rows = read_tracks(tracks.read_bytes())
    assert {r.point for r in rows} >= {"left wrist", "right ankle", "nose"}


def test_an_empty_pool_gives_no_event(tmp_path: Path) -> None:
    """Of both ways of painting: water, ropes, walls, and nobody."""
    for pool in (FilmPool(camera_for("side-under"), 3.0, 0.0), None):
        plain = Pool(camera_for("side-under"), 3.0)
        pictures = (
            (n, n / 30, np.ascontiguousarray(
                (pool.frame(0.05 * n, n / 30) if pool else plain.frame(0.05 * n))[..., ::-1]))
            for n in range(0, 120, 4)
        )  # fmt: skip
        shown = [(n, t, picture) for n, t, picture in pictures]
        detector = Detector()
        usual = usual_trunk((picture for _, _, picture in shown[::3]), detector)
        followed = follow_film(shown, LitePose(), detector, usual)
        read = read_followed(followed, "freestyle", "side-under")
        assert read.cycle is None
        assert read.events == ()
        assert "no swimmer" in read.reasons["rate"]


def test_the_usual_trunk_is_that_of_the_surest_pictures() -> None:
    """A raised arm that is taken for a small person does not count."""

    class Finder:
        def __init__(self) -> None:
            self.found = iter([
                Person((0, 0), (60, 0), 0.5), Person((0, 0), (200, 0), 0.9), None,
                Person((0, 0), (210, 0), 0.95), Person((0, 0), (30, 0), 0.45),
            ])  # fmt: skip

        def person(self, picture: Image) -> Person | None:
            return next(self.found)

    blank = np.zeros((4, 4, 3), np.uint8)
    assert usual_trunk([blank] * 5, Finder()) == pytest.approx(205)

    class Nobody:
        def person(self, picture: Image) -> Person | None:
            return None

    assert usual_trunk([blank] * 3, Nobody()) is None


def test_key_pictures_are_spread_over_the_film() -> None:
    found = list(spread_pictures(SHIPPED / "rimvold-side-pace.mp4", 6))
    assert len(found) == 6
    assert all(picture.shape == (720, 1280, 3) for picture in found)
    assert all(np.any(a != b) for a, b in pairwise(found))


def test_a_film_without_a_swimmer_tells_nothing(tmp_path: Path) -> None:
    clip = numbered_clip(tmp_path / "pool.mp4", [n / 30 for n in range(30)])
    result = CliRunner().invoke(main, ["read", str(clip), "--stroke", "freestyle", "--json"])
    assert result.exit_code == 0, result.output
    answer = json.loads(result.stdout)
    Draft202012Validator(SCHEMAS["read"]()).validate(answer)
    assert answer["rate_cycles_per_min"] is None
    assert set(answer["reasons"].values()) == {"no swimmer was found in this film"}
    assert set(answer["reasons"]) == {"rate", "events"}
    assert answer["frames_read"] == 30
    told = CliRunner().invoke(main, ["read", str(clip), "--stroke", "freestyle"])
    assert "No stroke rate: no swimmer was found" in told.stdout


@pytest.mark.parametrize(
    ("arguments", "code", "words"),
    [
        (["none.mp4", "--stroke", "freestyle"], 1, "There is no file none.mp4"),
        (["none.mp4"], 2, "--stroke"),
        (["none.mp4", "--stroke", "freestyle", "--tap", "1,2,3"], 2, "four numbers"),
        (["none.mp4", "--stroke", "freestyle", "--network", "no.tflite"], 1, "no.tflite"),
    ],
)
def test_refusals(arguments: list[str], code: int, words: str) -> None:
    result = CliRunner().invoke(main, ["read", *arguments])
    assert result.exit_code == code
    assert words in result.output
