"""Followed points through the pages: followed by a job, corrected, sent, read, proposed."""

from __future__ import annotations

import json
from io import BytesIO
from pathlib import Path

import numpy as np
import pytest
from flask.testing import FlaskClient

from norvik.core.errors import TracksFileError
from norvik.formats.keypoints_csv import write_keypoints
from norvik.formats.tracks_csv import Row, read_tracks, split_name, write_tracks
from norvik.jobs.runner import run_job
from norvik.model.dials import usual_swim
from norvik.model.film import Shot, Take, film
from norvik.settings import Settings
from norvik.store import clips, jobs, marks, readings, references, tracks
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.store.tracks import TrackPoint
from norvik.work_names import FOLLOW
from norvik.workflow.clip_timing import time_clip
from norvik.workflow.clip_tracks import track_measures, track_proposals, tracks_of
from norvik.workflow.reading import proposed, trust
from tests.clips import numbered_clip
from tests.conftest import BroughtIn

TAKE = Take(usual_swim("freestyle", 42, 4), seconds=2.5, fps=60, dots=True)


@pytest.fixture(scope="module")
def swum(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("tracks") / "dots.mp4"
    film(TAKE, path)
    return path


@pytest.fixture
def clip(client: FlaskClient, settings: Settings, swum: Path, brought_in: BroughtIn) -> int:
    return brought_in(settings, [Swimmer("Tilde Vassholm")], (swum, {"view": "side-under"}))[0]


def truth(swum: Path, joint: str) -> np.ndarray:
    return np.array(json.loads(swum.with_suffix(".truth.json").read_text())["joints_px"][joint])


def points(settings: Settings, track: int = 1) -> dict[int, TrackPoint]:
    with connected(settings.database) as connection:
        return {p.frame: p for p in tracks.points_of(connection, track)}


def test_a_point_is_followed_corrected_and_kept(
    client: FlaskClient, clip: int, settings: Settings, swum: Path
) -> None:
    at = truth(swum, "right_elbow")
    url = f"/clips/{clip}/tracks/"
    x, y = at[20]
    data = {"point": "elbow", "side": "right", "frame": 20, "points": f"{x},{y}", "to": 90}
    answer = client.post(url, data=data)
    assert "Tracking the right elbow from frame 20" in answer.text
    found = points(settings)
    assert sorted(found) == list(range(20, 91))
    assert found[20].state == "anchor"
    away = [np.hypot(p.x - at[f][0], p.y - at[f][1]) for f, p in found.items()
            if p.x is not None and p.y is not None]  # fmt: skip
    assert np.median(away) < 3
    # A correction is kept to the letter, what comes after it is followed anew from there.
    answer = client.post(f"{url}1/anchor", data={"frame": 50, "points": "300,300", "to": 90})
    again = points(settings)
    assert (again[50].x, again[50].y, again[50].state) == (300, 300, "anchor")
    assert again[51].x is None or abs(again[51].x - 300) < 40
    assert again[20] == found[20]
    # Setting it right again repairs what lies around it.
    x, y = at[50]
    client.post(f"{url}1/anchor", data={"frame": 50, "points": f"{x},{y}", "to": 90})
    repaired = points(settings)
    for frame in (45, 49, 51, 60):
        p = repaired[frame]
        assert p.x is not None, frame
        assert p.y is not None
        assert np.hypot(p.x - at[frame][0], p.y - at[frame][1]) < 6, frame
    assert "2 set by hand" in client.get(url).text
    # Wrong from here on: it goes, the rest stays.
    client.post(f"{url}1/lost", data={"frame": 70})
    assert max(points(settings)) == 69
    listed = client.get(f"{url}points").json
    assert listed[0]["name"] == "right elbow"
    assert listed[0]["points"][0][:4] == [20, at[20][0], at[20][1], "anchor"]
    client.post(f"{url}1/delete")
    assert client.get(f"{url}points").json == []


def test_following_is_cancelled_and_keeps_what_it_has(
    client: FlaskClient, clip: int, settings: Settings, swum: Path
) -> None:
    x, y = truth(swum, "right_elbow")[20]
    with connected(settings.database) as connection:
        track = tracks.open_track(connection, clip, None, "elbow", "right")
        tracks.set_anchor(connection, track, 20, x, y)
        args = {"clip_id": clip, "track_id": track, "frame": 20, "to": 120}
        job = jobs.add(connection, FOLLOW, args, None)
        tracks.set_job(connection, track, job)
        jobs.ask_cancel(connection, job)
        run_job(settings, job)
        assert jobs.by_id(connection, job).state == "cancelled"
        assert sorted(points(settings)) == [20]
        # One whose place is gone says so and leaves the rest alone.
        connection.execute("DELETE FROM track_points")
        job = jobs.add(connection, FOLLOW, args, None)
        tracks.set_job(connection, track, job)
        run_job(settings, job)
        assert jobs.by_id(connection, job).state == "failed"
    assert "Set it again" in client.get(f"/clips/{clip}/tracks/").text
    client.post(f"/clips/{clip}/tracks/{track}/cancel")


def test_going_back_never_passes_an_anchor(
    client: FlaskClient, clip: int, settings: Settings, swum: Path
) -> None:
    at = truth(swum, "right_elbow")
    url = f"/clips/{clip}/tracks/"
    for frame in (20, 60):
        x, y = at[frame]
        client.post(url, data={"point": "elbow", "side": "right", "frame": frame,
                               "points": f"{x},{y}", "to": 80})  # fmt: skip
    found = points(settings)
    assert [f for f, p in found.items() if p.state == "anchor"] == [20, 60]
    assert min(found) == 20
    assert max(found) == 80


def test_angles_against_time_and_proposals(
    client: FlaskClient, clip: int, settings: Settings, swum: Path
) -> None:
    with connected(settings.database) as connection:
        for joint in ("shoulder", "elbow", "wrist"):
            at = truth(swum, f"right_{joint}")
            track = tracks.open_track(connection, clip, None, joint, "right")
            tracks.replace_points(
                connection, track,
                [TrackPoint(n, float(x), float(y), "followed", 1.0) for n, (x, y) in enumerate(at)],
            )  # fmt: skip
        page = client.get(f"/clips/{clip}/tracks/").text
        for name in ("right elbow angle", "right wrist height", "right shoulder speed"):
            assert f"<b>{name}</b>" in page
        assert "px/s" in page
        assert "proposed from here" not in page
        timed = time_clip(connection, clips.by_id(connection, clip))
        assert tracks_of(connection, timed).proposals() == []
    wide = {"kind": "water", "points": "10,160 1200,160", "frame": 0}
    client.post(f"/clips/{clip}/drawings/references", data=wide)
    scale = {"kind": "scale", "points": "0,300 400,300", "width_m": "1", "frame": 0}
    client.post(f"/clips/{clip}/drawings/references", data=scale)
    page = client.get(f"/clips/{clip}/tracks/").text
    assert "m/s" in page
    assert "proposed from here" in page
    bench = client.get(f"/clips/{clip}/").text
    assert '"exit","arm",' in bench
    # What is marked is not proposed any more.
    with connected(settings.database) as connection:
        timed = time_clip(connection, clips.by_id(connection, clip))
        first = tracks_of(connection, timed).proposals()[0]
        frame = timed.frame_of(first.time_s)
    mark = {"frame": frame, "lane": first.lane, "side": first.side, "event": first.event}
    client.post(f"/clips/{clip}/marks", data=mark)
    with connected(settings.database) as connection:
        timed = time_clip(connection, clips.by_id(connection, clip))
        assert first not in tracks_of(connection, timed).proposals()
        assert track_proposals(connection, timed) == tracks_of(connection, timed).proposals()
        # What was worked out once does not outlive a change of a followed place.
        tracks.delete(connection, 3)
        assert track_proposals(connection, timed) == []


def test_what_followed_points_say(client: FlaskClient, clip: int, settings: Settings) -> None:
    """Hips 80 pixels wide that snake by 20 to each side: a quarter each, half of their width."""
    n = np.arange(150)
    sway = 20 * np.sin(2 * np.pi * n / 50)
    with connected(settings.database) as connection:
        for side, y in (("left", 160), ("right", 240)):
            track = tracks.open_track(connection, clip, None, "hip", side)
            tracks.replace_points(
                connection, track,
                [TrackPoint(k, 100 + 4.0 * k, y + float(v), "followed", 1.0)
                 for k, v in enumerate(sway)],
            )  # fmt: skip
        head = tracks.open_track(connection, clip, None, "head", "")
        tracks.replace_points(
            connection, head,
            [TrackPoint(k, 100 + 4.0 * k, 300 - 2.0 * k, "followed", 1.0) for k in range(120)],
        )  # fmt: skip
        marks.place(connection, clip, None, 100, "wall", "", "breakout")
        timed = time_clip(connection, clips.by_id(connection, clip))
        said = {s.measure.id: s for s in track_measures(connection, tracks_of(connection, timed))}
    assert said["hip-sway"].value == pytest.approx(50, abs=3)
    assert said["hip-sway"].n == 5  # six turning points in three waves
    # The head climbs one in two: 26.6 degrees, between good (20) and a fault (35).
    assert said["breakout-climb"].value == pytest.approx(26.57, abs=0.1)
    assert said["breakout-climb"].verdict == "watch"
    page = client.get(f"/clips/{clip}/tracks/").text
    assert "% of their width" in page
    assert "Climb of the head to the breakout" in page


def test_tables_go_out_and_come_in(client: FlaskClient, clip: int, settings: Settings) -> None:
    text = (
        "frame,time_s,point,x_px,y_px,state\r\n"
        "3,0.05,right wrist,100.5,200.25,anchor\r\n4,0.067,right wrist,,,lost\r\n"
        "5,,head,1,2,\r\n"
    )
    url = f"/clips/{clip}/tracks"
    sent = {"file": (BytesIO(text.encode()), "tracks.csv")}
    assert client.post(f"{url}/file", data=sent).status_code == 302
    assert points(settings)[3] == TrackPoint(3, 100.5, 200.25, "anchor", 1.0)
    assert points(settings)[4].state == "lost"
    back = client.get(f"{url}/tracks.csv").text
    assert "3,0.050000,right wrist,100.50,200.25,anchor" in back
    assert "5,0.083333,head,1.00,2.00,followed" in back
    rows = client.get(f"{url}/keypoints.csv").text.splitlines()
    assert rows[:3] == [
        "scorer,norvik,norvik,norvik,norvik,norvik,norvik",
        "bodyparts,right_wrist,right_wrist,right_wrist,head,head,head",
        "coords,x,y,likelihood,x,y,likelihood",
    ]
    assert len(rows) == 3 + 150
    assert rows[3 + 3] == "3,100.50,200.25,1.000,,,0"
    for wrong, sentence in (
        (b"frame,point,x_px,y_px\n900,head,1,2\n", "Frame 900 is not in this clip"),
        (b"", "are missing"),
    ):
        answer = client.post(f"{url}/file", data={"file": (BytesIO(wrong), "t.csv")})
        assert answer.status_code == 422
        assert sentence in answer.text
    assert points(settings)[3].state == "anchor"


def test_points_of_another_tracker_tell_the_stroke(
    client: FlaskClient, settings: Settings, tmp_path: Path, brought_in: BroughtIn
) -> None:
    """Its keypoints come in, and the stroke is read in them: the film itself shows nobody."""
    take = Take(usual_swim("butterfly", 52, 3), seconds=7, fps=30)
    shot = Shot(take)
    facts = {"view": "side-under", "stroke": "butterfly"}
    video = numbered_clip(tmp_path / "none.mp4", [float(t) for t in shot.times])
    brought_in(settings, [Swimmer("Tilde Vassholm")], (video, facts))
    assert "Read points" not in client.get("/clips/1/tracks/").text
    keypoints = write_keypoints(0, len(shot.times) - 1, {
        joint: {n: (x, y, 0.9) for n, (x, y) in enumerate(shot.camera.project(places))}
        for joint, places in shot.joints.items()
    })  # fmt: skip
    sent = {"file": (BytesIO(keypoints.encode()), "other.csv")}
    assert client.post("/clips/1/tracks/file", data=sent).status_code == 302
    assert "Read points" in client.get("/clips/1/tracks/").text

    # Asked for from the panel of points, the page itself shows how far it is.
    assert client.post("/clips/1/reading/", data={"from": "points"}).location == "/clips/1/"
    assert "From the tracked points, not confirmed" in client.get("/clips/1/reading/").text
    with connected(settings.database) as connection:
        found = readings.of_clip(connection, 1)
        timed = time_clip(connection, clips.by_id(connection, 1))
        assert found is not None
        assert found.by_points
        assert not found.measures
        told = proposed(connection, timed).events
        true = [m for m in shot.plan.marks(0, 7) if m.lane == "arm"]
        close = [
            m for m in true
            if any(e.event == m.event and abs(e.time_s - m.time_s) <= 0.08 for e in told)
        ]  # fmt: skip
        assert len(close) >= 0.9 * len(true)
        # What a coach corrects here says nothing of the network.
        client.post("/clips/1/reading/take", data={"what": "clip"})
        connection.execute("DELETE FROM reading_taken")
        assert trust(connection) == {}


@pytest.mark.parametrize(
    ("line", "sentence"),
    [
        ("x,head,1,2,", "“x” in frame is no number"),
        ("-1,head,1,2,", "whole number"),
        ("1,,1,2,", "needs a name"),
        ("1,head,1,,", "is missing"),
        ("1,head,inf,2,", "is no number"),
        ("1,head,1,2,flying", "not one of"),
        ("1,head,,,anchor", "a lost point has no place"),
        ("1,head,1,2,\n1,head,1,2,", "appears twice"),
    ],
)
def test_damaged_tables_are_refused_whole(line: str, sentence: str) -> None:
    with pytest.raises(TracksFileError, match="Nothing was imported") as refusal:
        read_tracks(f"frame,point,x_px,y_px,state\n{line}\n".encode())
    assert sentence in refusal.value.sentence


def test_tables_round_trip() -> None:
    rows = [
        Row(0, 0.0, "left knee", 1.25, 2.5, "followed"),
        Row(1, 0.1, "left knee", None, None, "lost"),
    ]
    assert read_tracks(write_tracks(rows).encode()) == rows
    assert split_name("left knee") == ("left", "knee")
    assert split_name("buoy") == ("", "buoy")
    assert write_keypoints(0, 0, {"head": {}}).splitlines()[-1] == "0,,,0"
    for data in (b"\xff\xfe", b"frame,point,x_px,y_px\n"):
        with pytest.raises(TracksFileError):
            read_tracks(data)


def test_what_cannot_be_followed_is_said(
    client: FlaskClient, clip: int, settings: Settings
) -> None:
    url = f"/clips/{clip}/tracks/"
    good = {"point": "elbow", "side": "right", "frame": 20, "points": "300,300"}
    for changed, sentence in (
        ({"point": ""}, "Name the point"),
        ({"side": "top"}, "Name the point"),
        ({"frame": 4000}, "not in this clip"),
        ({"points": "1,1 2,2"}, "Click the point once"),
    ):
        answer = client.post(url, data={**good, **changed}, headers={"HX-Request": "true"})
        assert answer.status_code == 422, changed
        assert sentence in answer.text
    assert client.get(f"{url}keypoints.csv").status_code == 422
    assert client.post(f"{url}7/anchor", data=good).status_code == 404
    assert client.get(f"{url}points").json == []
    with connected(settings.database) as connection:
        assert references.of_clip(connection, clip).water == ()
