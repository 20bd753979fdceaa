"""`norvik judge`, `norvik change`, `norvik prescribe`: the core's answers without a database."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

import click
import msgspec

from norvik.catalogue.loader import load
from norvik.commands.events_input import (
    EVENTS,
    Options,
    event_options,
    finish,
    schema_option,
    timed,
)
from norvik.core.followup.change import Comparison, compare
from norvik.core.followup.comparable import shown_by, values_in_time
from norvik.core.judging.coaching_model import BODY_PARTS, KIT, LEVELS, Catalogue
from norvik.core.judging.findings import find
from norvik.core.judging.judged import Finding
from norvik.core.judging.ranking import rank
from norvik.core.prescription.prescribe import SwimmerProfile, dose, prescribe
from norvik.core.time.timing import Timing
from norvik.formats.answers import (
    change_answer,
    findings_answer,
    prescription_answer,
    schema_of,
)

F = TypeVar("F", bound=Callable[..., Any])
#: Own choice: a swimmer works on two points at most.
_MOST_FOCUSES = 2


def _schools(given: tuple[str, ...], catalogue: Catalogue) -> dict[str, str]:
    chosen = {}
    for text in given:
        question, _, school = text.partition("=")
        known = catalogue.questions.get(question)
        if known is None:
            raise click.BadParameter(
                f"unknown question “{question}”; known: {', '.join(catalogue.questions)}",
                param_hint="--school",
            )
        if school not in {s.id for s in known.schools}:
            raise click.BadParameter(
                f"“{school}” is no answer to {question}; known: "
                + ", ".join(s.id for s in known.schools),
                param_hint="--school",
            )
        chosen[question] = school
    return chosen


def _swimmer_options(command: F) -> F:
    for option in (
        click.option("--school", multiple=True, metavar="QUESTION=ANSWER",
                     help="Coaching approach: an id of docs/coaching.md."),
        click.option("--level", type=click.Choice(LEVELS), default="improver", show_default=True),
    ):  # fmt: skip
        command = option(command)
    return command


_json = click.option("--json", "as_json", is_flag=True, help="Print one JSON object, unrounded.")


def _print(answer: msgspec.Struct) -> None:
    click.echo(msgspec.json.format(msgspec.json.encode(answer), indent=1).decode())


def _found(
    timing: Timing, catalogue: Catalogue, level: str, schools: dict[str, str]
) -> list[Finding]:
    return find(timing, (), catalogue, level, schools)


@click.command()
@click.argument("events", type=EVENTS)
@event_options
@_swimmer_options
@_json
@schema_option(lambda: schema_of("judge"))
def judge(
    events: str, options: Options, level: str, school: tuple[str, ...], as_json: bool
) -> None:
    """Findings with their evidence, from an EVENTS file (CSV; - reads standard input).

    Example: norvik judge clip.csv --stroke freestyle --level beginner --json
    """
    catalogue = load(options.stroke).for_level(level)
    schools = _schools(school, catalogue)
    timing, bad = timed(events, options)
    found = _found(timing, catalogue, level, schools)
    if as_json:
        used = {q.id: q.chosen(schools).id for q in catalogue.questions.values()}
        _print(findings_answer(options.stroke, level, used, found, catalogue, timing.reasons))
    else:
        click.echo("\n".join(_finding_lines(found)) or "These events show nothing to judge.")
    finish(bad, options)


def _finding_lines(found: list[Finding]) -> list[str]:
    words = {"strength": "good", "fault": "fault", "watch": "near the limit", "open": "can't tell"}
    lines = []
    for f in found:
        side = f", {f.side}" if f.side else ""
        lines.append(f"{words[f.kind]:<15}{f.title}{side}")
        for j in f.judged:
            q, limit = j.quantity, ""
            if j.limit is not None and f.kind != "strength":
                limit = f", limit {j.limit:.{q.digits}f}"
            lines.append(
                f"{'':<15}{q.name}: {j.reading.value:.{q.digits}f} ± {j.margin:.{q.digits + 1}f} "
                f"{q.unit}{limit}"
            )
    return lines


@click.command()
@click.argument("before", type=EVENTS)
@click.argument("after", type=EVENTS)
@event_options
@_swimmer_options
@click.option("--focus", multiple=True, metavar="FAULT", help="What was worked on in between.")
@_json
@schema_option(lambda: schema_of("change"))
def change(
    before: str,
    after: str,
    options: Options,
    level: str,
    school: tuple[str, ...],
    focus: tuple[str, ...],
    as_json: bool,
) -> None:
    """What really changed from BEFORE to AFTER (two events files of one swimmer).

    Example: norvik change october.csv november.csv --stroke freestyle --focus overglide --json
    """
    catalogue = load(options.stroke).for_level(level)
    schools = _schools(school, catalogue)
    worked_on = [catalogue.faults[f] for f in _known_faults(focus, catalogue)]
    ids = {what for fault in worked_on for what in shown_by(fault, catalogue, schools)}
    (first, bad), (second, bad_too) = timed(before, options), timed(after, options)
    known = [values_in_time(t, catalogue, schools, worked_on) for t in (first, second)]
    compared = compare(known[0], known[1], ids)
    if as_json:
        reasons = {
            ".".join(x for x in (c.after.what, c.after.side) if x): "one value alone on one of the "
            "clips, or no frame interval: take it in three cycles"
            for c in compared
            if c.verdict == "unknown"
        }
        _print(change_answer(compared, reasons))
    else:
        click.echo("\n".join(_change_lines(compared)) or "The two have no quantity in common.")
    finish((*bad, *bad_too), options)


def _known_faults(given: tuple[str, ...], catalogue: Catalogue) -> tuple[str, ...]:
    for fault in given:
        if fault not in catalogue.faults:
            raise click.BadParameter(
                f"unknown fault “{fault}” of this stroke; known: {', '.join(catalogue.faults)}",
                param_hint="--focus",
            )
    return given


def _change_lines(compared: list[Comparison]) -> list[str]:
    words = {"same": "no real change", "unknown": "not known: one value alone"}
    lines = []
    for c in compared:
        k, least = c.after, ""
        if c.least is not None:
            least = f" (smallest that could show: {c.least:.{k.digits + 1}f})"
        lines.append(
            f"{words.get(c.verdict, c.verdict):<28}{k.name}: {c.before.value:.{k.digits}f} to "
            f"{k.value:.{k.digits}f} {k.unit}{least}"
        )
    return lines


@click.command("prescribe")
@click.argument("events", type=EVENTS)
@event_options
@_swimmer_options
@click.option("--pain", multiple=True, type=click.Choice(BODY_PARTS), help="What hurts.")
@click.option("--kit", multiple=True, type=click.Choice(KIT), help="What the swimmer has.")
@_json
@schema_option(lambda: schema_of("prescribe"))
def prescribe_command(
    events: str,
    options: Options,
    level: str,
    school: tuple[str, ...],
    pain: tuple[str, ...],
    kit: tuple[str, ...],
    as_json: bool,
) -> None:
    """What to work on first, with drills and doses, from an EVENTS file.

    Example: norvik prescribe clip.csv --stroke freestyle --pain shoulder --kit fins --json
    """
    catalogue = load(options.stroke).for_level(level)
    schools = _schools(school, catalogue)
    timing, bad = timed(events, options)
    order = catalogue.questions["order"].chosen(schools).id
    ranked = rank(_found(timing, catalogue, level, schools), catalogue, pain, order)
    receiver = SwimmerProfile(level, kit, pain, schools)
    found = [r.fault.id for r in ranked]
    given = [prescribe(r.fault, catalogue, found, receiver) for r in ranked[:_MOST_FOCUSES]]
    if as_json:
        _print(prescription_answer(ranked, given, catalogue, receiver, timing.reasons))
    else:
        lines = []
        for p in given:
            lines.append(p.fault.name)
            lines += [f"  {d.name}: {dose(d)}" for d in p.drills]
            lines += [f"  {p.instead}"] if p.instead else []
            lines += [
                f"  Care: {c.text}"
                for c in catalogue.cautions_for({t for d in p.drills for t in d.loads} | set(pain))
            ]
        click.echo("\n".join(lines) or "No fault is found from these events.")
    finish(bad, options)
