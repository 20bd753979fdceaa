"""Run with `make bench`. Takes about half an hour."""

from __future__ import annotations

import os
import tempfile
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


def main() -> None:
    print(f"Norvik benchmark on {os.cpu_count()} cores. Times in ms where no unit is given.\n")
    line("what", "measured", "to reach")
    with tempfile.TemporaryDirectory() as folder:
        room = Path(folder)
        core.run()
        marking.run()
        model.run(room)
        reading.run(room)
        clip = footage.run(room)
        browser.run(room, clip)
        side_by_side.run(room)
        drawing.run(room)
        intake.run(room, clip)
        library.run(room)
        library.run_large(room)
        judging.run(room)
        talk.run(room)
        away.run(room)
        start.run(room)


main()
