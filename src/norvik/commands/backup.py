"""`norvik backup`, `norvik verify` and `norvik restore`."""

from __future__ import annotations

import sys
import time
from pathlib import Path

import click

from norvik.backup.make import KEEP, make_backup
from norvik.backup.manifest import Manifest
from norvik.backup.restore import restore as bring_back
from norvik.backup.verify import verify as look_through
from norvik.core.errors import NorvikError
from norvik.settings import Settings
from norvik.store import backups
from norvik.store.connection import connected, migrate

_FOLDER = click.argument("folder", type=click.Path(file_okay=False, path_type=Path))
_GENERATION = click.option("--generation", default="", help="By its name; the newest without it.")


def _says(made: Manifest) -> str:
    size = sum(f.bytes for f in made.files)
    return f"{made.generation}: {len(made.files)} files, {size / 1e6:,.1f} MB, and the database"


def _fail(error: NorvikError) -> None:
    click.echo(error.sentence, err=True)
    sys.exit(1)


@click.command()
@_FOLDER
@click.option("--keep", default=KEEP, show_default=True, type=click.IntRange(1, 1000),
              help="Generations that are kept.")  # fmt: skip
@click.option("--copy", is_flag=True,
              help="Copy files also where a link on the same disk would do.")  # fmt: skip
def backup(folder: Path, keep: int, copy: bool) -> None:
    """Make a backup of everything into FOLDER, also while Norvik runs."""
    settings = Settings.from_environment()
    if not settings.database.is_file():
        click.echo(f"There is nothing to back up in {settings.data}.", err=True)
        sys.exit(1)
    migrate(settings.database)
    settings.prepare()
    try:
        click.echo(_says(make_backup(settings, folder, keep=keep, link=not copy)))
    except NorvikError as error:
        _fail(error)


@click.command()
@_FOLDER
@_GENERATION
def verify(folder: Path, generation: str) -> None:
    """Read all of a backup in FOLDER and say what is not whole."""
    try:
        made, wrong = look_through(folder, generation)
    except NorvikError as error:
        _fail(error)
        return
    settings = Settings.from_environment()
    if settings.database.is_file():
        with connected(settings.database) as connection:
            backups.set_verified(connection, str(folder.resolve()), made.generation, time.time(),
                                 " ".join(wrong)[:500])  # fmt: skip
    for sentence in wrong:
        click.echo(sentence, err=True)
    if wrong:
        sys.exit(1)
    click.echo(f"{_says(made)}: all of it is whole")


@click.command()
@_FOLDER
@_GENERATION
def restore(folder: Path, generation: str) -> None:
    """Bring a backup in FOLDER back into the data folder, which has to be empty."""
    settings = Settings.from_environment()
    try:
        made = bring_back(folder, settings, generation)
    except NorvikError as error:
        _fail(error)
        return
    click.echo(f"{_says(made)}: restored into {settings.data}")
