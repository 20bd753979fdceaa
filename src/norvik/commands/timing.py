"""`norvik timing`: every timing quantity of an events file."""

from __future__ import annotations

import json
import math
import sys
from pathlib import Path

import click

from norvik.core.errors import EventsFileError
from norvik.core.strokes import STROKES
from norvik.core.time.compute import compute_timing
from norvik.core.time.timing import Timing
from norvik.formats.events_csv import frame_interval_from, read_events
from norvik.formats.timing_json import timing_object


def _above_zero(
    context: click.Context, parameter: click.Parameter, value: float | None
) -> float | None:
    if value is not None and not (math.isfinite(value) and value > 0):
        raise click.BadParameter("must be a number above 0")
    return value


def _print_schema(context: click.Context, parameter: click.Parameter, asked: bool) -> None:
    if asked and not context.resilient_parsing:
        from norvik.formats.timing_schema import timing_schema

        click.echo(json.dumps(timing_schema(), indent=1))
        context.exit()


@click.command()
@click.argument("events", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("--stroke", type=click.Choice(list(STROKES)), required=True)
@click.option(
    "--frame-interval",
    type=float,
    callback=_above_zero,
    help="Real seconds between frames; taken from the frame column when not given.",
)
@click.option("--pool", type=float, callback=_above_zero, help="Length of the pool in metres.")
@click.option("--json", "as_json", is_flag=True, help="Print one JSON object, unrounded.")
@click.option(
    "--schema",
    is_flag=True,
    is_eager=True,
    expose_value=False,
    callback=_print_schema,
    help="Print the JSON Schema of that object and stop.",
)
def timing(
    events: Path, stroke: str, frame_interval: float | None, pool: float | None, as_json: bool
) -> None:
    """Compute all timing quantities from an EVENTS file (CSV, see docs/formats.md)."""
    try:
        found = read_events(events.read_bytes(), STROKES[stroke])
    except EventsFileError as error:
        click.echo(f"{events.name}: {error.sentence}", err=True)
        sys.exit(1)
    for bad in found.bad_rows:
        click.echo(f"row {bad.row}: {bad.reason}", err=True)
    if not found.marks:
        click.echo(
            f"{events.name}: no row holds an event that can be read, so there is nothing to time.",
            err=True,
        )
        sys.exit(1)
    interval = frame_interval if frame_interval is not None else frame_interval_from(found.marks)
    result = compute_timing(found.marks, stroke, interval, pool)
    for problem in result.problems:
        click.echo(f"row {problem.mark.key}: {problem.reason}", err=True)
    if as_json:
        click.echo(json.dumps(timing_object(result, found.bad_rows), indent=1, allow_nan=False))
    else:
        click.echo("\n".join(summary_lines(result)))


def summary_lines(result: Timing) -> list[str]:
    """The main quantities as lines of text."""
    rate, cycle = result.rate, result.cycles
    if rate.cycles_per_min is None or cycle.time_s.mean is None:
        return [f"{result.stroke}: no whole cycle is marked, so there is no rate."]
    u = rate.u_cycles_per_min
    spread = f" ± {2 * u:.2f}" if u is not None else " (± unknown)"
    lines = [
        f"{result.stroke}: {cycle.count} cycles",
        f"rate        {rate.cycles_per_min:.2f}{spread} cycles/min"
        f" = {rate.strokes_per_min:.1f} strokes/min",
        f"cycle time  {cycle.time_s.mean:.3f} s"
        + (f", spread {cycle.time_s.sd:.3f} s" if cycle.time_s.sd is not None else ""),
    ]
    for name, phase in result.phases["both"].items():
        if phase:
            share = f"{phase.share_pct:5.1f} %" if phase.share_pct is not None else ""
            lines.append(f"{name:<12}{phase.mean_s:.3f} s {share}")
    if result.coordination and result.coordination.index_pct is not None:
        index = result.coordination
        lines.append(f"hand-over   {index.index_pct:+.1f} % ({index.model})")
    if result.breathing.pattern:
        lines.append(f"breathing   every {', '.join(map(str, result.breathing.pattern))}")
    return lines
