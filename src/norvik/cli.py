"""The `norvik` command. Each command lives in a module of norvik.commands."""

from __future__ import annotations

import click

from norvik import __version__
from norvik.commands.footage import probe, review_copy
from norvik.commands.library import add, user
from norvik.commands.serving import demo, demo_film, serve, worker
from norvik.commands.sim import sim
from norvik.commands.timing import timing


@click.group()
@click.version_option(__version__)
def main() -> None:
    """Stroke review for swimming coaches."""


for command in (demo, serve, worker, timing, probe, review_copy, sim, add, user, demo_film):
    main.add_command(command)
