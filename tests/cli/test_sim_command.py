"""`norvik sim`: files beside each other, and refusals."""

from __future__ import annotations

import json
from pathlib import Path

import av
import pytest
from click.testing import CliRunner

from norvik.cli import main


def test_a_filmed_swim_can_be_timed(tmp_path: Path) -> None:
    out = tmp_path / "back.mp4"
    result = CliRunner().invoke(
        main,
        ["sim", str(out), "--stroke", "backstroke", "--view", "overhead", "--rate", "40", "--fps",
         "30", "--seconds", "3.5", "--seed", "5", "--fault", "back-cross=0.6"],
    )  # fmt: skip
    assert result.exit_code == 0, result.output
    truth = json.loads((tmp_path / "back.truth.json").read_text())
    assert truth["build"]["dials"] == {"back-cross": 0.6}
    assert len(truth["angles_deg"]["left_elbow"]) == 105
    timed = CliRunner().invoke(
        main, ["timing", str(tmp_path / "back.events.csv"), "--stroke", "backstroke", "--json"]
    )
    assert json.loads(timed.stdout)["rate"]["cycles_per_min"] == pytest.approx(40, abs=1.5)


@pytest.mark.parametrize(
    "options",
    [
        ["--fault", "made-up=1"],
        ["--fault", "crossing=lots"],
        ["--fault", "crossing=2"],
        ["--stroke", "butterfly", "--fault", "crossing"],
        ["--stroke", "sidestroke"],
        ["--view", "inside"],
        ["--rate", "0"],
        ["--seconds", "0"],
        ["--drill", "made-up"],
        ["--drill", "catch-up", "--haze", "0.5"],
        ["--drill", "catch-up", "--style", "filmlike"],
    ],
)
def test_usage_errors(tmp_path: Path, options: list[str]) -> None:
    assert CliRunner().invoke(main, ["sim", str(tmp_path / "a.mp4"), *options]).exit_code == 2
    assert list(tmp_path.iterdir()) == []


@pytest.mark.parametrize("drill", ["board-dolphin", "bench-paddle-1", "start-line", "eggbeater"])
def test_a_drill_is_filmed(tmp_path: Path, drill: str) -> None:
    out = tmp_path / "drill.mp4"
    result = CliRunner().invoke(
        main, ["sim", str(out), "--drill", drill, "--fps", "10", "--seconds", "1"]
    )
    assert result.exit_code == 0, result.output
    truth = json.loads((tmp_path / "drill.truth.json").read_text())
    assert truth["drill"] == drill
    assert len(truth["frame_times_s"]) == 10
    with av.open(str(out)) as film:
        frames = [f.to_ndarray(format="bgr24") for f in film.decode(video=0)]
    assert len(frames) == 10
    # The head is in the picture, and its cap is painted there.
    x, y = truth["joints_px"]["crown"][0]
    blue, _, red = (
        float(v) for v in frames[0][int(y) - 6 : int(y) + 30, int(x) - 30 : int(x) + 30]
        .reshape(-1, 3).astype(float)[:, [0, 1, 2]].max(axis=0)
    )  # fmt: skip
    assert 0 < x < 1280
    assert 0 < y < 720
    assert red > blue * 0.8
    assert (tmp_path / "drill.events.csv").read_text() == "frame,time_s,lane,side,event,note\n"
