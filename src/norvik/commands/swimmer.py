"""`norvik swimmer export` and `norvik swimmer import`: one person from one club to another."""

from __future__ import annotations

import sys
from pathlib import Path

import click

from norvik.core.errors import NorvikError
from norvik.house.swimmer_export import write_swimmer_zip
from norvik.house.swimmer_import import read_swimmer
from norvik.settings import Settings
from norvik.store import swimmers
from norvik.store.connection import connected, migrate


@click.group()
def swimmer() -> None:
    """One swimmer with everything, out and in."""


@swimmer.command("export")
@click.argument("name")
@click.argument("out", type=click.Path(dir_okay=False, path_type=Path))
def export(name: str, out: Path) -> None:
    """Write everything of the swimmer NAME into the ZIP file OUT."""
    settings = Settings.from_environment()
    settings.prepare()
    migrate(settings.database)
    with connected(settings.database) as connection:
        found = swimmers.by_name(connection, name)
        if found is None:
            raise click.ClickException(f"There is no swimmer {name}.")
        write_swimmer_zip(connection, settings, found.id, out)
    click.echo(f"{found.name}: {out.stat().st_size / 1e6:,.1f} MB in {out}")


@swimmer.command("import")
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
def bring_in(file: Path) -> None:
    """Read the swimmer of a ZIP FILE in, which another Norvik wrote."""
    settings = Settings.from_environment()
    settings.prepare()
    migrate(settings.database)
    with connected(settings.database) as connection:
        try:
            made = read_swimmer(connection, settings, file, None)
        except NorvikError as error:
            click.echo(error.sentence, err=True)
            sys.exit(1)
        click.echo(f"{swimmers.by_id(connection, made).name} is here, as swimmer {made}")
