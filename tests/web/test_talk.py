"""Recording, mending and filming a talk through the web's doors."""

from __future__ import annotations

import io
import json
from pathlib import Path
from typing import Any

import pytest
from flask.testing import FlaskClient

from norvik.core.errors import TalkError
from norvik.settings import Settings
from norvik.store import talks
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.workflow.talk.record import MOST_SOUND_BYTES, Bit, take_bit
from tests.conftest import BroughtIn
from tests.talks import clip_film, stage, tone, webm, whole

INK = '<g class="drawing good" data-drawing="1"><polyline class="ink" points="1,2 3,4"/></g>'


@pytest.fixture
def talk(client: FlaskClient, settings: Settings, brought_in: BroughtIn, small_clip: Path) -> int:
    brought_in(settings, [Swimmer(name="Wren Alder", level="improver")], (small_clip, {}))
    answer = client.post("/clips/1/talk/")
    assert answer.status_code == 200
    return int(answer.json["talk"])  # type: ignore[index]


def begin(client: FlaskClient, talk: int, key: str = "take-0001", **place: Any) -> int:
    answer = client.post(f"/talks/{talk}/takes/", data={"key": key, "mime": "audio/webm", **place})
    assert answer.status_code == 200, answer.text
    return int(answer.json["take"])  # type: ignore[index]


def send(
    client: FlaskClient, talk: int, take: int, n: int, deeds: list[Any], until: float,
    sound: bytes = b"", inks: dict[str, str] | None = None,
) -> Any:  # fmt: skip
    return client.post(
        f"/talks/{talk}/takes/{take}/bits/{n}",
        data={
            "deeds": json.dumps(deeds), "inks": json.dumps(inks or {}), "until": str(until),
            "sound": (io.BytesIO(sound), "sound"),
        },
    )  # fmt: skip


def recorded(client: FlaskClient, talk: int, seconds: int = 4, **place: Any) -> int:
    """A take of some seconds that shows a frame more each second."""
    take = begin(client, talk, **place)
    sound = webm(tone(seconds))
    deeds: list[Any] = [
        stage(clip_film(1)),
        whole(0),
        [0, "about", "fault", "elbow", "Dropped elbow"],
    ]
    deeds += [[1000 * s, "frame", 0, s] for s in range(seconds)] + [[1000 * seconds, "end"]]
    half = len(sound) // 2
    assert (
        send(client, talk, take, 0, deeds, 500 * seconds, sound[:half], {"0": INK}).status_code
        == 200
    )
    assert send(client, talk, take, 1, [], 1000 * seconds, sound[half:]).status_code == 200
    return take


def score(client: FlaskClient, talk: int) -> Any:
    return client.get(f"/talks/{talk}/score.json").json


def test_what_was_recorded_is_told_as_it_was(client: FlaskClient, talk: int) -> None:
    take = recorded(client, talk)
    told = score(client, talk)
    assert told["length"] == 4000
    assert told["pieces"] == [[take, 0, 4000, 0]]
    assert [2000, "frame", 0, 2] in told["deeds"][str(take)]
    assert told["inks"]["0"] == INK.replace(' data-drawing="1"', "").replace("/>", " />")
    assert told["chapters"] == [[0, 4000, "Dropped elbow"]]
    assert told["films"] == {"1": "/clips/1/frames.json"}
    sound = client.get(told["sound"])
    assert (sound.status_code, sound.mimetype) == (200, "audio/mp4")
    sound.close()
    part = client.get(told["sound"], headers={"Range": "bytes=0-99"})
    assert (part.status_code, len(part.data)) == (206, 100)
    part.close()


def test_nothing_is_kept_twice_and_nothing_after_a_hole_is_heard(
    client: FlaskClient, talk: int
) -> None:
    take = recorded(client, talk)
    assert begin(client, talk) == take
    again = send(client, talk, take, 1, [[9000, "end"]], 9000)
    assert (again.json["new"], again.json["length"]) == (False, 4000)
    assert len(score(client, talk)["pieces"]) == 1
    # The third piece never came: what the fourth says is not shown until it does.
    send(client, talk, take, 3, [[7000, "frame", 0, 70]], 7500)
    assert [7000, "frame", 0, 70] not in score(client, talk)["deeds"][str(take)]
    send(client, talk, take, 2, [[5000, "frame", 0, 50]], 6000)
    assert [7000, "frame", 0, 70] in score(client, talk)["deeds"][str(take)]


