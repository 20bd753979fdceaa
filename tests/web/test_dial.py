"""The page of the dial, alone and with another clip other clip it."""

from __future__ import annotations

from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import clips, marks, swimmers
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.clips import numbered_clip
from tests.uploading import upload


def test_before_and_after_on_one_dial(client: FlaskClient, settings: Settings, tmp_path) -> None:  # type: ignore[no-untyped-def]
    with connected(settings.database) as connection:
        swimmers.add(connection, Swimmer("Tilde Vassholm"))
    ids = [
        upload(
            client, numbered_clip(tmp_path / f"{n}.mp4", [k / 30 for k in range(90 + n)]), role=role
        ).json["clip"]
        for n, role in enumerate(("before", "after"))
    ]
    url = f"/clips/{ids[0]}/dial/"
    assert "No whole cycle is marked yet" in client.get(url).text
    with connected(settings.database) as connection:
        for clip_id, catch in zip(ids, (12, 18), strict=True):
            for begin in (0, 40):
                for event, into in (("entry", 0), ("catch", catch), ("press", 22), ("exit", 32)):
                    marks.place(connection, clip_id, None, begin + into, "arm", "right", event)
            marks.place(connection, clip_id, None, 80, "arm", "right", "entry")
        assert clips.by_id(connection, ids[1]).marks == 9
    page = client.get(url).text
    assert 'class="over"' not in page
    assert "right arm: entry 30 % from 0 %" in page
    assert "after, 20 November 2026" in page
    page = client.get(f"{url}?over={ids[1]}").text
    assert page.count('class="over"') == 4
    assert "<b>30.0</b> %" in page
    assert "<b>45.0</b> %" in page
    # What is not this swimmer's clip is not other clip.
    assert 'class="over"' not in client.get(f"{url}?over=99").text
    assert f'href="{url}"' in client.get(f"/clips/{ids[0]}/").text
