"""What the commands that read events have in common: their options, and what they refuse."""

from __future__ import annotations

import functools
import math
import re
import sys
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any, NoReturn, TypeVar

import click

from norvik.core.errors import EventsFileError
from norvik.core.strokes import STROKES
from norvik.core.strokes.names import StrokeName
from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import DEFAULT_MARKER, GRID_ALONE, Marker
from norvik.core.time.timing import Timing
from norvik.formats.events_csv import BadRow, frame_interval_from, read_events

#: Exit code when an answer was given, but rows of the file could not be read.
ROWS_REFUSED = 3
F = TypeVar("F", bound=Callable[..., Any])


@dataclass(frozen=True)
class Options:
    """How events are read and timed."""

    stroke: StrokeName
    frame_interval_s: float | None
    pool_m: float | None
    marker: Marker
    encoding_old: bool
    lenient: bool


def _above_zero(
    context: click.Context, parameter: click.Parameter, value: float | None
) -> float | None:
    if value is not None and not (math.isfinite(value) and value > 0):
        raise click.BadParameter("must be a number above 0")
    return value


def _metres(context: click.Context, parameter: click.Parameter, value: str | None) -> float | None:
    """25, 33.3 or 33 1/3; a comma will do."""
    if value is None:
        return None
    found = re.fullmatch(r"(\d+(?:[.,]\d+)?)?\s*(\d+/\d+)?\s*m?", value.strip())
    if found is None or not (found[1] or found[2]):
        raise click.BadParameter(f"“{value}” is no length in metres, such as 25 or 33 1/3")
    try:
        metres = float((found[1] or "0").replace(",", ".")) + float(Fraction(found[2] or 0))
    except ZeroDivisionError:
        metres = 0.0
    return _above_zero(context, parameter, metres)


def _marker(context: click.Context, parameter: click.Parameter, value: str) -> Marker:
    if value == "none":
        return GRID_ALONE
    if value == "default":
        return DEFAULT_MARKER
    from norvik.formats.marker_json import read_marker

    path = Path(value)
    if not path.is_file():
        raise click.BadParameter(f"“{value}” is neither none, default nor a file")
    try:
        return read_marker(path.read_bytes())
    except EventsFileError as error:
        raise click.BadParameter(error.sentence) from error


EVENTS = click.Path(exists=True, dir_okay=False, allow_dash=True)


def event_options(command: F) -> F:
    """The options of every command that times events; they come in as `options`."""

    # With what other options have been put on the command already.
    @functools.wraps(command)
    def wrapped(*args: Any, **given: Any) -> Any:
        given["options"] = Options(
            given.pop("stroke"), given.pop("frame_interval"), given.pop("pool"),
            given.pop("marker"), given.pop("encoding") == "cp1252", given.pop("lenient"),
        )  # fmt: skip
        return command(*args, **given)

    for option in (
        click.option("--lenient", is_flag=True,
                     help=f"Exit 0 when rows were refused, instead of {ROWS_REFUSED}."),
        click.option("--encoding", type=click.Choice(["utf-8", "cp1252"]), default="utf-8",
                     help="Of a file without a byte-order mark."),
        click.option("--marker", default="default", callback=_marker, metavar="none|default|FILE",
                     help="How well events are marked: none for the frames alone, default, or a "
                     "JSON file of one's own (docs/formats.md)."),
        click.option("--pool", callback=_metres, metavar="METRES",
                     help="Length of the pool in metres: 25, or '33 1/3'."),
        click.option("--frame-interval", type=float, callback=_above_zero, metavar="SECONDS",
                     help="Real seconds between frames; from the frame column when not given."),
        click.option("--stroke", type=click.Choice(list(STROKES)), required=True),
    ):  # fmt: skip
        wrapped = option(wrapped)
    return wrapped  # type: ignore[return-value]


def schema_option(schema: Callable[[], dict[str, Any]]) -> Callable[[F], F]:
    """--schema prints the JSON Schema of what a command prints."""

    def show(context: click.Context, parameter: click.Parameter, asked: bool) -> None:
        if asked and not context.resilient_parsing:
            import json

            click.echo(json.dumps(schema(), indent=1))
            context.exit()

    return click.option(
        "--schema", is_flag=True, is_eager=True, expose_value=False, callback=show,
        help="Print the JSON Schema of what is printed, and stop.",
    )  # fmt: skip


def timed(path: str, options: Options) -> tuple[Timing, tuple[BadRow, ...]]:
    """The timing of an events file, `-` for standard input. Ends the command where it can't."""
    name = "standard input" if path == "-" else Path(path).name
    data = sys.stdin.buffer.read() if path == "-" else Path(path).read_bytes()
    try:
        found = read_events(data, STROKES[options.stroke], options.encoding_old)
    except EventsFileError as error:
        _stop(f"{name}: {error.sentence}")
    for bad in found.bad_rows:
        click.echo(f"{name}, row {bad.row}: {bad.reason}", err=True)
    if not found.marks:
        _stop(f"{name}: no row holds an event that can be read, so there is nothing to time.")
    interval = options.frame_interval_s
    if interval is None:
        interval = frame_interval_from(found.marks)
    result = compute_timing(found.marks, options.stroke, interval, options.pool_m, options.marker)
    for problem in result.problems:
        click.echo(f"{name}, row {problem.mark.key}: {problem.reason}", err=True)
    return result, found.bad_rows


def finish(bad_rows: Iterable[BadRow], options: Options) -> None:
    """Ends the command; with another exit code than 0 where rows were refused."""
    refused = sum(1 for _ in bad_rows)
    if refused and not options.lenient:
        click.echo(f"{refused} of the rows could not be read and count for nothing.", err=True)
        sys.exit(ROWS_REFUSED)


def _stop(sentence: str) -> NoReturn:
    click.echo(sentence, err=True)
    sys.exit(1)