@pytest.mark.parametrize(
    ("deeds", "inks", "says"),
    [
        ([[0, "jump"]], {}, "record again"),
        ({}, {}, "cannot be read"),
        ([stage(clip_film(99))], {}, "deleted"),
        ([], {"0": "<script/>"}, "none of Norvik"),
        ([], {"x": "<g/>"}, "cannot be read"),
    ],
)
def test_what_cannot_be_is_refused_whole(
    client: FlaskClient, talk: int, deeds: Any, inks: Any, says: str
) -> None:
    take = begin(client, talk)
    answer = send(client, talk, take, 0, deeds, 100, inks=inks)
    assert answer.status_code in (404, 422)
    assert says in answer.text
    assert score(client, talk)["length"] == 0
    garbled = client.post(f"/talks/{talk}/takes/{take}/bits/0", data={"deeds": "{", "until": "1"})
    assert garbled.status_code == 422
    with connected(client.application.config["NORVIK_SETTINGS"].database) as connection:
        heavy = Bit(0, b"0" * (MOST_SOUND_BYTES + 1), [], {}, 100.0)
        with pytest.raises(TalkError, match="too long"):
            take_bit(connection, talks.by_id(connection, talk), take, heavy, lambda clip: None)
    assert client.post(f"/talks/{talk}/takes/", data={"key": "x"}).status_code == 422
    assert send(client, talk, take + 1, 0, [], 100).status_code == 404


def test_a_key_of_another_talk_is_refused(client: FlaskClient, talk: int) -> None:
    begin(client, talk)
    other = client.post("/clips/1/talk/").json["talk"]  # type: ignore[index]
    answer = client.post(f"/talks/{other}/takes/", data={"key": "take-0001", "mime": ""})
    assert answer.status_code == 422


def test_speaking_on_adding_between_and_going_on_after_a_pause(
    client: FlaskClient, talk: int
) -> None:
    first = recorded(client, talk)
    second = recorded(client, talk, key="take-0002", after=first)
    assert [p[0] for p in score(client, talk)["pieces"]] == [first, second]
    third = recorded(client, talk, 1, key="take-0003", at=1500, how="between")
    assert score(client, talk)["pieces"] == [
        [first, 0, 1500, 0], [third, 0, 1000, 1500], [first, 1500, 4000, 2500],
        [second, 0, 4000, 5000]]  # fmt: skip
    fourth = recorded(client, talk, 1, key="take-0004", at=2000, how="on")
    assert score(client, talk)["pieces"] == [
        [first, 0, 1500, 0], [third, 0, 500, 1500], [fourth, 0, 1000, 2000]]  # fmt: skip
    # Every step can be taken back.
    client.post(f"/talks/{talk}/undo")
    assert score(client, talk)["length"] == 9000
    client.post(f"/talks/{talk}/undo")
    client.post(f"/talks/{talk}/redo")
    assert [p[0] for p in score(client, talk)["pieces"]] == [first, third, first, second]


def test_a_stretch_is_cut_out_and_had_back(client: FlaskClient, talk: int) -> None:
    take = recorded(client, talk)
    page = client.post(f"/talks/{talk}/cut", data={"from": "3000", "to": "1000"})
    assert "2.0 s cut out" in page.text
    assert score(client, talk)["pieces"] == [[take, 0, 1000, 0], [take, 3000, 4000, 1000]]
    assert client.post(f"/talks/{talk}/cut", data={"from": "0", "to": "10"}).status_code == 422
    assert client.post(f"/talks/{talk}/cut", data={"from": "x", "to": "nan"}).status_code == 422
    assert "Undone" in client.post(f"/talks/{talk}/undo").text
    assert score(client, talk)["length"] == 4000
    client.post(f"/talks/{talk}/undo")
    assert "Nothing to undo" in client.post(f"/talks/{talk}/undo").text


def test_silent_ends_are_cut_off(client: FlaskClient, talk: int) -> None:
    import numpy as np

    take = begin(client, talk)
    quiet = np.zeros(2 * 48_000, np.float32)
    sound = webm(np.concatenate([quiet, tone(2), quiet]))
    send(client, talk, take, 0, [stage(clip_film(1)), [6000, "end"]], 6000, sound)
    assert "silence cut off" in client.post(f"/talks/{talk}/trim").text
    assert score(client, talk)["length"] == pytest.approx(2500, abs=120)
    assert "No silence" in client.post(f"/talks/{talk}/trim").text


