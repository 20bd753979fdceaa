"""`norvik read`: what a film tells by itself."""

from __future__ import annotations

import sys
from pathlib import Path

import click
import msgspec

from norvik.core.errors import FootageError, ReadingError
from norvik.core.strokes import STROKES
from norvik.formats.answers import VERSION, ReadFilm
from norvik.reading.detect import Detector, Person
from norvik.reading.network import LitePose
from norvik.reading.read import Read, read_film


def _tap(context: click.Context, parameter: click.Parameter, value: str | None) -> Person | None:
    if value is None:
        return None
    try:
        hx, hy, px, py = (float(v) for v in value.split(","))
    except ValueError as error:
        raise click.BadParameter("four numbers with commas: head x,y and hips x,y") from error
    # From head to hips lies the head's length more than from shoulders to hips.
    shoulders = (hx + 0.36 * (px - hx), hy + 0.36 * (py - hy))
    return Person((px, py), shoulders, 1.0)


@click.command()
@click.argument("video", type=click.Path(dir_okay=False, path_type=Path))
@click.option("--stroke", type=click.Choice(list(STROKES)), required=True)
@click.option("--stretch", type=click.FloatRange(0.1, 60), default=1.0, show_default=True,
              help="How many times slower the film plays than real time.")  # fmt: skip
@click.option("--tap", callback=_tap, metavar="X,Y,X,Y",
              help="The swimmer's head and hips in the first frame, pixels.")  # fmt: skip
@click.option("--network", type=click.Path(dir_okay=False, path_type=Path),
              help="Another pose network (TFLite) than the one that comes along.")  # fmt: skip
@click.option("--json", "as_json", is_flag=True, help="Print one JSON object, unrounded.")
def read(
    video: Path, stroke: str, stretch: float, tap: Person | None, network: Path | None,
    as_json: bool,
) -> None:  # fmt: skip
    """Tell the stroke rate of a VIDEO of one swimmer, without any mark.

    Where it cannot be told the answer is null with the reason, and the exit code is 0.
    """
    try:
        found = read_film(video, stroke, LitePose(network), Detector(), stretch, tap)
    except (FootageError, ReadingError) as error:
        click.echo(f"{video.name}: {error.sentence}", err=True)
        sys.exit(1)
    if as_json:
        click.echo(msgspec.json.format(msgspec.json.encode(answer(found)), indent=1).decode())
        return
    cycle = found.cycle
    if cycle is None:
        click.echo(f"No stroke rate: {found.reasons['rate']}.")
        return
    rate, u95 = _rate(found)
    click.echo(f"{rate:.2f} ± {u95:.2f} cycles/min, from {cycle.cycles:.1f} cycles; "
               f"seen in {100 * found.seen:.0f} % of the frames read")  # fmt: skip


def _rate(found: Read) -> tuple[float, float]:
    assert found.cycle is not None
    rate = 60 / found.cycle.seconds
    return rate, rate * found.cycle.u95 / found.cycle.seconds


def answer(found: Read) -> ReadFilm:
    """The answer of the command."""
    rate, u95 = _rate(found) if found.cycle else (None, None)
    like, cycles = (found.cycle.like, found.cycle.cycles) if found.cycle else (None, None)
    return ReadFilm(VERSION, rate, u95, like, cycles, len(found.times_s), found.seen, found.reasons)
