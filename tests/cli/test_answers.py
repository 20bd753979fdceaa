"""`norvik judge`, `change` and `prescribe`: the core's answers as JSON, held by their schemas."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner, Result
from jsonschema import Draft202012Validator

from norvik.catalogue import load
from norvik.cli import main
from norvik.core.strokes import STROKES
from norvik.formats.events_csv import write_events
from norvik.model.dials import usual_swim
from norvik.model.schedule import schedule


def run(*args: object) -> Result:
    return CliRunner().invoke(main, [str(a) for a in args])


def events(folder: Path, name: str, stroke: str = "freestyle", rate: float = 30.0,
           **dials: float) -> Path:  # fmt: skip
    swim = replace(usual_swim(stroke, rate, 3), variation=0.01, dials=dials)
    path = folder / f"{name}.csv"
    path.write_text(write_events(schedule(swim, 30).marks(0, 30)))
    return path


def answer(command: str, *args: object) -> Any:
    result = run(command, *args, "--frame-interval", 1 / 120, "--json")
    assert result.exit_code == 0, result.output
    found = json.loads(result.stdout)
    schema = json.loads(run(command, "--schema").stdout)
    Draft202012Validator.check_schema(schema)
    Draft202012Validator(schema).validate(found)
    assert not Draft202012Validator(schema).is_valid({**found, "version": 2})
    return found


@pytest.mark.parametrize("stroke", STROKES)
def test_every_stroke_is_judged(stroke: str, tmp_path: Path) -> None:
    found = answer("judge", events(tmp_path, "a", stroke), "--stroke", stroke)
    assert (found["stroke"], found["level"]) == (stroke, "improver")
    assert [f for f in found["findings"] if f["kind"] == "fault"] == []
    assert any(f["kind"] == "strength" for f in found["findings"])
    for finding in found["findings"]:
        assert finding["degree"] is None
        assert finding["evidence"]


def test_a_fault_comes_with_its_evidence(tmp_path: Path) -> None:
    path = events(tmp_path, "a", overglide=1.0)
    found = answer("judge", path, "--stroke", "freestyle", "--marker", "none")
    (fault,) = (f for f in found["findings"] if f["kind"] == "fault")
    assert fault["id"] == "overglide"
    assert 0 < fault["degree"] <= 1
    share = fault["evidence"][0]
    assert (share["quantity"], share["limit"], share["verdict"]) == ("entry-share", 34.0, "fault")
    assert share["value"] > 34 + 2 * share["u"]
    # A school that wants no glide has another limit.
    strict = answer("judge", path, "--stroke", "freestyle", "--school", "glide=continuous")
    shown = next(f for f in strict["findings"] if f["id"] == "overglide")
    assert shown["evidence"][0]["limit"] == 27.0
    assert strict["schools"]["glide"] == "continuous"


def test_what_breaks_a_rule_is_a_rule(tmp_path: Path) -> None:
    tables = load("butterfly")
    assert any(f.rule for f in tables.faults.values())
    rows = ["time_s,lane,side,event,note", "0,wall,,push,", "9,course,,pass,17 m"]
    rows += [f"{t},leg,both,beat," for t in (0.5, 1.0, 1.5)]
    rows += [f"{8 + 1.2 * n},arm,,entry," for n in range(5)]
    rows[1:1] = ["8.5,wall,,breakout,"]
    path = tmp_path / "late.csv"
    path.write_text("\n".join(rows))
    found = run("judge", path, "--stroke", "butterfly", "--json", "--lenient",
                "--frame-interval", "0.01")  # fmt: skip
    kinds = {f["id"]: f["kind"] for f in json.loads(found.stdout)["findings"]}
    broken = [f for f in kinds if f in tables.faults and tables.faults[f].rule]
    assert all(kinds[f] in ("rule", "open", "watch") for f in broken)


def test_change_is_told_line_by_line(tmp_path: Path) -> None:
    before = events(tmp_path, "a", overglide=1.0)
    after = events(tmp_path, "b", rate=31.5)
    found = answer("change", before, after, "--stroke", "freestyle", "--focus", "overglide")
    lines = {line["id"]: line for line in found["lines"]}
    share = lines["entry-share"]
    assert (share["verdict"], share["worked_on"]) == ("better", True)
    assert share["difference"] == pytest.approx(share["after"] - share["before"])
    assert abs(share["difference"]) > share["smallest_real_change"] > 0
    low, high = share["interval95"]
    assert low < share["difference"] < high
    assert lines["rate"]["worked_on"] is False
    assert lines["rate"]["verdict"] in ("changed", "none")
    assert found["headline"]["better"] == sum(x["verdict"] == "better" for x in found["lines"])
    # One gap alone tells nothing, and says so.
    assert lines["kick-longest-gap"]["verdict"] == "unknown"
    assert lines["kick-longest-gap"]["smallest_real_change"] is None
    assert "kick-longest-gap" in found["reasons"]


def test_the_same_clip_has_not_changed(tmp_path: Path) -> None:
    path = events(tmp_path, "a")
    found = answer("change", path, path, "--stroke", "freestyle")
    assert {x["verdict"] for x in found["lines"]} <= {"none", "unknown"}
    assert found["headline"] == {"better": 0, "worse": 0, "changed": 0}


def test_drills_and_doses_that_suit(tmp_path: Path) -> None:
    path = events(tmp_path, "a", overglide=1.0)
    more = ("--stroke", "freestyle", "--marker", "none")
    found = answer("prescribe", path, *more)
    assert found["order"] == ["overglide"]
    (focus,) = found["focuses"]
    assert focus["fault"] == "overglide"
    tables = load("freestyle")
    for drill in focus["drills"]:
        low, high = tables.drills[drill["id"]].repeats
        assert low <= drill["repeats"] <= high
        assert drill["rest_s"] > 0
        assert 1 <= drill["effort"] <= 6
    assert {x["reason"] for x in focus["left_out"]} == {"needs a beeper"}
    with_beeper = answer("prescribe", path, *more, "--kit", "beeper")
    assert with_beeper["focuses"][0]["left_out"] == []
    sore = answer("prescribe", path, *more, "--pain", "shoulder")
    given = [tables.drills[d["id"]] for d in sore["focuses"][0]["drills"]]
    assert all("shoulder" not in (*d.loads, *d.not_with) for d in given)


@pytest.mark.parametrize(
    "more",
    [
        ("judge", "--school", "glide=maybe"),
        ("judge", "--school", "weather=wet"),
        ("judge", "--level", "olympic"),
        ("change", "--focus", "grace"),
        ("prescribe", "--pain", "ear"),
    ],
)
def test_unknown_words_are_usage_errors(more: tuple[str, ...], tmp_path: Path) -> None:
    path = events(tmp_path, "a")
    command, *rest = more
    paths = (path, path) if command == "change" else (path,)
    result = run(command, *paths, "--stroke", "freestyle", *rest)
    assert result.exit_code == 2
    assert "known" in result.stderr or "is not one of" in result.stderr


def test_in_words(tmp_path: Path) -> None:
    path = events(tmp_path, "a", overglide=1.0)
    said = run("judge", path, "--stroke", "freestyle", "--frame-interval", 1 / 120).stdout
    assert "Overgliding" in said
    assert "±" in said
    changed = run("change", path, events(tmp_path, "b"), "--stroke", "freestyle",
                  "--frame-interval", 1 / 120).stdout  # fmt: skip
    assert "smallest that could show" in changed
    drills = run("prescribe", path, "--stroke", "freestyle", "--frame-interval", 1 / 120,
                 "--pain", "shoulder").stdout  # fmt: skip
    assert "×" in drills
    assert "shoulder" in drills
