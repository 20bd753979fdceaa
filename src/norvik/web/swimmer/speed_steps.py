"""Speed steps of a swimmer: every quantity against speed, one stroke and day together."""

from __future__ import annotations

from dataclasses import dataclass

from flask import Blueprint, render_template
from flask.typing import ResponseReturnValue

from norvik.core.followup.speed_steps import (
    Change,
    FrameRow,
    Row,
    Step,
    Value,
    changes,
    frame_rows,
    in_order,
    rate_unit,
    rows,
    step_of,
    strokes_a_minute,
)
from norvik.core.strokes import STROKES
from norvik.core.strokes.names import StrokeName
from norvik.store import clips
from norvik.store.clips import Clip
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.filters import number
from norvik.workflow.clip_on_frame import on_frame_of
from norvik.workflow.clip_timing import ClipTiming, time_clip

blueprint = Blueprint("speed_steps", __name__)

WIDTH, HEIGHT = 300, 170
_LEFT, _RIGHT, _TOP, _BOTTOM = 20, 20, 26, 30
#: What speed is made of is drawn even where it holds.
ALWAYS_DRAWN = ("Stroke rate", "Distance per cycle", "Stroke index")


@dataclass(frozen=True, slots=True)
class Point:
    """A value in the drawing. low, high: ends of its plus-minus, as y."""

    x: float
    y: float
    low: float
    high: float
    text: str


@dataclass(frozen=True, slots=True)
class Plot:
    """One quantity against speed. changes: by more than its uncertainty, or one of the first."""

    name: str
    unit: str
    changes: bool
    points: tuple[Point, ...]
    speeds: tuple[tuple[float, str], ...]
    width: int = WIDTH
    height: int = HEIGHT
    base: int = HEIGHT - _BOTTOM
    left: int = _LEFT
    right: int = WIDTH - _RIGHT


@dataclass(frozen=True, slots=True)
class StepTest:
    """The steps of one stroke on one day. missing: clips that cannot be placed, and why.

    frame_rows: measures on the frame, each with the frame of each step that shows it.
    """

    stroke: StrokeName
    day: str
    steps: tuple[tuple[Clip, Step], ...]
    rows: tuple[Row, ...]
    changes: tuple[Change, ...]
    plots: tuple[Plot, ...]
    frame_rows: tuple[tuple[FrameRow, tuple[int | None, ...]], ...]
    missing: tuple[tuple[Clip, str], ...]
    doubtful: bool


@blueprint.get("/swimmers/<int:swimmer_id>/steps")
def show(swimmer_id: int) -> ResponseReturnValue:
    found = [
        c
        for c in clips.newest_first(database(), swimmer_id)
        if c.role == "speed-step" and c.watchable
    ]
    groups: dict[tuple[str, StrokeName], list[Clip]] = {}
    for clip in found:
        groups.setdefault((clip.filmed_on, clip.stroke), []).append(clip)
    return render_template(
        "speed_steps/page.html",
        swimmer=asked.swimmer(swimmer_id),
        tests=[_test(day, stroke, group) for (day, stroke), group in groups.items()],
        strokes=STROKES,
        rate=strokes_a_minute,
        rate_unit=rate_unit,
    )


def _test(day: str, stroke: StrokeName, group: list[Clip]) -> StepTest:
    by_id, by_time, steps, missing, doubtful = {}, {}, [], [], False
    for clip in group:
        timed = time_clip(database(), clip)
        step = step_of(clip.id, timed.timing, clip.facts.pace_s)
        if step is None:
            rate = timed.timing.rate.cycles_per_min
            missing.append((clip, "no whole cycle is marked" if rate is None else
                            "neither its pace nor two passes are known"))  # fmt: skip
        else:
            by_id[clip.id], by_time[clip.id] = clip, timed
            steps.append(step)
            doubtful = doubtful or bool(timed.doubts)
    ordered = in_order(steps)
    table = rows(ordered) if len(ordered) > 1 else []
    times = [by_time[s.key] for s in ordered]
    taken = frame_rows([on_frame_of(database(), timed)[0] for timed in times])
    return StepTest(
        stroke=stroke,
        day=day,
        steps=tuple((by_id[s.key], s) for s in ordered),
        rows=tuple(table),
        changes=tuple(changes(ordered)),
        plots=tuple(_plot(row, ordered) for row in table),
        frame_rows=tuple(
            (
                row,
                tuple(
                    t.frame_of(at[0]) if at else None for t, at in zip(times, row.at_s, strict=True)
                ),
            )
            for row in taken
        ),
        missing=tuple(missing),
        doubtful=doubtful,
    )


def _plot(row: Row, steps: list[Step]) -> Plot:
    speeds = [s.speed.value for s in steps]
    slowest, fastest = min(speeds), max(speeds)
    known = [(s, v) for s, v in zip(speeds, row.values, strict=True) if v is not None]
    ends = [v.value + k * (v.u or 0.0) for _, v in known for k in (-2, 2)]
    low, high = min(ends), max(ends)
    room = max(high - low, 0.04 * abs(high), 1e-9) * 0.2
    low, high = low - room, high + room

    def x(speed: float) -> float:
        share = (speed - slowest) / (fastest - slowest) if fastest > slowest else 0.5
        return round(_LEFT + 14 + share * (WIDTH - _LEFT - _RIGHT - 28), 1)

    def y(value: float) -> float:
        return round(_TOP + (high - value) / (high - low) * (HEIGHT - _TOP - _BOTTOM), 1)

    def point(speed: float, v: Value) -> Point:
        reach = 2 * (v.u or 0.0)
        text = number(v.value, row.digits)
        return Point(x(speed), y(v.value), y(v.value - reach), y(v.value + reach), text)

    return Plot(
        row.name,
        row.unit,
        row.trend in ("rises", "falls") or row.name in ALWAYS_DRAWN,
        tuple(point(s, v) for s, v in known),
        tuple((x(s), f"{s:.2f}") for s in speeds),
    )


def _frames(times: list[ClipTiming], row: FrameRow) -> list[int | None]:
    """The first frame of each step on which the measure was taken."""
    return [
        timed.frame_of(at[0]) if at else None for timed, at in zip(times, row.at_s, strict=True)
    ]
