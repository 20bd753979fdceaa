"""Frames in equal frames out, in order, at their own times; bad files are refused whole."""

from __future__ import annotations

import json
import random
import subprocess
import wave
from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
import pytest
from click.testing import CliRunner

from norvik.cli import main
from norvik.core.errors import FootageError
from norvik.footage.fitting import fitted_size
from norvik.footage.frames import Losses, times_from
from norvik.footage.probe import probe
from norvik.footage.review_copy import make_review_copy
from norvik.footage.stills import frame_image
from tests.clips import numbered_clip, numbered_frame, read_number
from tests.footage.odd_files import irregular, numbers_in

CONSTANT = [n / 30 for n in range(75)]
SOURCES = {
    "constant": {"times_s": CONSTANT},
    "variable": {"times_s": irregular(200)},
    "240 frames/s": {"times_s": [n / 240 for n in range(120)], "options": {"g": "60"}},
    "larger than a copy": {"times_s": CONSTANT[:20], "size": (1600, 900)},
    "two frames": {"times_s": [0, 0.5]},
}


@pytest.mark.parametrize("name", SOURCES)
@pytest.mark.parametrize("ending", [".mp4", ".mkv"])
def test_every_frame_keeps_its_place_and_time(tmp_path: Path, name: str, ending: str) -> None:
    source = SOURCES[name]
    clip = numbered_clip(tmp_path / f"in{ending}", **source)  # type: ignore[arg-type]
    made = make_review_copy(clip, tmp_path / "out.mp4")
    width = source.get("size", (640, 360))[0]  # type: ignore[index]
    scale = made.width / width  # type: ignore[operator]
    times = np.array(source["times_s"])
    assert numbers_in(made.path, scale) == list(range(len(times)))
    # Matroska keeps milliseconds, MP4 what it was given.
    assert made.media_s == pytest.approx(times - times[0], abs=0.0011)
    assert made.losses.sentence() is None
    if len(times) > 2:
        assert list(tmp_path.glob("*.part")) == []


@pytest.mark.parametrize(
    ("codec", "ending"), [("mpeg4", ".avi"), ("libvpx", ".webm"), ("libx265", ".mov")]
)
def test_other_codecs_and_containers(tmp_path: Path, codec: str, ending: str) -> None:
    options = {"x265-params": "log-level=none"} if codec == "libx265" else {"b": "2M"}
    clip = numbered_clip(
        tmp_path / f"in{ending}", CONSTANT, codec=codec, options=options, clock=Fraction(1, 30)
    )
    made = make_review_copy(clip, tmp_path / "out.mp4")
    assert numbers_in(made.path) == list(range(75))
    assert made.media_s == pytest.approx(np.array(CONSTANT), abs=0.0011)


def test_a_clip_that_already_fits_is_used_as_it_is(tmp_path: Path) -> None:
    first = make_review_copy(numbered_clip(tmp_path / "in.mp4", CONSTANT), tmp_path / "copy.mp4")
    assert first.copied
    again = make_review_copy(first.path, tmp_path / "out.mp4")
    assert not again.copied
    assert again.path == first.path
    assert not (tmp_path / "out.mp4").exists()
    assert again.media_s.size == 75


def test_a_phones_portrait_clip_stands_upright(tmp_path: Path) -> None:
    upright = numbered_frame(5, 360, 640)
    for turned, degrees in ((np.rot90(upright), 90), (np.rot90(upright, -1), 270)):
        flat = tmp_path / "flat.mp4"
        with av.open(str(flat), "w") as target:
            stream = target.add_stream("libx264", rate=30)
            stream.width, stream.height, stream.pix_fmt = 640, 360, "yuv420p"
            picture = np.ascontiguousarray(turned)
            for _ in range(5):
                frame = av.VideoFrame.from_ndarray(picture, format="rgb24")
                target.mux(stream.encode(frame))
            target.mux(stream.encode(None))
        clip = tmp_path / "phone.mp4"
        _set_rotation(flat, clip, degrees)
        facts = probe(clip).as_dict()
        assert (facts["width"], facts["height"]) == (360, 640)
        assert facts["rotation_deg"] == degrees
        made = make_review_copy(clip, tmp_path / "out.mp4")
        image = frame_image(made.path, made.rate, 2)
        assert image.shape[:2] == (640, 360)
        assert read_number(image) == 5


