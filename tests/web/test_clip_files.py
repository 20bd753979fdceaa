"""Marks as files and back, chapters, and steps of the history that hold many marks."""

from __future__ import annotations

import random
from io import BytesIO
from pathlib import Path

import av
import pytest
from flask.testing import FlaskClient
from werkzeug.test import TestResponse

from norvik.core.strokes import STROKES
from norvik.formats.events_csv import read_events
from norvik.formats.webvtt import Chapter, write_chapters
from norvik.settings import Settings
from norvik.store import marks, swimmers
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.uploading import upload

HEADER = "time_s,lane,side,event,note\n"


@pytest.fixture
def clip(client: FlaskClient, settings: Settings, small_clip: Path) -> int:
    """Three seconds at 30 frames/s."""
    with connected(settings.database) as connection:
        swimmers.add(connection, Swimmer("Tilde Vassholm"))
    return int(upload(client, small_clip, pool_m=25).json["clip"])


def bring_in(client: FlaskClient, clip: int, text: str | bytes) -> TestResponse:
    data = text.encode() if isinstance(text, str) else text
    return client.post(f"/clips/{clip}/files/events", data={"file": (BytesIO(data), "events.csv")})


def stored(settings: Settings, clip: int) -> list[tuple[int, str, str, str, str]]:
    with connected(settings.database) as connection:
        found = marks.of_clip(connection, clip)
    return [(m.frame, m.lane, m.side, m.event, m.note) for m in found]


def test_marks_go_out_and_come_back_the_same(
    client: FlaskClient, settings: Settings, clip: int
) -> None:
    rows = ["0,arm,right,entry,", "1.0,arm,right,entry,", "0.5,breath,left,air,",
            "0.1,leg,,beat,", "2.5,wall,,touch,", "2.0,course,,pass,20 m"]  # fmt: skip
    page = bring_in(client, clip, HEADER + "\n".join(rows))
    assert "<b>6</b> marks were placed" in page.text
    before = stored(settings, clip)
    assert (60, "course", "", "pass", "20 m") in before
    answer = client.get(f"/clips/{clip}/files/events.csv")
    assert "Tilde Vassholm 2026-11-20" in answer.headers["Content-Disposition"]
    assert len(read_events(answer.data, STROKES["freestyle"]).marks) == 6
    # Again: all are there. Undone in one step, done again in one step.
    assert "6 were already there" in bring_in(client, clip, answer.data).text
    told = client.post(f"/clips/{clip}/undo", data={"frame": 0}).text
    assert "6 marks removed" in told
    assert stored(settings, clip) == []
    assert "6 marks are back" in client.post(f"/clips/{clip}/redo", data={"frame": 0}).text
    assert stored(settings, clip) == before


def test_rows_that_cannot_be_used_are_named(
    client: FlaskClient, settings: Settings, clip: int
) -> None:
    page = bring_in(
        client, clip, HEADER + "0.2,arm,right,entry,\nsoon,arm,right,exit,\n9,arm,left,entry,\n"
    ).text
    assert "<b>1</b> mark was placed" in page
    assert "Row 3:" in page
    assert "skipped: row 4" in page
    for data, words in ((b"", "Choose an events file"), (b"\x81\xfe", "UTF-8"),
                        (b"a,b\n1,2\n", "header lacks")):  # fmt: skip
        answer = bring_in(client, clip, data)
        assert answer.status_code == 422
        assert words in answer.text
    assert len(stored(settings, clip)) == 1


