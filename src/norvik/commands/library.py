"""`norvik add`: bringing a clip in, from the command line."""

from __future__ import annotations

import sys
from datetime import datetime
from pathlib import Path

import click

from norvik.core.errors import NorvikError
from norvik.core.strokes import STROKES
from norvik.core.strokes.names import StrokeName
from norvik.core.time.timebase import FACTOR_RANGE
from norvik.intake.receive import receive
from norvik.settings import Settings
from norvik.store import swimmers
from norvik.store.clips import EFFORTS, KIT, ROLES, VIEWS, Facts
from norvik.store.connection import connected, migrate
from norvik.store.swimmers import Swimmer
from norvik.workflow.consent import require_consent


@click.command()
@click.argument("video", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("--swimmer", help="Name of the swimmer, added if new; else unassigned.")
@click.option("--stroke", type=click.Choice(list(STROKES)), default="freestyle", show_default=True)
@click.option("--view", type=click.Choice(VIEWS), default=VIEWS[0], show_default=True)
@click.option("--role", type=click.Choice(ROLES), default=ROLES[0], show_default=True)
@click.option(
    "--filmed-on", type=click.DateTime(["%Y-%m-%d"]),
    help="Without it what the camera wrote into the file, else today.",
)  # fmt: skip
@click.option("--effort", type=click.Choice(EFFORTS[1:]))
@click.option("--pace", type=click.FloatRange(30, 600), help="Seconds per 100.")
@click.option("--kit", type=click.Choice(KIT), multiple=True, help="Worn or held; may repeat.")
@click.option("--pool", type=click.FloatRange(10, 100), help="Pool length in metres.")
@click.option(
    "--stretch", type=click.FloatRange(*FACTOR_RANGE),
    help="How many times slower the file plays than real time. Without it what the camera wrote "
    "into the file, else 1.",
)  # fmt: skip
def add(
    video: Path,
    swimmer: str | None,
    stroke: StrokeName,
    view: str,
    role: str,
    filmed_on: datetime | None,
    effort: str | None,
    pace: float | None,
    kit: tuple[str, ...],
    pool: float | None,
    stretch: float | None,
) -> None:
    """Bring a VIDEO into the library; the worker prepares it."""
    settings = Settings.from_environment()
    settings.prepare()
    migrate(settings.database)
    day = filmed_on.date().isoformat() if filmed_on else ""
    with connected(settings.database) as connection, video.open("rb") as stream:
        found = swimmers.by_name(connection, swimmer) if swimmer else None
        swimmer_id = found.id if found else None
        try:
            if swimmer and found is None:
                swimmer_id = swimmers.add(connection, Swimmer(swimmer.strip()))
            if found is not None:
                require_consent(found, "filming")
            facts = Facts(swimmer_id, stroke, view, role, day, effort or "", pace, kit, pool)
            clip_id, _ = receive(
                settings, connection, stream, video.name, facts, stretch=stretch,
                expected_bytes=video.stat().st_size,
            )  # fmt: skip
        except NorvikError as error:
            click.echo(f"{video.name}: {error.sentence}", err=True)
            sys.exit(1)
    click.echo(f"clip {clip_id} is in; the worker prepares it")
