"""The `norvik` command. Each command group lives in its own module of norvik.commands."""

from __future__ import annotations

import click

from norvik import __version__
from norvik.commands.footage import probe, review_copy
from norvik.commands.timing import timing


@click.group()
@click.version_option(__version__)
def main() -> None:
    """Stroke review for swimming coaches."""


for command in (timing, probe, review_copy):
    main.add_command(command)
