"""`norvik schema`: what the JSON files of Norvik look like, for programs that read them."""

from __future__ import annotations

import json

import click

from norvik.formats.schemas import SCHEMAS


@click.command()
@click.argument("what", type=click.Choice(sorted(SCHEMAS)))
def schema(what: str) -> None:
    """Print the JSON Schema (draft 2020-12) of a file or of what a command prints."""
    click.echo(json.dumps(SCHEMAS[what](), indent=1))
