"""`norvik read`: what a film tells by itself."""

from __future__ import annotations

import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import click
import msgspec
import numpy as np

from norvik.core.errors import FootageError, MeasureError, ReadingError, TracksFileError
from norvik.core.frame.geometry import Point
from norvik.core.frame.measures import MEASURES, NOTHING_SET
from norvik.core.strokes import STROKES
from norvik.core.strokes.definitions import event_name
from norvik.core.strokes.events import Mark
from norvik.core.strokes.names import StrokeName
from norvik.formats import keypoints_csv as tracked_points
from norvik.formats.answers import VERSION, FilmMeasure, ReadFilm
from norvik.formats.events_csv import write_events
from norvik.formats.tracks_csv import Row, write_tracks
from norvik.reading.detect import Detector, Person, shown_by
from norvik.reading.followed import Followed
from norvik.reading.network import JOINTS, LitePose
from norvik.reading.read import Read, read_film, read_points
from norvik.store import clips


@contextmanager
def _quiet() -> Iterator[None]:
    """What the network's own library prints as it starts is no word of this command."""
    sys.stderr.flush()
    kept, nothing = os.dup(2), os.open(os.devnull, os.O_WRONLY)
    os.dup2(nothing, 2)
    try:
        yield
    finally:
        os.dup2(kept, 2)
        os.close(kept)
        os.close(nothing)


def _tap(context: click.Context, parameter: click.Parameter, value: str | None) -> Person | None:
    if value is None:
        return None
    try:
        hx, hy, px, py = (float(v) for v in value.split(","))
    except ValueError as error:
        raise click.BadParameter("four numbers with commas: head x,y and hips x,y") from error
    return shown_by(hx, hy, px, py)


@click.command()
@click.argument("video", type=click.Path(dir_okay=False, path_type=Path))
@click.option("--stroke", type=click.Choice(list(STROKES)), required=True)
@click.option("--view", type=click.Choice(clips.VIEWS), default="side-under", show_default=True)
@click.option("--stretch", type=click.FloatRange(0.1, 60), default=1.0, show_default=True,
              help="How many times slower the film plays than real time.")  # fmt: skip
@click.option("--tap", callback=_tap, metavar="X,Y,X,Y",
              help="The swimmer's head and hips in the first frame, pixels.")  # fmt: skip
@click.option("--network", type=click.Path(dir_okay=False, path_type=Path),
              help="Another pose network (TFLite) than the one that comes along.")  # fmt: skip
@click.option("--points", "points_csv", type=click.Path(dir_okay=False, path_type=Path),
              help="Read tracked joints (tracks.csv or keypoints), not the pictures.")  # fmt: skip
@click.option("--events", "events_csv", type=click.Path(dir_okay=False, path_type=Path),
              help="Write the events that were read as events.csv.")  # fmt: skip
@click.option("--tracks", "tracks_csv", type=click.Path(dir_okay=False, path_type=Path),
              help="Write where every joint was as tracks.csv.")  # fmt: skip
@click.option("--json", "as_json", is_flag=True, help="Print one JSON object, unrounded.")
def read(
    video: Path, stroke: StrokeName, view: str, stretch: float, tap: Person | None,
    network: Path | None, points_csv: Path | None, events_csv: Path | None,
    tracks_csv: Path | None, as_json: bool,
) -> None:  # fmt: skip
    """Tell the stroke rate and the events of a VIDEO of one swimmer, without any mark.

    Where something cannot be told it is left out with the reason, and the exit code is 0.
    """
    try:
        if points_csv is not None:
            found = read_points(video, stroke, _points(points_csv), stretch, view)
        else:
            with _quiet():
                pose, detector = LitePose(network), Detector()
            found = read_film(video, stroke, pose, detector, stretch, tap, view=view)
    except (FootageError, ReadingError) as error:
        click.echo(f"{video.name}: {error.sentence}", err=True)
        sys.exit(1)
    if events_csv is not None:
        _write(events_csv, events_text(found))
    if tracks_csv is not None:
        _write(tracks_csv, write_tracks(_track_rows(found.followed)))
    if as_json:
        click.echo(msgspec.json.format(msgspec.json.encode(answer(found)), indent=1).decode())
        return
    cycle = found.cycle
    if cycle is None:
        click.echo(f"No stroke rate: {found.reasons['rate']}.")
        return
    rate, u95 = _rate(found)
    click.echo(f"{rate:.2f} ± {u95:.2f} cycles/min, from {cycle.cycles:.1f} cycles; "
               f"seen in {100 * found.followed.seen:.0f} % of the frames read")  # fmt: skip
    for (lane, event), sure in _by_kind(found).items():
        count = sum((e.lane, e.event) == (lane, event) for e in found.events)
        click.echo(f"  {event_name(event)}: {count}, {100 * sure:.0f} % likely within 0.08 s")
    for m in measures(found):
        if m.value is not None:
            click.echo(f"  {MEASURES[m.measure].name}, frame {m.frame}: {m.value:.1f} ± "
                       f"{1.96 * m.u:.1f} {m.unit}")  # fmt: skip
    for what, reason in found.reasons.items():
        click.echo(f"  can't tell {what}: {reason}")


