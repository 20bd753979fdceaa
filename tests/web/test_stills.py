"""Stills with their drawings: kept, worded, at the source's size, in the review, as a series."""

from __future__ import annotations

import base64
import re
from pathlib import Path
from xml.etree import ElementTree

import cv2
import numpy as np
import pytest
from flask.testing import FlaskClient
from numpy.typing import NDArray

from norvik.settings import Settings
from norvik.store import marks
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.clips import numbered_clip
from tests.conftest import BroughtIn
from tests.web.judged import review

ARM = {
    "kind": "measure",
    "name": "elbow-angle",
    "side": "right",
    "points": "300,300 600,300 600,500",
}
SVG = "{http://www.w3.org/2000/svg}"


@pytest.fixture(scope="module")
def film(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Larger than a review copy: 1920x1080."""
    path = tmp_path_factory.mktemp("film") / "film.mp4"
    return numbered_clip(path, [n / 30 for n in range(40)], size=(1920, 1080))


@pytest.fixture
def clip(client: FlaskClient, settings: Settings, film: Path, brought_in: BroughtIn) -> int:
    return brought_in(settings, [Swimmer("Tilde Vassholm")], (film, {"view": "side-under"}))[0]


def picture(data: bytes) -> NDArray[np.uint8]:
    made = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)
    assert made is not None
    return np.asarray(made, np.uint8)


def number_in(image: NDArray[np.uint8]) -> int:
    """The frame's number, which tests/clips.py writes into its upper edge, in squares of 16."""
    scale = image.shape[1] / 1920
    bits = [image[int(8 * scale), int((bit + 1.5) * 16 * scale)].mean() > 128 for bit in range(16)]
    return int("".join(str(int(b)) for b in bits), 2)


def test_a_still_has_the_sources_size_its_frame_and_its_drawing(
    client: FlaskClient, clip: int
) -> None:
    client.post(f"/clips/{clip}/drawings/", data={**ARM, "frame": 17})
    plain = picture(client.get(f"/clips/{clip}/stills/16.png").data)
    drawn = picture(client.get(f"/clips/{clip}/stills/17.png").data)
    assert plain.shape[:2] == drawn.shape[:2]
    assert plain.shape[1] == 1920
    assert plain.shape[0] > 1080  # the caption stands below the picture
    assert (number_in(plain), number_in(drawn)) == (16, 17)
    # The line from shoulder to elbow, in the amber of what means nothing yet.
    blue, green, red = map(int, drawn[300, 450])
    assert red > 200
    assert green > 130
    assert blue < 90
    assert abs(int(plain[300, 450].mean()) - int(drawn[300, 450].mean())) > 20


def test_an_svg_stands_by_itself(client: FlaskClient, clip: int) -> None:
    client.post(f"/clips/{clip}/drawings/", data={**ARM, "frame": 17})
    answer = client.get(f"/clips/{clip}/stills/17.svg?save=1")
    assert answer.mimetype == "image/svg+xml"
    assert 'filename="still-' in answer.headers["Content-Disposition"]
    root = ElementTree.fromstring(answer.data)
    assert root.get("width") == "1920"
    words = ["".join(t.itertext()) for t in root.iter(f"{SVG}text")]
    assert "90°" in words
    assert any("Right elbow angle in the pull: 90° ± " in w for w in words)
    assert any(w.startswith("Tilde Vassholm, freestyle, 2026-11-20, 0.57 s") for w in words)
    image = next(root.iter(f"{SVG}image")).get("href") or ""
    assert picture(base64.b64decode(image.split(",")[1])).shape[:2] == (1080, 1920)
    outside = re.findall(rb"https?://[^\"' ]+", answer.data)
    assert set(outside) == {b"http://www.w3.org/2000/svg"}


def test_stills_are_kept_worded_and_taken_out(client: FlaskClient, clip: int) -> None:
    client.post(f"/clips/{clip}/drawings/", data={**ARM, "frame": 17})
    url = f"/clips/{clip}/stills/"
    assert "added to the review" in client.post(url, data={"frame": 17}).text
    assert "is already in the review" in client.post(url, data={"frame": 17}).text
    page = client.get(review(client, clip)).text
    assert "Right elbow angle in the pull: 90°" in page
    assert f"/clips/{clip}/stills/17.jpg" in page
    client.post(f"{url}1/caption", data={"caption": "Hold this shape"})
    page = client.get(review(client, clip)).text
    assert "Hold this shape" in page
    assert "elbow angle in the pull: 90°" not in page
    one_file = client.get(f"{review(client, clip)}file").text
    assert "Hold this shape" in one_file
    assert "/stills/" not in one_file
    assert client.post(f"{url}1/caption", data={"caption": "x" * 301}).status_code == 422
    assert client.post(url, data={"frame": 900}).status_code == 422
    assert client.get(f"{url}900.png").status_code == 404
    client.post(f"{url}1/delete")
    assert 'id="stills"' not in client.get(review(client, clip)).text


def test_a_series_shows_the_events_of_one_cycle(
    client: FlaskClient, clip: int, settings: Settings
) -> None:
    url = f"/clips/{clip}/stills/series.svg?side=right&frame="
    assert client.get(url + "5").status_code == 422
    with connected(settings.database) as connection:
        for frame, event in ((2, "entry"), (8, "catch"), (11, "press"), (17, "exit"),
                             (26, "entry")):  # fmt: skip
            marks.place(connection, clip, None, frame, "arm", "right", event)
    root = ElementTree.fromstring(client.get(url + "5").data)
    words = ["".join(t.itertext()) for t in root.iter(f"{SVG}text")]
    assert words[:4] == [
        "entry  0.00 s, 0 % of the cycle", "catch  0.20 s, 25 % of the cycle",
        "press  0.30 s, 38 % of the cycle", "exit  0.50 s, 62 % of the cycle",
    ]  # fmt: skip
    images = [picture(base64.b64decode((i.get("href") or "").split(",")[1]))
              for i in root.iter(f"{SVG}image")]  # fmt: skip
    assert [number_in(i) for i in images] == [2, 8, 11, 17]
    sheet = picture(client.get(url.replace(".svg", ".png") + "5").data)
    assert sheet.shape[1] == 3 * 640


def test_without_the_original_the_review_copy_serves(
    client: FlaskClient, clip: int, settings: Settings
) -> None:
    for path in (settings.data / "originals").rglob("*.mp4"):
        path.unlink()
    found = picture(client.get(f"/clips/{clip}/stills/17.png").data)
    assert found.shape[1] == 1920
    assert number_in(found) == 17
