"""`norvik timing`: every timing quantity of an events file."""

from __future__ import annotations

import json
import math
from typing import Any

import click

from norvik.commands.events_input import (
    EVENTS,
    Options,
    event_options,
    finish,
    schema_option,
    timed,
)
from norvik.core.time.plus_minus import k95
from norvik.core.time.timing import Timing
from norvik.formats.timing_json import timing_object


def _schema() -> dict[str, Any]:
    from norvik.formats.timing_schema import timing_schema

    return timing_schema()


@click.command()
@click.argument("events", type=EVENTS)
@event_options
@click.option("--json", "as_json", is_flag=True, help="Print one JSON object, unrounded.")
@schema_option(_schema)
def timing(events: str, options: Options, as_json: bool) -> None:
    """Compute all timing quantities from an EVENTS file (CSV, see docs/formats.md).

    - reads standard input. Example: norvik timing clip.csv --stroke freestyle --pool 25 --json
    """
    result, bad = timed(events, options)
    if as_json:
        click.echo(json.dumps(timing_object(result, bad), indent=1, allow_nan=False))
    else:
        click.echo("\n".join(summary_lines(result)))
    finish(bad, options)


def summary_lines(result: Timing) -> list[str]:
    """The main quantities as lines of text."""
    rate, cycle = result.rate, result.cycles
    if rate.cycles_per_min is None or cycle.time_s.mean is None:
        return [f"{result.stroke}: no whole cycle is marked, so there is no rate."]
    lines = [
        f"{result.stroke}: {cycle.count} cycles (± this clip; the swimmer ± by how cycles differ)",
        f"rate        {rate.cycles_per_min:.2f}{_sure(result, 'rate.cycles_per_min', 2)} cycles/min"
        f" = {rate.strokes_per_min:.1f}{_sure(result, 'rate.strokes_per_min', 1)} strokes/min",
        f"cycle time  {cycle.time_s.mean:.3f}{_sure(result, 'cycles.time_s.mean', 3)} s"
        + (f", spread {cycle.time_s.own_sd:.3f}{_sure(result, 'cycles.time_s.own_sd', 3)} s"
           if cycle.time_s.own_sd is not None else ""),
    ]  # fmt: skip
    for name, phase in result.phases["both"].items():
        if phase:
            path = f"phases.both.{name}"
            share = ""
            if phase.share_pct is not None:
                share = f"{phase.share_pct:5.1f}{_sure(result, f'{path}.share_pct', 1)} %"
            lines.append(f"{name:<12}{phase.mean_s:.3f} s {share}")
    if result.coordination and result.coordination.index_pct is not None:
        index = result.coordination
        lines.append(
            f"hand-over   {index.index_pct:+.1f}{_sure(result, 'coordination.index_pct', 1)} % "
            f"({index.model})"
        )
    if result.breathing.pattern:
        lines.append(f"breathing   every {', '.join(map(str, result.breathing.pattern))}")
    return lines


def _sure(result: Timing, path: str, digits: int) -> str:
    """Both plus-minus, rounded up; what is not known is said so."""
    known = result.certainty.get(path)
    if known is None:
        return " (± unknown)"
    clip = math.ceil(2 * known.clip * 10**digits - 1e-9) / 10**digits
    own = known.swimmer
    if own is None:
        return f" ± {clip:.{digits}f}"
    swimmer = math.ceil(k95(own) * own.u * 10**digits - 1e-9) / 10**digits
    return f" ± {clip:.{digits}f} (swimmer ± {swimmer:.{digits}f})"
