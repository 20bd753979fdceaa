"""`norvik doctor`: is this installation well?"""

from __future__ import annotations

import sys
from dataclasses import asdict

import click
import msgspec

from norvik.house.doctor import examine
from norvik.settings import Settings

_SIGNS = {"well": "  ", "look": "! ", "broken": "X "}


@click.command()
@click.option("--json", "as_json", is_flag=True, help="As JSON, for a program.")
def doctor(as_json: bool) -> None:
    """Look at versions, disk, permissions, database, codec, fonts, clock, backup and jobs.

    Ends with 1 where something is broken.
    """
    settings = Settings.from_environment()
    found = examine(settings)
    if as_json:
        click.echo(msgspec.json.encode([asdict(check) for check in found]).decode())
    else:
        click.echo(f"Data folder: {settings.data}")
        for check in found:
            click.echo(f"{_SIGNS[check.state]}{check.name:<12} {check.says}")
    if any(check.state == "broken" for check in found):
        sys.exit(1)
