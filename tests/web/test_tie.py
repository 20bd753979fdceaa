"""Two cameras on one swim, by the page's own requests."""

from __future__ import annotations

from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store.swimmers import Swimmer
from tests.clips import add_sound, numbered_clip
from tests.conftest import BroughtIn
from tests.web.beside import JSON

SPLASHES = (0.6, 1.1, 1.45, 2.2)


@pytest.fixture(scope="module")
def films(tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, dict[str, object]]]:
    folder = tmp_path_factory.mktemp("tie")
    side = numbered_clip(folder / "a.mp4", [k / 30 for k in range(90)])
    front = numbered_clip(folder / "b.mp4", [k / 60 for k in range(150)])
    heard = [t - 0.4 for t in SPLASHES]
    return [
        (add_sound(side, folder / "side.mp4", 3.0, *SPLASHES), {}),
        (add_sound(front, folder / "front.mp4", 2.5, *heard), {"view": "front-under"}),
    ]


@pytest.fixture
def two(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn,
    films: list[tuple[Path, dict[str, object]]],
) -> list[int]:  # fmt: skip
    return brought_in(settings, [Swimmer("Tilde Vassholm")], *films)


def post(client: FlaskClient, what: str, **values: object) -> tuple[int, str]:
    answer = client.post(f"/clips/1/beside/{what}", headers=JSON, data={"with": 2, **values})
    return answer.status_code, answer.json["sentence"]


def test_found_by_sound_then_tied_then_untied(client: FlaskClient, two: list[int]) -> None:
    found = client.get("/clips/1/beside/by-sound.json?with=2").json
    # 0.4 s later: frame n of 30 a second is frame 2n - 24 of 60 a second.
    assert found["at"] == pytest.approx(2 * found["frame"] - 24, abs=1)
    assert found["clear"] is True
    assert "press X to tie them" in found["sentence"]
    status, said = post(client, "tie", frame=30, at=36)
    assert (status, said) == (200, "Tied: both run by one clock.")
    state = client.get("/clips/1/beside/frames.json?with=2&way=clock").json
    assert state["others"][0]["frames"][45] == 66
    status, said = post(client, "tie", frame=75, at=126, **{"as": "second"})
    assert said == "Tied by two instants. The clocks drift apart by +0 ms per minute."
    page = client.get("/clips/1/beside/?with=2").text
    assert "Two cameras: tied" in page
    assert "Tied by 2 instants" in page
    assert '<optgroup label="Second camera">' in page
    assert post(client, "untie") == (200, "No longer tied. Marks stay where they are.")
    assert "Two cameras: tied" not in client.get("/clips/1/beside/?with=2").text


@pytest.mark.parametrize(
    ("values", "words"),
    [
        ({"frame": 900, "at": 1}, "not in the film"),
        ({"frame": 5, "at": -1}, "not in the film"),
        ({"frame": 5, "at": 5, "with": 1}, "These films come from one"),
        ({"frame": 5, "at": 5, "with": "model"}, "These films come from one"),
    ],
)
def test_what_cannot_be_tied_is_said(
    client: FlaskClient, two: list[int], values: dict[str, object], words: str
) -> None:
    status, said = post(client, "tie", **values)
    assert status == 422
    assert words in said


def test_films_without_a_sound_in_common_say_so(
    client: FlaskClient, two: list[int], settings: Settings
) -> None:
    (settings.copies / "2.m4a").write_bytes((settings.copies / "1.m4a").read_bytes())
    found = client.get("/clips/1/beside/by-sound.json?with=2").json
    assert found["at"] == pytest.approx(2 * found["frame"], abs=1)
    (settings.copies / "2.m4a").unlink()
    refused = client.get("/clips/1/beside/by-sound.json?with=2", headers=JSON)
    assert refused.status_code == 422
    assert "has no sound" in refused.json["sentence"]
    model = client.get("/clips/1/beside/by-sound.json?with=model", headers=JSON)
    assert "makes no sound" in model.json["sentence"]