def _points(path: Path) -> dict[str, dict[int, tuple[float, float, float]]]:
    """Tracked points by their names; of keypoints the first row is the first frame of the film."""
    try:
        rows = tracked_points.read_points(path.read_bytes(), 0)
    except OSError as error:
        click.echo(f"{path.name} cannot be read: {error.strerror}.", err=True)
        sys.exit(1)
    except TracksFileError as error:
        click.echo(f"{path.name}: {error.sentence}", err=True)
        sys.exit(1)
    found: dict[str, dict[int, tuple[float, float, float]]] = {}
    for row in rows:
        if row.x is not None and row.y is not None:
            sure = 1.0 if row.confidence is None else row.confidence
            found.setdefault(row.point, {})[row.frame] = row.x, row.y, sure
    return found


def _write(path: Path, text: str) -> None:
    try:
        path.write_text(text, encoding="utf-8", newline="")
    except OSError as error:
        click.echo(f"{path.name} cannot be written: {error.strerror}.", err=True)
        sys.exit(1)


def events_text(found: Read) -> str:
    """The events that were read as a file of marks; further columns say that they are none."""
    frames = sorted(found.followed.times_s)
    times = np.array([found.followed.times_s[frame] for frame in frames])
    marks, extra = [], {}
    for n, e in enumerate(found.events):
        frame = round(float(np.interp(e.time_s, times, frames)))
        marks.append(Mark(round(e.time_s, 4), e.lane, e.side, e.event, frame, key=n))
        extra[n] = {
            "origin": "proposed", "confidence": f"{e.confidence:.3f}", "u95_s": f"{e.u95_s:.3f}",
            "bridged": "yes" if e.bridged else "",
        }  # fmt: skip
    return write_events(marks, extra)


def _track_rows(followed: Followed) -> Iterator[Row]:
    for pose in followed.poses:
        time_s = followed.times_s[pose.frame]
        for name, (x, y), sure in zip(JOINTS, pose.points, pose.visible, strict=True):
            yield Row(pose.frame, time_s, name.replace("_", " "), float(x), float(y), "followed",
                      float(sure))  # fmt: skip


def _by_kind(found: Read) -> dict[tuple[str, str], float]:
    """Mean confidence by lane and event, in the order in which they come."""
    gathered: dict[tuple[str, str], list[float]] = {}
    for e in found.events:
        gathered.setdefault((e.lane, e.event), []).append(e.confidence)
    return {kind: float(np.mean(of)) for kind, of in gathered.items()}


def _rate(found: Read) -> tuple[float, float]:
    assert found.cycle is not None
    rate = 60 / found.cycle.seconds
    return rate, rate * found.cycle.u95 / found.cycle.seconds


def answer(found: Read) -> ReadFilm:
    """The answer of the command."""
    rate, u95 = _rate(found) if found.cycle else (None, None)
    score, cycles = (found.cycle.like, found.cycle.cycles) if found.cycle else (None, None)
    followed = found.followed
    confidence = {event: sure for (_, event), sure in _by_kind(found).items()}
    return ReadFilm(
        VERSION, rate, u95, score, cycles, len(followed.times_s), followed.seen,
        len(found.events), confidence, dict(found.reasons), measures(found),
    )  # fmt: skip


def measures(found: Read) -> list[FilmMeasure]:
    """What is proposed to be measured, the picture's own level taken for the horizontal."""
    frames = sorted(found.followed.times_s)
    times = np.array([found.followed.times_s[frame] for frame in frames])
    made = []
    for one in found.measures:
        measure = MEASURES[one.measure]
        try:
            value = measure.compute([Point(x, y) for x, y in one.points], NOTHING_SET)
        except MeasureError:
            value = None
        frame = frames[int(np.argmin(np.abs(times - one.time_s)))]
        made.append(
            FilmMeasure(one.measure, one.side, frame, list(one.points), value, measure.unit, one.u)
        )
    return made
