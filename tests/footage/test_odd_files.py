"""Odd files keep every frame, in order; copies that grow; what is gathered along the way."""

from __future__ import annotations

import base64
from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
import pytest

from norvik.core.frame.levels import Levels
from norvik.footage import review_copy as module
from norvik.footage.camera_metadata import camera_metadata
from norvik.footage.opening import open_footage
from norvik.footage.packets import packet_list
from norvik.footage.review_copy import ReviewCopy, make_review_copy
from norvik.footage.sound import extract_sound
from norvik.footage.strip import HEIGHT, StripMaker
from tests.clips import add_sound, numbered_clip, read_number
from tests.footage.odd_files import ODD_FILES, numbers_in


@pytest.mark.parametrize("name", ODD_FILES)
def test_frames_in_are_frames_out_in_order(tmp_path: Path, name: str) -> None:
    source, expected, width = ODD_FILES[name](tmp_path)
    made = make_review_copy(source, tmp_path / "copy.mp4")
    assert numbers_in(made.path, made.width / width) == expected
    assert made.media_s.size == len(expected)
    assert made.media_s[0] == 0
    assert np.all(np.diff(made.media_s) > 0)
    assert max(made.width, made.height) <= 1280
    if name == "repeated timestamps":
        assert made.losses.times_estimated == 1
    if name == "three hours":
        assert made.media_s[-1] == pytest.approx(3 * 3600)
    if name == "pixels that are not square":
        assert made.source.width == 1280


@pytest.fixture(scope="module")
def long_clip(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("long") / "long.mp4"
    return numbered_clip(path, [n / 60 for n in range(400)], options={"g": "250", "bf": "3"})


def test_a_long_recording_can_be_watched_from_its_beginning(
    tmp_path: Path, long_clip: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(module, "FIRST_STRETCH_S", 0.0)
    first = make_review_copy(long_clip, tmp_path / "copy.mp4", first_only=True)
    assert not first.whole
    assert first.path.name == f"copy-{first.media_s.size}.mp4"
    assert numbers_in(first.path) == list(range(first.media_s.size))
    assert [p.name for p in tmp_path.iterdir()] == [first.path.name]


def test_a_copy_grows_and_ends_whole(
    tmp_path: Path, long_clip: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(module, "NEXT_STRETCH_S", 0.0)
    stretches: list[ReviewCopy] = []
    whole = make_review_copy(long_clip, tmp_path / "copy.mp4", on_stretch=stretches.append)
    assert stretches
    assert numbers_in(whole.path) == list(range(400))
    for made in stretches:
        count = made.media_s.size
        assert numbers_in(made.path) == list(range(count))
        # What was marked on a beginning holds in the whole: same frames, same times.
        assert np.allclose(made.media_s, whole.media_s[:count])
    assert not list(tmp_path.glob("*.part"))


def test_a_browser_can_take_the_copy_apart(tmp_path: Path, long_clip: Path) -> None:
    made = make_review_copy(long_clip, tmp_path / "copy.mp4")
    packets = packet_list(made.path)
    data = made.path.read_bytes()
    assert packets["codec"].startswith("avc1.")
    assert packets["keys"] == list(range(0, 400, 8))
    # Decode one frame in the middle as a browser does: from its key frame, by these bytes alone.
    decoder = av.CodecContext.create("h264", "r")
    decoder.extradata = base64.b64decode(packets["description"])
    pictures = []
    for n in range(200, 206):
        at = packets["position"][n]
        packet = av.Packet(data[at : at + packets["size"][n]])
        packet.pts, packet.time_base = n, Fraction(1, 60)
        pictures += decoder.decode(packet)
    pictures += decoder.decode(None)
    assert [read_number(p.to_ndarray(format="rgb24")) for p in pictures] == list(range(200, 206))


def test_the_strip_shows_the_frames_it_names(tmp_path: Path, long_clip: Path) -> None:
    for expected in (400, None):  # known beforehand, or thinned out on the way
        strip = StripMaker()
        strip.expect(expected)
        make_review_copy(long_clip, tmp_path / "copy.mp4", look=strip)
        saved = strip.save(tmp_path / "strip.jpg")
        assert saved is not None
        sheet, about = cv2.imread(str(tmp_path / "strip.jpg")), saved[0]
        assert about.height == HEIGHT
        assert about.count == -(-400 // about.every)
        for k in (0, about.count // 2, about.count - 1):
            x, y = k % about.columns * about.width, k // about.columns * about.height
            picture = sheet[y : y + about.height, x : x + about.width]
            assert read_number(picture[:, :, ::-1], about.width / 640) == k * about.every
    assert StripMaker().save(tmp_path / "none.jpg") is None


def test_levels_bring_a_flat_picture_back_and_leave_noise_alone() -> None:
    rng = np.random.default_rng(4)
    flat = rng.integers(100, 180, (40, 60, 3), dtype=np.uint8)
    flat[:, :, 2] = 20  # hardly any red under water
    levels = Levels.of([flat])
    for (slope, intercept), (low, high) in zip(
        levels.lines()[1:], ((100, 179), (100, 179)), strict=True
    ):
        assert slope * low / 255 + intercept == pytest.approx(0, abs=0.06)
        assert slope * high / 255 + intercept == pytest.approx(1, abs=0.06)
    assert levels.lines()[0][0] == pytest.approx(3.5, abs=0.01)
    assert Levels.from_list(levels.as_list()) == levels


def test_sound_is_kept_on_the_recordings_clock(tmp_path: Path) -> None:
    film = numbered_clip(tmp_path / "film.mp4", [n / 30 for n in range(60)])
    source = add_sound(film, tmp_path / "sound.mp4", 2.0, beep_s=1.0)
    assert extract_sound(source, tmp_path / "out.m4a", first_s=0.4)
    with av.open(str(tmp_path / "out.m4a")) as container:
        stream = container.streams.audio[0]
        rate = stream.rate
        blocks = [
            (float(f.pts * f.time_base), np.abs(f.to_ndarray()).max(axis=0))
            for f in container.decode(stream)
        ]
    at = next(start + np.argmax(b > 0.4) / rate for start, b in blocks if (b > 0.4).any())
    # The beep is heard 0.6 s after the first picture; AAC smears by less than a block.
    assert at == pytest.approx(0.6, abs=0.03)
    assert not extract_sound(film, tmp_path / "none.m4a", 0.0)
    assert not (tmp_path / "none.m4a").exists()


def test_what_a_camera_tells(tmp_path: Path) -> None:
    film = numbered_clip(tmp_path / "film.mp4", [n / 30 for n in range(10)])
    path = tmp_path / "tagged.mov"
    with av.open(str(film)) as source, av.open(
        str(path), "w", options={"movflags": "use_metadata_tags"}
    ) as target:  # fmt: skip
        target.metadata.update(
            {"com.android.capture.fps": "240.0", "creation_time": "2026-11-18T06:30:00Z"}
        )
        stream = target.add_stream_from_template(source.streams.video[0])
        for packet in source.demux(video=0):
            if packet.size:
                packet.stream = stream
                target.mux(packet)
    with open_footage(path) as source:
        found = camera_metadata(source)
    assert (found.rate_fps, found.day, found.stretch) == (240.0, "2026-11-18", 8.0)
    with open_footage(film) as source:
        assert camera_metadata(source).rate_fps is None
