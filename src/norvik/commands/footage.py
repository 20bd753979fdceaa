"""`norvik probe` and `norvik review-copy`: footage without a database."""

from __future__ import annotations

import json
import os
import shutil
import sys
from pathlib import Path

import click

from norvik.core.errors import FootageError
from norvik.footage.probe import probe as probe_footage
from norvik.footage.review_copy import make_review_copy
from norvik.formats.frames_csv import write_frames

_VIDEO = click.Path(dir_okay=False, path_type=Path)


@click.command()
@click.argument("video", type=_VIDEO)
@click.option("--json", "as_json", is_flag=True, help="Print one JSON object, unrounded.")
def probe(video: Path, as_json: bool) -> None:
    """Tell what a VIDEO is, from its decoded frames."""
    try:
        found = probe_footage(video)
    except FootageError as error:
        click.echo(f"{video.name}: {error.sentence}", err=True)
        sys.exit(1)
    if found.losses.sentence():
        click.echo(f"{video.name}: {found.losses.sentence()}", err=True)
    facts = found.as_dict()
    if as_json:
        click.echo(json.dumps(facts, indent=1))
        return
    for name, value in facts.items():
        click.echo(f"{name:<17}{value}")


@click.command("review-copy")
@click.argument("video", type=_VIDEO)
@click.argument("out", type=_VIDEO)
def review_copy(video: Path, out: Path) -> None:
    """Make the review copy OUT.mp4 of a VIDEO, and OUT.frames.csv with every frame's time."""
    table = out.with_suffix(".frames.csv")
    part, table_part = out.with_name(out.name + ".part"), table.with_name(table.name + ".part")
    try:
        if not out.parent.is_dir():
            raise FootageError(f"There is no folder {out.parent}.")
        if out.exists() and video.exists() and out.samefile(video):
            raise FootageError("The review copy would replace its own source. Name another file.")
        made = make_review_copy(video, part)
        table_part.write_text(write_frames(made.media_s), encoding="utf-8", newline="")
        if not made.copied:
            shutil.copyfile(video, part)
        os.replace(part, out)
        os.replace(table_part, table)
    except (FootageError, OSError) as error:
        click.echo(f"{video.name}: {getattr(error, 'sentence', error)}", err=True)
        sys.exit(1)
    finally:
        for leftover in (part, table_part):
            leftover.unlink(missing_ok=True)
    if made.losses.sentence():
        click.echo(f"{video.name}: {made.losses.sentence()}", err=True)
