"""Kills the worker at random while it makes the film of a talk, and looks for what was left.

    python -m scripts.attack.kill_filming --kills 100

In the end the film is there once and whole, as long as the talk, with its sound; every talk can
still be played back; no part of a film is left over, and the database is whole.
"""

from __future__ import annotations

import argparse
import os
import random
import shutil
import signal
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import av
from tests.clips import numbered_clip
from tests.talks import clip_film, record, stage, tone, whole

from norvik.intake.receive import receive
from norvik.jobs.runner import run_through
from norvik.jobs.sweep import KEEP_ORPHANS_S, sweep
from norvik.settings import Settings
from norvik.store import clips, swimmers, talks, users
from norvik.store.clips import Facts
from norvik.store.connection import connected, damage, migrate
from norvik.store.swimmers import Swimmer
from norvik.workflow.review_judgement import review_of
from norvik.workflow.talk.assemble import assemble
from norvik.workflow.talk.films import ask_for, state_of, talk_wish
from scripts.attack.workers import a_minute_later, end, until_it_works, worker_of

#: Frames of the clip that is spoken over, at 60 a second.
_FRAMES = 240


def _talk(settings: Settings, folder: Path, seconds: int) -> int:
    """A clip that is ready, and a talk over it that shows ten frames a second."""
    film = numbered_clip(folder / "a.mp4", [n / 60 for n in range(_FRAMES)])
    with connected(settings.database) as connection:
        users.add(connection, "coach@club.example", "Coach", "head-coach", "")
        swimmers.add(connection, Swimmer("Wren Alder"))
        with film.open("rb") as stream:
            said = Facts(swimmer_id=1, filmed_on="2026-11-20")
            _, job = receive(settings, connection, stream, film.name, said, stretch=1)
    run_through(settings, job)
    shown = [[100 * n, "frame", 0, 7 * n % _FRAMES] for n in range(10 * seconds)]
    deeds = [stage(clip_film(1)), whole(0), *shown, [1000 * seconds, "end"]]
    with connected(settings.database) as connection:
        review = review_of(connection, clips.by_id(connection, 1))
        talk = talks.add(connection, review.id, 1)
        record(connection, talk, deeds, sound=tone(seconds))
    return talk


def attack(kills: int, seconds: int, seed: int, told: Callable[[str], None]) -> list[str]:
    """Kill the worker so often; gives what went wrong, each a sentence."""
    folder = Path(tempfile.mkdtemp())
    settings = Settings(folder / "data")
    settings.prepare()
    migrate(settings.database)
    talk = _talk(settings, folder, seconds)
    numbers, wrong, under_way = random.Random(seed), list[str](), 0
    ended = 0
    with connected(settings.database) as connection:
        wish = talk_wish(talks.by_id(connection, talk), "wide")
        heard = _deeds(settings, talk)
    for n in range(kills):
        with connected(settings.database) as connection:
            ask_for(connection, wish)
        worker = worker_of(settings)
        under_way += until_it_works(settings)
        time.sleep(numbers.uniform(0.0, 0.05 * seconds))
        worker.send_signal(signal.SIGKILL)
        worker.wait()
        with connected(settings.database) as connection:
            found = damage(connection)
            if found:
                wrong.append(f"after kill {n + 1}: {found}")
            state = state_of(connection, wish)
            ended += state.film is not None
            if state.film is not None and (problem := _broken(settings, state.film.path, seconds)):
                wrong.append(f"after kill {n + 1}: {problem}")
            a_minute_later(settings)
        if _deeds(settings, talk) != heard:
            wrong.append(f"after kill {n + 1}: the talk has changed")
    _finish(settings, wish, seconds, wrong)
    # What a killed worker had begun to write is cleared away a day later.
    a_day_ago = time.time() - KEEP_ORPHANS_S - 60
    begun = list(settings.work.iterdir())
    for path in begun:
        os.utime(path, (a_day_ago, a_day_ago))
    sweep(settings, keep_s=0)
    left = [p.name for p in (*settings.files.glob("*/*.part"), *settings.work.iterdir())]
    wrong += [f"{name} is left over" for name in left]
    told(
        f"{kills} kills, {under_way} at work, of which the film was ended before {ended}; "
        f"{len(begun)} folders begun, {len(left)} left after a day"
    )
    shutil.rmtree(folder)
    return wrong


def _deeds(settings: Settings, talk: int) -> list[object]:
    """Everything that was done in a talk."""
    with connected(settings.database) as connection:
        whole_talk = assemble(connection, talks.by_id(connection, talk))
    return [deed for score in whole_talk.scores.values() for deed in score.deeds]


def _finish(settings: Settings, wish: dict[str, object], seconds: int, wrong: list[str]) -> None:
    """Ask for it as somebody would who comes back, and wait.

    A job in which three workers died ends with a sentence and is asked for once more.
    """
    worker = worker_of(settings)
    deadline = time.monotonic() + 300
    while time.monotonic() < deadline:
        with connected(settings.database) as connection:
            state = state_of(connection, wish)
            if state.film is not None:
                break
            ask_for(connection, wish)
        time.sleep(0.3)
    worker.terminate()
    worker.wait(30)
    if state.film is None:
        wrong.append(f"the film is not there: {state.failed or 'still being made'}")
    elif problem := _broken(settings, state.film.path, seconds):
        wrong.append(problem)


def _broken(settings: Settings, path: str, seconds: int) -> str:
    """What is wrong with a film that is said to be there; empty where nothing is."""
    file = settings.data / path
    if not file.is_file():
        return "a film that is said to be there is none"
    try:
        with av.open(str(file)) as film:
            pictures = sum(1 for _ in film.decode(video=0))
        with av.open(str(file)) as film:
            heard_s = sum(f.samples / f.sample_rate for f in film.decode(audio=0))
    except av.FFmpegError as error:
        return f"the film cannot be read: {error}"
    if abs(pictures - 30 * seconds) > 1 or abs(heard_s - seconds) > 0.1:
        return f"the film has {pictures} pictures and {heard_s:.1f} s of sound for {seconds} s"
    return ""


def main() -> None:
    arguments = argparse.ArgumentParser(description=__doc__)
    arguments.add_argument("--kills", type=int, default=100)
    arguments.add_argument("--seconds", type=int, default=20)
    arguments.add_argument("--seed", type=int, default=1)
    said = arguments.parse_args()
    wrong = attack(said.kills, said.seconds, said.seed, lambda text: print(text, flush=True))
    end(wrong)


if __name__ == "__main__":
    main()