def _set_rotation(source: Path, out: Path, degrees: int) -> None:
    """Write the display matrix into the track header (ISO/IEC 14496-12, 8.3.2).

    On its own here: what the model swimmer writes is not checked with the model's own code.
    """
    data = bytearray(source.read_bytes())
    at = data.index(b"tkhd") + 4
    matrix = at + (52 if data[at] == 1 else 40)
    one = 1 << 16
    a, b, c, d = {90: (0, one, -one, 0), 270: (0, -one, one, 0)}[degrees]
    values = (a, b, 0, c, d, 0, 0, 0, 1 << 30)
    data[matrix : matrix + 36] = b"".join(v.to_bytes(4, "big", signed=True) for v in values)
    out.write_bytes(data)


def test_a_cut_off_file_keeps_its_good_frames_and_says_so(tmp_path: Path) -> None:
    clip = numbered_clip(tmp_path / "in.mkv", CONSTANT)
    cut = tmp_path / "cut.mkv"
    cut.write_bytes(clip.read_bytes()[: clip.stat().st_size * 2 // 3])
    made = make_review_copy(cut, tmp_path / "out.mp4")
    numbers = numbers_in(made.path)
    assert 10 < len(numbers) < 75
    assert numbers == list(range(len(numbers)))


def test_damage_in_the_middle_loses_only_what_is_damaged(tmp_path: Path) -> None:
    clip = numbered_clip(
        tmp_path / "in.mp4", CONSTANT, options={"g": "5", "preset": "ultrafast", "bf": "0"}
    )
    data = bytearray(clip.read_bytes())
    with av.open(str(clip)) as container:
        packets = [p for p in container.demux(video=0) if p.size]
    for p in packets[30:32]:
        assert p.pos is not None
        data[p.pos + 4 : p.pos + p.size] = b"\xff" * (p.size - 4)
    broken = tmp_path / "broken.mp4"
    broken.write_bytes(data)
    made = make_review_copy(broken, tmp_path / "out.mp4")
    assert "damaged" in (made.losses.sentence() or "")
    with av.open(str(made.path)) as container:
        frames = list(container.decode(video=0))
    assert len(frames) == made.media_s.size >= 65
    last = read_number(frames[-1].to_ndarray(format="rgb24"))
    assert last == 74
    assert made.media_s[-1] == pytest.approx(74 / 30, abs=1e-3)


def bad_files(folder: Path) -> dict[str, Path]:
    text = folder / "list.mp4"
    neighbour = numbered_clip(folder / "neighbour.mp4", CONSTANT[:10])
    text.write_text(f"ffconcat version 1.0\nfile {neighbour.name}\n")
    empty = folder / "empty.mp4"
    empty.touch()
    picture = folder / "picture.mp4"
    cv2.imwrite(str(folder / "p.png"), numbered_frame(1))
    picture.write_bytes((folder / "p.png").read_bytes())
    sound = folder / "sound.wav"
    with wave.open(str(sound), "wb") as w:
        w.setnchannels(1)
        w.setsampwidth(2)
        w.setframerate(8000)
        w.writeframes(bytes(16000))
    song = folder / "song.mp4"
    with av.open(str(song), "w") as target:
        stream = target.add_stream("aac", rate=8000)
        for n in range(8):
            frame = av.AudioFrame.from_ndarray(
                np.zeros((1, 1024), np.float32), format="fltp", layout="mono"
            )
            frame.sample_rate, frame.pts = 8000, n * 1024
            target.mux(stream.encode(frame))
        target.mux(stream.encode(None))
    no_end = folder / "no-end.mp4"
    no_end.write_bytes(neighbour.read_bytes()[: neighbour.stat().st_size // 2])
    noise = folder / "noise.mov"
    noise.write_bytes(random.Random(1).randbytes(20_000))
    return {
        "a list of other files": text,
        "nothing in it": empty,
        "a renamed picture": picture,
        "a sound file": sound,
        "sound alone in a film's container": song,
        "cut off before its index": no_end,
        "noise": noise,
        "not there": folder / "none.mp4",
    }


def test_bad_files_get_a_sentence_and_leave_nothing(tmp_path: Path) -> None:
    files = bad_files(tmp_path)
    before = set(tmp_path.iterdir())
    for name, path in files.items():
        with pytest.raises(FootageError) as caught:
            make_review_copy(path, tmp_path / "out.mp4")
        assert caught.value.sentence.endswith("."), name
        assert "Error" not in caught.value.sentence, name
        for command in (["probe", str(path)], ["review-copy", str(path), str(tmp_path / "o.mp4")]):
            result = CliRunner().invoke(main, command)
            assert result.exit_code == 1, name
            assert len(result.stderr.strip().splitlines()) == 1, name
            assert result.stdout == ""
    assert set(tmp_path.iterdir()) == before


def test_a_failing_copy_keeps_an_older_good_one(tmp_path: Path) -> None:
    good = numbered_clip(tmp_path / "in.mp4", CONSTANT)
    out = tmp_path / "out.mp4"
    assert CliRunner().invoke(main, ["review-copy", str(good), str(out)]).exit_code == 0
    kept = out.read_bytes(), (tmp_path / "out.frames.csv").read_text()

    def stop(done: int, of: int | None) -> None:
        if done > 20:
            raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        make_review_copy(good, out, stop)
    bad = tmp_path / "bad.mp4"
    bad.write_bytes(b"no film")
    assert CliRunner().invoke(main, ["review-copy", str(bad), str(out)]).exit_code == 1
    assert (out.read_bytes(), (tmp_path / "out.frames.csv").read_text()) == kept
    assert list(tmp_path.glob("*.part")) == []


def test_review_copy_command_writes_the_frame_table(tmp_path: Path) -> None:
    times = irregular(60)
    clip = numbered_clip(tmp_path / "in.mp4", times)
    out = tmp_path / "copy.of it.mp4"
    assert CliRunner().invoke(main, ["review-copy", str(clip), str(out)]).exit_code == 0
    rows = (tmp_path / "copy.of it.frames.csv").read_text().splitlines()
    assert rows[0] == "frame,time_s"
    assert [int(r.split(",")[0]) for r in rows[1:]] == list(range(60))
    assert [float(r.split(",")[1]) for r in rows[1:]] == pytest.approx(times, abs=1e-4)


def test_probe_json(tmp_path: Path) -> None:
    constant = numbered_clip(tmp_path / "c.mp4", CONSTANT)
    variable = numbered_clip(tmp_path / "v.mp4", irregular(100))
    facts = json.loads(CliRunner().invoke(main, ["probe", str(constant), "--json"]).stdout)
    assert facts["frames"] == 75
    assert facts["duration_s"] == pytest.approx(2.5)
    assert facts["rate_fps"] == pytest.approx(30)
    assert facts["constant_rate"] is True
    assert facts["codec"] == "h264"
    assert facts["frame_interval_s"]["median"] == pytest.approx(1 / 30)
    facts = json.loads(CliRunner().invoke(main, ["probe", str(variable), "--json"]).stdout)
    assert facts["constant_rate"] is False
    assert facts["frames"] == 100


def test_times_without_or_with_repeated_timestamps() -> None:
    losses = Losses()
    times = times_from([0, 10, 10, 30, None], Fraction(1, 100), losses)
    assert np.all(np.diff(times) > 0)
    assert times[[0, 1, 3]] == pytest.approx([0, 0.1, 0.3])
    assert "estimated" in (losses.sentence() or "")
    # Some AVI files give them out of order although the pictures are in order.
    assert times_from([0, 20, 10, 30], Fraction(1, 100), Losses()) == pytest.approx(
        [0, 0.1, 0.2, 0.3]
    )
    with pytest.raises(FootageError, match="no times"):
        times_from([None, None], Fraction(1, 100), Losses())
    with pytest.raises(FootageError, match="no picture"):
        times_from([], Fraction(1, 100), Losses())


@pytest.mark.parametrize(
    ("size", "fitted"),
    [((1920, 1080), (1280, 720)), ((1080, 1920), (720, 1280)), ((640, 360), (640, 360)),
     ((7680, 4320), (1280, 720)), ((321, 181), (320, 180)), ((4000, 3), (1280, 2))],
)  # fmt: skip
def test_fitted_size(size: tuple[int, int], fitted: tuple[int, int]) -> None:
    assert fitted_size(*size) == fitted


def test_stills_show_the_asked_frame(tmp_path: Path) -> None:
    made = make_review_copy(numbered_clip(tmp_path / "in.mp4", irregular(80)), tmp_path / "o.mp4")
    for n in (0, 1, 7, 8, 9, 40, 79):
        assert read_number(frame_image(made.path, made.rate, n)) == n
    with pytest.raises(FootageError, match="no frame 80"):
        frame_image(made.path, made.rate, 80)


def test_importing_opens_and_makes_nothing(tmp_path: Path) -> None:
    code = "import norvik.web, norvik.jobs.worker, norvik.cli"
    import sys

    result = subprocess.run(
        [sys.executable, "-c", code], cwd=tmp_path, capture_output=True, check=True, text=True
    )
    assert result.stdout + result.stderr == ""
    assert list(tmp_path.iterdir()) == []
