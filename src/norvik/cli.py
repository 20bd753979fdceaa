"""The `norvik` command. Each command lives in a module of norvik.commands.

A module is imported when its command is called: `norvik timing` does not wait for the web.
"""

from __future__ import annotations

import importlib
import os

import click

from norvik import __version__

#: Command: its module in norvik.commands, and its name there.
_COMMANDS = {
    "add": ("library", "add"),
    "backup": ("backup", "backup"),
    "change": ("answering", "change"),
    "doctor": ("doctor", "doctor"),
    "demo": ("serving", "demo"),
    "demo-film": ("serving", "demo_film"),
    "judge": ("answering", "judge"),
    "mail": ("mail", "mail"),
    "prescribe": ("answering", "prescribe_command"),
    "probe": ("footage", "probe"),
    "read": ("reading", "read"),
    "restore": ("backup", "restore"),
    "review-copy": ("footage", "review_copy"),
    "schema": ("schema", "schema"),
    "serve": ("serving", "serve"),
    "sim": ("sim", "sim"),
    "swimmer": ("swimmer", "swimmer"),
    "timing": ("timing", "timing"),
    "user": ("people", "user"),
    "verify": ("backup", "verify"),
    "worker": ("serving", "worker"),
}


#: Modules whose commands work on a few hundred numbers.
_SMALL = {"answering", "timing"}


class _Lazy(click.Group):
    """A group whose commands are imported when they are asked for."""

    def list_commands(self, context: click.Context) -> list[str]:
        return sorted(_COMMANDS)

    def get_command(self, context: click.Context, name: str) -> click.Command | None:
        if name not in _COMMANDS:
            return None
        module, attribute = _COMMANDS[name]
        if module in _SMALL:
            # NumPy would start a thread for each processor, which costs more than the answer.
            os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
        command = getattr(importlib.import_module(f"norvik.commands.{module}"), attribute)
        assert isinstance(command, click.Command)
        return command


@click.group(cls=_Lazy)
@click.version_option(__version__)
def main() -> None:
    """Stroke review for swimming coaches."""
    # Films of people, health notes, password hashes: files are made for their owner alone.
    os.umask(0o077)
