"""`norvik add` and `norvik user`: what the pages do, from the command line."""

from __future__ import annotations

import sys
from datetime import date, datetime
from pathlib import Path

import click

from norvik.core.errors import NorvikError
from norvik.core.strokes import STROKES
from norvik.intake.receive import Facts, receive
from norvik.settings import Settings
from norvik.store import swimmers, users
from norvik.store.clips import ROLES, VIEWS
from norvik.store.connection import connected, migrate
from norvik.store.swimmers import Swimmer
from norvik.web.auth import hash_password

_LEAST_PASSWORD = 10


@click.command()
@click.argument("video", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("--swimmer", required=True, help="Name; made when there is none of that name.")
@click.option("--stroke", type=click.Choice(list(STROKES)), default="freestyle", show_default=True)
@click.option("--view", type=click.Choice(VIEWS), default=VIEWS[0], show_default=True)
@click.option("--role", type=click.Choice(ROLES), default=ROLES[0], show_default=True)
@click.option("--filmed-on", type=click.DateTime(["%Y-%m-%d"]), help="Today when not given.")
@click.option(
    "--stretch", type=click.FloatRange(0.05, 100), default=1.0, show_default=True,
    help="How many times slower the file plays than it happened.",
)  # fmt: skip
def add(
    video: Path,
    swimmer: str,
    stroke: str,
    view: str,
    role: str,
    filmed_on: datetime | None,
    stretch: float,
) -> None:
    """Bring a VIDEO into the library; the worker prepares it."""
    settings = Settings.from_environment()
    settings.prepare()
    migrate(settings.database)
    day = (filmed_on.date() if filmed_on else date.today()).isoformat()
    with connected(settings.database) as connection, video.open("rb") as stream:
        found = swimmers.by_name(connection, swimmer)
        try:
            swimmer_id = found.id if found else swimmers.add(connection, Swimmer(swimmer.strip()))
            facts = Facts(
                swimmer_id, stroke=stroke, view=view, role=role, filmed_on=day, stretch=stretch
            )
            clip_id, _ = receive(
                settings, connection, stream, video.name, facts, video.stat().st_size
            )
        except NorvikError as error:
            click.echo(f"{video.name}: {error.sentence}", err=True)
            sys.exit(1)
    click.echo(f"clip {clip_id} is in; the worker prepares it")


@click.group()
def user() -> None:
    """People who sign in."""


@user.command("add")
@click.argument("email")
@click.option("--name", required=True)
@click.option("--role", type=click.Choice(["coach", "assistant"]), default="coach")
@click.password_option()
def add_user(email: str, name: str, role: str, password: str) -> None:
    """Add an account for EMAIL; asks for a password."""
    if len(password) < _LEAST_PASSWORD:
        raise click.UsageError(f"A password needs at least {_LEAST_PASSWORD} characters.")
    settings = Settings.from_environment()
    settings.prepare()
    migrate(settings.database)
    with connected(settings.database) as connection:
        if users.by_email(connection, email):
            raise click.ClickException(f"There is an account for {email} already.")
        users.add(connection, email, name, role, hash_password(password))
    click.echo(f"{name} can sign in as {email}")
