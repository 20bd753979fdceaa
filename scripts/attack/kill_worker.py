"""Kills the worker at random while it prepares films, and looks for what was lost or half-made.

    python -m scripts.attack.kill_worker --kills 200

In the end every recording is ready, or failed with a sentence and ready once it is tried again; no
part of a film is left over, and the database is whole.
"""

from __future__ import annotations

import argparse
import random
import shutil
import signal
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from tests.clips import numbered_clip

from norvik.intake.receive import receive
from norvik.jobs.sweep import sweep
from norvik.settings import Settings
from norvik.store import clips, jobs, recordings, swimmers
from norvik.store.clips import Facts
from norvik.store.connection import connected, damage, migrate
from norvik.store.swimmers import Swimmer
from norvik.work_names import OPEN
from scripts.attack.workers import a_minute_later, end, until_it_works, worker_of


def _bring_in(settings: Settings, film: bytes, count: int) -> None:
    """So many recordings, each with other bytes behind its end."""
    with connected(settings.database) as connection:
        swimmers.add(connection, Swimmer("Wren Alder"))
        for n in range(count):
            path = settings.data / f"{n}.mp4"
            path.write_bytes(film + n.to_bytes(8, "big"))
            with path.open("rb") as stream:
                said = Facts(swimmer_id=1, filmed_on="2026-11-20")
                receive(settings, connection, stream, path.name, said, stretch=1)
            path.unlink()


def _states(settings: Settings) -> dict[str, int]:
    found: dict[str, int] = {}
    with connected(settings.database) as connection:
        for recording in recordings.everyone(connection):
            found[recording.state] = found.get(recording.state, 0) + 1
    return found


def attack(
    kills: int, films: int, frames: int, seed: int, told: Callable[[str], None]
) -> list[str]:
    """Kill the worker so often; gives what went wrong, each a sentence."""
    folder = Path(tempfile.mkdtemp())
    settings = Settings(folder / "data")
    settings.prepare()
    migrate(settings.database)
    film = numbered_clip(folder / "a.mp4", [n / 60 for n in range(frames)], busy=True)
    _bring_in(settings, film.read_bytes(), films)
    numbers, wrong, at_work = random.Random(seed), list[str](), 0
    for n in range(kills):
        worker = worker_of(settings)
        at_work += until_it_works(settings)
        time.sleep(numbers.uniform(0.0, 1.5))
        worker.send_signal(signal.SIGKILL)
        worker.wait()
        with connected(settings.database) as connection:
            found = damage(connection)
            if found:
                wrong.append(f"after kill {n + 1}: {found}")
            a_minute_later(settings)
        if (n + 1) % 20 == 0:
            told(f"{n + 1} kills: {_states(settings)}")
    before = _states(settings)
    _again(settings)
    _finish(settings, wrong)
    sweep(settings, keep_s=0)
    left = [p.name for p in (*settings.files.glob("*/*.part"), *settings.work.iterdir())]
    told(
        f"{kills} kills, {at_work} at work: {before}, in the end {_states(settings)}; "
        f"{len(left)} parts left"
    )
    wrong += [f"{name} is left over" for name in left]
    shutil.rmtree(folder)
    return wrong


def _again(settings: Settings) -> None:
    """Try again what ended with a sentence, as somebody would on the page."""
    with connected(settings.database) as connection:
        for recording in recordings.everyone(connection):
            if recording.state == "failed":
                recordings.set_waiting(connection, recording.id)
                jobs.add(connection, OPEN, {"recording_id": recording.id}, recording.id)


def _finish(settings: Settings, wrong: list[str]) -> None:
    worker = worker_of(settings)
    deadline = time.monotonic() + 900
    while set(_states(settings)) != {"ready"} and time.monotonic() < deadline:
        time.sleep(0.5)
    worker.terminate()
    worker.wait(30)
    wrong += [f"{n} recordings are {s}" for s, n in _states(settings).items() if s != "ready"]
    with connected(settings.database) as connection:
        for clip in clips.newest_first(connection, limit=10_000):
            path = settings.data / str(clip.recording.review_path)
            if not path.is_file():
                wrong.append(f"clip {clip.id} has no film")


def main() -> None:
    arguments = argparse.ArgumentParser(description=__doc__)
    arguments.add_argument("--kills", type=int, default=200)
    arguments.add_argument("--films", type=int, default=40)
    arguments.add_argument("--frames", type=int, default=200)
    arguments.add_argument("--seed", type=int, default=1)
    said = arguments.parse_args()
    wrong = attack(
        said.kills, said.films, said.frames, said.seed, lambda text: print(text, flush=True)
    )
    end(wrong)


if __name__ == "__main__":
    main()
