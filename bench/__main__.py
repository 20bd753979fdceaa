"""Run with `make bench`, in most of an hour; `python -m bench reading library` runs parts."""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

from bench import (
    away,
    browser,
    core,
    drawing,
    footage,
    intake,
    judging,
    library,
    marking,
    model,
    reading,
    side_by_side,
    start,
    talk,
)
from bench.figures import line

#: What needs the film that `footage` makes comes with it.
PARTS: dict[str, Callable[[Path], object]] = {
    "core": lambda room: core.run(),
    "marking": lambda room: marking.run(),
    "model": model.run,
    "reading": reading.run,
    "footage": lambda room: _with_a_film(room),
    "side_by_side": side_by_side.run,
    "drawing": drawing.run,
    "library": lambda room: _libraries(room),
    "judging": judging.run,
    "talk": talk.run,
    "away": away.run,
    "start": start.run,
}


def _with_a_film(room: Path) -> None:
    clip = footage.run(room)
    browser.run(room, clip)
    intake.run(room, clip)


def _libraries(room: Path) -> None:
    library.run(room)
    library.run_large(room)


def main() -> None:
    chosen = sys.argv[1:] or list(PARTS)
    if unknown := sorted(set(chosen) - set(PARTS)):
        sys.exit(f"No part is called {', '.join(unknown)}. There are: {', '.join(PARTS)}.")
    print(f"Norvik benchmark on {os.cpu_count()} cores. Times in ms where no unit is given.\n")
    line("what", "measured", "to reach")
    with tempfile.TemporaryDirectory() as folder:
        for part in chosen:
            PARTS[part](Path(folder))


main()
