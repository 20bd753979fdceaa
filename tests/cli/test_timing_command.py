"""`norvik timing`: shape of the object, exit codes, problems on standard error."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner, Result
from jsonschema import Draft202012Validator

from norvik.cli import main
from norvik.core.strokes import STROKES
from norvik.formats.events_csv import write_events
from norvik.model.dials import usual_swim
from norvik.model.schedule import schedule

ROWS = """time_s,lane,side,event,frame
0.0,arm,right,entry,0
0.3,arm,left,exit,18
0.5,arm,right,press,30
0.8,arm,left,entry,48
1.1,arm,right,exit,66
1.3,arm,left,press,78
1.6,arm,right,entry,96
1.9,arm,left,exit,114
2.1,arm,right,press,126
2.4,arm,left,entry,144
2.5,breath,right,air,150
"""


@pytest.fixture
def events(tmp_path: Path) -> Path:
    path = tmp_path / "events.csv"
    path.write_text(ROWS)
    return path


def run(*args: object) -> Result:
    return CliRunner().invoke(main, ["timing", *map(str, args)])


def test_json_object(events: Path) -> None:
    result = run(events, "--stroke", "freestyle", "--json")
    assert result.exit_code == 0
    found = json.loads(result.stdout)
    assert list(found) == [
        "stroke", "frame_interval_s", "cycles", "rate", "phases", "phases4", "symmetry_pct",
        "coordination", "rhythm_pct", "front_quadrant", "hold_distance_m", "breathing", "kick",
        "legs", "gaps", "walls", "speed", "fly_gaps", "quantities", "problems",
        "reasons", "uncertainty", "u_clip", "u_swimmer", "dof", "k95", "version",
    ]  # fmt: skip
    assert found["frame_interval_s"] == pytest.approx(1 / 60)
    assert found["cycles"]["count"] == 2
    assert found["rate"]["strokes_per_min"] == pytest.approx(75)
    assert found["coordination"]["index_pct"] == pytest.approx(-12.5)
    assert found["legs"] is None
    assert set(found["phases"]) == {"left", "right", "both"}
    assert found["phases"]["right"]["catch"] is None
    assert found["walls"] == []


@pytest.mark.parametrize("stroke", STROKES)
def test_the_object_is_as_its_schema_says(stroke: str, tmp_path: Path) -> None:
    """Held by jsonschema, a library that knows nothing of the product."""
    schema = json.loads(run("--schema").stdout)
    Draft202012Validator.check_schema(schema)
    path = tmp_path / "events.csv"
    path.write_text(write_events(schedule(usual_swim(stroke, 36.0, 3), 20).marks(0, 20)))
    printed = run(path, "--stroke", stroke, "--json", "--pool", "25")
    assert printed.exit_code == 0, printed.output
    found = json.loads(printed.stdout)
    Draft202012Validator(schema).validate(found)
    assert found["quantities"]
    broken = {**found, "rate": {"cycles_per_min": "fast"}}
    assert not Draft202012Validator(schema).is_valid(broken)


def nulls(value: Any, path: str = "") -> list[str]:
    if value is None:
        return [path]
    if isinstance(value, dict):
        return [p for k, v in value.items() for p in nulls(v, f"{path}.{k}".lstrip("."))]
    if isinstance(value, list):
        return [p for n, v in enumerate(value) for p in nulls(v, f"{path}.{n}")]
    return []


@pytest.mark.parametrize("stroke", ["freestyle", "backstroke", "breaststroke", "butterfly"])
def test_every_null_has_a_reason(tmp_path: Path, stroke: str) -> None:
    path = tmp_path / "events.csv"
    side, first = {"breaststroke": ("", "out"), "butterfly": ("", "entry")}.get(
        stroke, ("left", "entry")
    )
    path.write_text(
        f"time_s,lane,side,event\n0,arm,{side},{first}\n1.5,arm,{side},{first}\n2,wall,,touch\n"
    )
    found = json.loads(run(path, "--stroke", stroke, "--json").stdout)
    reasons = found.pop("reasons")
    for path_of_null in nulls(found):
        parts = path_of_null.split(".")
        assert any(".".join(parts[:n]) in reasons for n in range(1, len(parts) + 1)), path_of_null
    two_arms = stroke in ("freestyle", "backstroke")
    assert (found["coordination"] is None) is not two_arms
    assert (found["phases4"] is None) is (stroke == "breaststroke")
    assert (found["legs"] is None) is (stroke != "breaststroke")


def test_bad_rows_and_problems_go_to_standard_error_and_into_the_object(events: Path) -> None:
    events.write_text(ROWS + "2.6,arm,sideways,entry,1\n2.65,arm,left,entry,159\n")
    result = run(events, "--stroke", "freestyle", "--json")
    assert result.exit_code == 3
    assert run(events, "--stroke", "freestyle", "--json", "--lenient").exit_code == 0
    assert "1 of the rows could not be read" in result.stderr
    assert "row 13: unknown side" in result.stderr
    assert "row 14: a second hand entry" in result.stderr
    assert [p["row"] for p in json.loads(result.stdout)["problems"]] == [13, 14]


def test_rows_fine_but_no_whole_cycle_gives_nulls(tmp_path: Path) -> None:
    path = tmp_path / "events.csv"
    path.write_text("time_s,lane,side,event\n1,arm,left,entry\n")
    result = run(path, "--stroke", "freestyle", "--json")
    assert result.exit_code == 0
    assert json.loads(result.stdout)["rate"]["cycles_per_min"] is None


@pytest.mark.parametrize(
    "text", ["", "time_s,lane\n", "time_s,lane,side,event\n", "time_s,lane,side,event\nx,y,z,w\n"]
)
def test_nothing_usable_is_one_sentence_and_exit_1(tmp_path: Path, text: str) -> None:
    path = tmp_path / "events.csv"
    path.write_text(text)
    result = run(path, "--stroke", "freestyle", "--json")
    assert result.exit_code == 1
    assert result.stdout == ""
    assert result.stderr.strip()


@pytest.mark.parametrize(
    "more",
    [
        ["--stroke", "crawl"],
        [],
        ["--stroke", "freestyle", "--frame-interval", "0"],
        ["--stroke", "freestyle", "--frame-interval", "nan"],
        ["--stroke", "freestyle", "--pool", "-25"],
    ],
)
def test_usage_errors_exit_2(events: Path, more: list[str]) -> None:
    assert run(events, *more).exit_code == 2


def test_a_missing_file_is_a_usage_error(tmp_path: Path) -> None:
    assert run(tmp_path / "none.csv", "--stroke", "freestyle").exit_code == 2


def test_two_plus_minus_and_the_frames_alone(tmp_path: Path) -> None:
    path = tmp_path / "events.csv"
    path.write_text(write_events(schedule(usual_swim("freestyle", 36.0, 3), 20).marks(0, 20)))
    more = (path, "--stroke", "freestyle", "--frame-interval", 1 / 60, "--json")
    both, alone = (
        json.loads(run(*more, "--marker", marker).stdout) for marker in ("default", "none")
    )
    rate = "rate.cycles_per_min"
    assert both["u_clip"][rate] == pytest.approx(both["rate"]["u_cycles_per_min"])
    assert both["u_clip"] == both["uncertainty"]
    # D / sqrt(6) for each of the two stretches of cycles.
    cycles, cycle_s = alone["cycles"]["count"], alone["cycles"]["time_s"]["mean"]
    expected = 60 / cycle_s * math.sqrt(2) / 60 / math.sqrt(6) / (cycles * cycle_s)
    assert alone["u_clip"][rate] == pytest.approx(expected)
    # 10 ms of spread on the grid's 4.8 ms.
    grid = 1000 / 60 / math.sqrt(12)
    marked = math.hypot(grid, max(10, 0.7 * 1000 / 60))
    assert both["u_clip"][rate] / alone["u_clip"][rate] == pytest.approx(marked / grid)
    assert set(both["u_swimmer"]) == set(both["dof"]) <= set(both["k95"]) == set(both["u_clip"])
    assert both["u_swimmer"][rate] >= both["u_clip"][rate]
    assert both["k95"]["kick.longest_gap_s"] == 2.0  # one gap alone has no spread of its own
    own = tmp_path / "own.json"
    own.write_text('{"version": 1, "families": {"water": {"spread_ms": 40}}}')
    found = json.loads(run(*more, "--marker", own).stdout)
    assert found["u_clip"][rate] / alone["u_clip"][rate] == pytest.approx(
        math.hypot(grid, 40) / grid
    )
    own.write_text('{"version": 1, "families": {"feet": {}}}')
    refused = run(*more, "--marker", own)
    assert refused.exit_code == 2
    assert "Unknown family" in refused.stderr
    assert run(*more, "--marker", "none-such").exit_code == 2


@pytest.mark.parametrize(
    ("name", "data"),
    [
        ("semicolons", "time_s;lane;side;event\r\n0,25;arm;left;entry\r\n1,5;arm;left;entry\r\n"),
        ("tabs", "time_s\tlane\tside\tevent\n0.25\tarm\tleft\tentry\n1.5\tarm\tleft\tentry\n"),
        ("said", "sep=;\ntime_s;lane;side;event\n0,25;arm;left;entry\n1,5;arm;left;entry\n"),
        ("quoted", 'time_s,lane,side,event\n"0,25",arm,left,entry\n"1,5",arm,left,entry\n'),
    ],
)
@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16"])
def test_what_spreadsheet_programs_save_is_read(
    tmp_path: Path, name: str, data: str, encoding: str
) -> None:
    path = tmp_path / f"{name}.csv"
    path.write_bytes(data.encode(encoding))
    result = run(path, "--stroke", "freestyle", "--json")
    assert result.exit_code == 0, result.output
    assert json.loads(result.stdout)["cycles"]["time_s"]["mean"] == pytest.approx(1.25)


def test_an_old_encoding_is_named_or_told(tmp_path: Path) -> None:
    path = tmp_path / "events.csv"
    path.write_bytes("time_s,lane,side,event,note\n0,arm,left,entry,Übung\n".encode("cp1252"))
    refused = run(path, "--stroke", "freestyle")
    assert refused.exit_code == 1
    assert "UTF-8" in refused.stderr
    assert run(path, "--stroke", "freestyle", "--encoding", "cp1252").exit_code == 0


def test_standard_input_and_pools_in_thirds(events: Path) -> None:
    piped = CliRunner().invoke(
        main, ["timing", "-", "--stroke", "freestyle", "--pool", "33 1/3", "--json"], input=ROWS
    )
    assert piped.exit_code == 0, piped.output
    assert json.loads(piped.stdout)["cycles"]["count"] == 2
    assert run(events, "--stroke", "freestyle", "--pool", "33 1/0").exit_code == 2


def test_plain_output_names_units(events: Path) -> None:
    result = run(events, "--stroke", "freestyle")
    assert "cycles/min" in result.stdout
    assert "strokes/min" in result.stdout
    assert "catch-up" in result.stdout