def test_500_damaged_files_never_fail_and_name_their_rows() -> None:
    rng = random.Random(9)
    events = ("entry", "catch", "press", "exit")
    good = [HEADER.strip()]
    good += [
        f"{n / 10},arm,{rng.choice(['left', 'right'])},{rng.choice(events)}," for n in range(20)
    ]
    damage = ["", ",,,,,,,", "x,arm,right,entry,", "1e400,arm,right,entry,", "1,arm,up,entry,",
              "1,leg,right,entry,", '"1,arm,right,entry,', "1;arm;right;entry", "\x00", "9" * 5000,
              "1,arm,right,entry,,,,,,", "1,course,,pass,far"]  # fmt: skip
    for _ in range(500):
        lines, damaged = list(good), set()
        for _ in range(rng.randint(1, 4)):
            at = rng.randrange(1, len(lines))
            damaged.add(at + 1)
            lines[at] = rng.choice(damage)
        found = read_events("\n".join(lines).encode(), STROKES["freestyle"])
        assert {b.row for b in found.bad_rows} <= set(range(2, 22))
        assert all(b.reason for b in found.bad_rows)
        if not any(line.startswith('"') for line in lines):
            # (An open quote swallows the rows behind it: they are one bad row.)
            assert {b.row for b in found.bad_rows} <= damaged
            assert len(found.marks) >= 20 - len(damaged)


def test_a_whole_cycle_goes_with_one_press(
    client: FlaskClient, settings: Settings, clip: int
) -> None:
    cycle = ((0, "entry"), (0.3, "catch"), (0.6, "exit"))
    rows = [f"{begin + t},arm,right,{e}," for begin in (0, 1) for t, e in cycle]
    rows.append("2,arm,right,entry,")
    bring_in(client, clip, HEADER + "\n".join(rows))
    with connected(settings.database) as connection:
        catch = next(m.id for m in marks.of_clip(connection, clip) if m.frame == 9)
    answer = client.post(f"/clips/{clip}/marks/{catch}/delete-cycle", data={"frame": 9})
    assert "Cycle of 3 marks deleted" in answer.text
    assert [m[0] for m in stored(settings, clip)] == [30, 39, 48, 60]
    client.post(f"/clips/{clip}/undo", data={"frame": 0})
    assert len(stored(settings, clip)) == 7
    assert client.post(f"/clips/{clip}/marks/999/delete-cycle").status_code == 422


def test_chapters_are_read_by_ffmpeg(client: FlaskClient, clip: int, tmp_path: Path) -> None:
    rows = [f"{t},arm,right,entry," for t in (0.1, 1.1, 2.1)]
    rows += ["2.2,wall,,touch,", "2.5,wall,,push,"]
    bring_in(client, clip, HEADER + "\n".join(rows))
    # Played twice as slow as it happened: chapters lie on the film's clock, not the pool's.
    client.post("/library/describe", data={"ids": clip, "stretch": "2"})
    path = tmp_path / "chapters.vtt"
    path.write_bytes(client.get(f"/clips/{clip}/files/chapters.vtt").data)
    # Against FFmpeg's own reader of WebVTT.
    with av.open(str(path)) as container:
        cues = [
            (float(p.pts * p.time_base), float(p.duration * p.time_base), bytes(p).decode())
            for p in container.demux() if p.size
        ]  # fmt: skip
    assert [text for _, _, text in cues] == [
        "Right arm, cycle 1: 0.50 s, 120.0 cycles/min",
        "Right arm, cycle 2: 0.50 s, 120.0 cycles/min",
        "Turn",
    ]
    assert cues[0][:2] == pytest.approx((0.1, 1.0), abs=1e-3)


def test_chapters_never_overlap_and_hold_no_markup() -> None:
    text = write_chapters(
        [Chapter(0, 2, "a <b> & c --> d\ne"), Chapter(1, 3, "inside"), Chapter(2, 2, "empty"),
         Chapter(3600.5, 3601, "late")]
    )  # fmt: skip
    assert text.startswith("WEBVTT\n\n1\n00:00:00.000 --> 00:00:02.000\n")
    assert "a &lt;b&gt; &amp; c → d e" in text
    assert "inside" not in text
    assert "empty" not in text
    assert "01:00:00.500 --> 01:00:01.000" in text