def test_chapters_are_renamed_and_captions_written_brought_and_taken_away(
    client: FlaskClient, talk: int
) -> None:
    take = recorded(client, talk)
    client.post(f"/talks/{talk}/chapters", data={"take": take, "take_ms": 0, "words": "Your elbow"})
    assert score(client, talk)["chapters"] == [[0, 4000, "Your elbow"]]
    client.post(f"/talks/{talk}/chapters", data={"take": take, "take_ms": 0, "words": ""})
    assert score(client, talk)["chapters"] == [[0, 4000, "Dropped elbow"]]
    client.post(f"/talks/{talk}/captions", data={"from": "1000", "words": "Look at the hand"})
    assert score(client, talk)["captions"] == [[1000, 2120, "Look at the hand"]]
    file = client.get(f"/talks/{talk}/captions.vtt")
    assert "00:00:01.000 --> 00:00:02.120" in file.text
    brought = b"WEBVTT\n\n00:02.000 --> 00:03.000\nNew words\n\n00:30.000 --> 00:31.000\nToo late\n"
    client.post(f"/talks/{talk}/captions.vtt", data={"file": (io.BytesIO(brought), "x.vtt")})
    assert score(client, talk)["captions"] == [[2000, 3000, "New words"]]
    bad = client.post(f"/talks/{talk}/captions.vtt", data={"file": (io.BytesIO(b"no"), "x.vtt")})
    assert bad.status_code == 422
    page = client.get(f"/talks/{talk}/").text
    number = int(page.split("captions/")[1].split('"')[0])
    client.post(f"/talks/{talk}/captions/{number}", data={"words": "Other words"})
    assert score(client, talk)["captions"] == [[2000, 3000, "Other words"]]
    client.post(f"/talks/{talk}/captions/{number}", data={"words": ""})
    assert score(client, talk)["captions"] == []
    assert client.post(f"/talks/{talk}/captions", data={"from": "1"}).status_code == 422
    late = client.post(f"/talks/{talk}/captions", data={"from": "99000", "words": "x"})
    assert late.status_code == 422


def test_speaking_on_opens_the_page_that_was_on_the_screen(client: FlaskClient, talk: int) -> None:
    take = recorded(client, talk)
    to = client.get(f"/talks/{talk}/speak?at=2100&how=between").location
    assert to == f"/clips/1/?talk={talk}&at=2100&how=between&frame=2"
    films = stage(clip_film(1), clip_film(1))
    pair = begin(client, talk, key="take-0002", after=take)
    send(client, talk, pair, 0, [films, [0, "frame", 0, 7], [900, "end"]], 900)
    to = client.get(f"/talks/{talk}/speak?at=4500&how=on").location
    assert to.startswith("/clips/1/beside/?")
    assert "with=1" in to


def test_a_film_is_asked_for_made_and_downloaded(client: FlaskClient, talk: int) -> None:
    assert client.post(f"/talks/{talk}/films", data={"shape": "wide"}).status_code == 422
    recorded(client, talk, 1)
    assert client.post(f"/talks/{talk}/films", data={"shape": "round"}).status_code == 422
    row = client.post(f"/talks/{talk}/films", data={"shape": "wide"}).text
    assert "Download" in row
    address = row.split("download")[0].split('href="')[-1].split('"')[0]
    film = client.get(address.replace("&amp;", "&"))
    assert film.status_code == 200
    assert "attachment" in film.headers["Content-Disposition"]
    film.close()
    assert client.get(f"/talks/{talk}/").text.count("Download") == 1
    client.post(f"/talks/{talk}/delete")
    assert client.get(f"/talks/{talk}/").status_code == 404
    assert client.get(address.split("?")[0]).status_code == 404


def test_films_without_a_voice(client: FlaskClient, talk: int, settings: Settings) -> None:
    clip = {"what": "clip", "clip": 1, "shape": "wide"}
    assert "Download" in client.post("/reviews/1/films", data=clip).text
    refused = client.post("/reviews/1/films", data={"what": "cycle", "clip": 1, "shape": "gif"})
    assert "Mark one full stroke cycle" in refused.text
    for bad in ({**clip, "clip": 9}, {**clip, "what": "x"}, {"what": "pair", "pair": 3}):
        assert client.post("/reviews/1/films", data=bad).status_code in (404, 422)
    for n, event in enumerate(("entry", "catch", "press", "shoulder", "exit", "entry")):
        client.post(
            "/clips/1/marks", data={"frame": 10 * n, "lane": "arm", "side": "right", "event": event}
        )
    gif = client.post("/reviews/1/films", data={"what": "cycle", "clip": 1, "shape": "gif"})
    assert "Download" in gif.text
    file = client.get(gif.text.split('href="')[1].split('"')[0])
    assert file.mimetype == "image/gif"
    assert file.data[:6] == b"GIF89a"
    file.close()


def test_the_way_through_the_review_and_notes_for_the_coach_alone(
    client: FlaskClient, talk: int
) -> None:
    client.post(
        "/reviews/1/talk/notes", data={"kind": "fault", "what": "x", "words": "Ask about it"}
    )
    with connected(client.application.config["NORVIK_SETTINGS"].database) as connection:
        assert talks.notes(connection, 1) == {("fault", "x"): "Ask about it"}
    client.post("/reviews/1/talk/notes", data={"kind": "fault", "what": "x", "words": " "})
    long = client.post("/reviews/1/talk/notes", data={"kind": "a", "what": "b", "words": "y" * 501})
    assert long.status_code == 422
    page = client.get("/clips/1/talk/", follow_redirects=True)
    assert "Talk it through" in page.text
    told = client.get("/clips/1/talk/path.json").json
    assert told == {"path": []}
    assert client.get(f"/clips/1/talk/path.json?talk={talk}").json["talk"] == talk  # type: ignore[index]
