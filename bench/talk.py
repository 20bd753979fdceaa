"""Films of talks: how fast they are made, how exactly sound and picture meet, how few bytes."""

from __future__ import annotations

import json
import math
import random
import sqlite3
import subprocess
import time
import zlib
from pathlib import Path
from typing import Any

import av
import numpy as np
from tests.browser.serving import chromium, running
from tests.clips import numbered_clip, read_number
from tests.talks import clicks, clip_film, record, stage, tone, whole

from bench.figures import line, percentiles
from bench.people import add_coach
from norvik.footage.talk_sound import RATE
from norvik.intake.receive import receive
from norvik.jobs.runner import run_through
from norvik.painting.raster import as_png
from norvik.settings import Settings
from norvik.store import clips, made_films, review_links, reviews, swimmers, talks
from norvik.store.clips import Facts
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.workflow.review_judgement import review_of
from norvik.workflow.talk.films import ask_for, talk_wish

SIZE, SPOKEN_S, LONG_S = (1280, 720), 60, 600
#: A weak line by a pool: latency in milliseconds, bytes a second (own choice).
_SLOW = {
    "offline": False, "latency": 150,
    "downloadThroughput": 1.6e6 / 8, "uploadThroughput": 750e3 / 8,
}  # fmt: skip
#: Milliseconds from the wish to play until the picture moves.
_PLAYS = """(at) => new Promise((resolve) => {
  const film = document.getElementById("film");
  film.pause();
  const began = performance.now();
  film.addEventListener("playing", () => resolve(performance.now() - began), { once: true });
  film.muted = true;
  film.currentTime = at;
  film.play();
})"""
_INK = (
    '<g class="drawing fault"><polyline class="casing" points="200,300 640,360 900,200"/>'
    '<polyline class="ink" points="200,300 640,360 900,200"/>'
    '<g class="word" transform="translate(650 340)"><text font-size="30">104°</text></g></g>'
)


def run(room: Path) -> None:
    settings = Settings(room / "talk")
    film = numbered_clip(room / "talked.mp4", [k / 60 for k in range(900)], SIZE, busy=True)
    add_coach(settings)
    with connected(settings.database) as connection:
        swimmers.add(connection, Swimmer(name="Wren Alder"))
        with film.open("rb") as stream:
            facts = Facts(swimmer_id=1, filmed_on="2026-11-20")
            _, job = receive(settings, connection, stream, film.name, facts)
        run_through(settings, job)
        review = review_of(connection, clips.by_id(connection, 1))
        _speed(settings, review.id, room)
        _slow_line(settings, review.id)
        _together(settings, review.id)
        _bytes()
        _guesses(connection, review.id)


def _spoken(seconds: float) -> list[list[Any]]:
    """As one talks: a stretch played at a quarter, a freeze with a drawing, the pointer."""
    deeds: list[list[Any]] = [stage(clip_film(1, "Wren, 20 November", SIZE)), whole(0, SIZE)]
    at, frame = 0.0, 10
    while at < 1000 * seconds - 6000:
        deeds.append([at, "speed", 0.25, 1])
        for _ in range(45):
            frame = 10 + (frame - 9) % 850
            deeds.append([at, "frame", 0, frame])
            at += 1000 / 15
        deeds += [[at, "speed", 0.25, 0], [at + 400, "ink", 0, [0]]]
        deeds += [[at + 800 + 30 * n, "spot", 0, 0.3 + n / 100, 0.5] for n in range(30)]
        deeds += [[at + 1800, "spot", -1], [at + 2800, "ink", 0, []]]
        at += 3000
    return [*deeds, [1000 * seconds, "end"]]


def _film(settings: Settings, talk_id: int) -> tuple[Path, float]:
    """The film of a talk, and the seconds that making it took."""
    with connected(settings.database) as connection:
        wish = talk_wish(talks.by_id(connection, talk_id), "wide")
        job = ask_for(connection, wish)
        assert job is not None
        began = time.perf_counter()
        run_through(settings, job)
        took = time.perf_counter() - began
        film = made_films.find(connection, wish)
        assert film is not None, "the film was not made"
        return settings.data / film.path, took


def _speed(settings: Settings, review_id: int, room: Path) -> None:
    with connected(settings.database) as connection:
        talk_id = talks.add(connection, review_id, None)
        record(
            connection, talk_id, _spoken(SPOKEN_S), tone(SPOKEN_S), {"0": _INK}, key="speed-0001"
        )
    film, took = _film(settings, talk_id)
    line(f"film of a talk, {SPOKEN_S} s at 720p, times real time", f"{SPOKEN_S / took:.1f}", "1.5")
    told = json.loads(subprocess.check_output(
        ["ffprobe", "-v", "error", "-show_streams", "-show_chapters", "-of", "json", str(film)]
    ))  # fmt: skip
    kinds = [s["codec_name"] for s in told["streams"]]
    line("  what ffprobe finds in it", ", ".join(kinds[:3]), "h264, aac")
    # The same frames with one drawing laid on, by the command line.
    overlay = room / "overlay.png"
    overlay.write_bytes(as_png(
        f'<svg xmlns="http://www.w3.org/2000/svg" width="1280" height="720">'
        f'<g stroke="#f4ae1f" fill="none" stroke-width="4">{_INK}</g></svg>'
    ))  # fmt: skip
    plain = room / "plain.mp4"
    _picture_film(film, plain)
    began = time.perf_counter()
    subprocess.run(
        ["ffmpeg", "-v", "error", "-y", "-i", str(plain), "-i", str(overlay), "-i", str(film),
         "-filter_complex", "[0:v][1:v]overlay[v];[2:a]loudnorm=I=-16:TP=-1.5:LRA=9[a]",
         "-map", "[v]", "-map", "[a]", "-c:v", "libx264", "-preset", "veryfast", "-crf", "22",
         "-c:a", "aac", "-b:a", "96k", "-movflags", "+faststart", str(room / "by-hand.mp4")],
        check=True,
    )  # fmt: skip
    line("  against ffmpeg's own overlay", f"{took / (time.perf_counter() - began):.2f}", "1.3")


def _slow_line(settings: Settings, review_id: int) -> None:
    """How soon a talk plays on a swimmer's phone: from the tap to the first moving picture."""
    with connected(settings.database) as connection:
        reviews.set_done(connection, review_id, True)
        talk = talks.of_review(connection, review_id)[0]
        film = made_films.find(connection, talk_wish(talk, "wide"))
        assert film is not None, "the film was not made"
        link_id = review_links.add(connection, review_id, "2099-01-01", film.id, None)
        token = review_links.by_id(connection, review_id, link_id).token
    begun, jumped = [], []
    with running(settings) as address, chromium() as browser:
        for _ in range(8):
            context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True)
            page = context.new_page()
            context.new_cdp_session(page).send("Network.emulateNetworkConditions", _SLOW)
            page.goto(f"{address}/r/{token}/")
            page.wait_for_function("() => document.getElementById('film').readyState > 0")
            begun.append(page.evaluate(_PLAYS, 0))
            jumped.append(page.evaluate(_PLAYS, SPOKEN_S / 2))
            context.close()
    line("a talk plays after the tap, 1.6 Mbit/s and 150 ms", percentiles(begun), "under 1000")
    line("  and from its middle", percentiles(jumped), "")


def _picture_film(source: Path, out: Path) -> None:
    """Its pictures alone, as the command line would read them from a film."""
    subprocess.run(
        ["ffmpeg", "-v", "error", "-y", "-i", str(source), "-an", "-sn", "-c:v", "copy", str(out)],
        check=True,
    )


def _together(settings: Settings, review_id: int) -> None:
    """A flash and a click every few seconds for ten minutes, measured on the finished file."""
    chance = random.Random(5)
    at_s, at = [], 1.0
    while at < LONG_S - 2:
        at_s.append(round(at, 3))
        at += 2.5 + 2 * chance.random()
    flashes = [[1000 * s, "frame", 0, 1 + n % 800] for n, s in enumerate(at_s)]
    deeds = [stage(clip_film(1, "", SIZE)), whole(0, SIZE), [0, "frame", 0, 0], *flashes,
             [1000 * LONG_S, "end"]]  # fmt: skip
    with connected(settings.database) as connection:
        talk_id = talks.add(connection, review_id, None)
        record(connection, talk_id, deeds, clicks(LONG_S, *at_s), key="together-1")
    film, took = _film(settings, talk_id)
    line(f"film of {LONG_S // 60} minutes, times real time", f"{LONG_S / took:.1f}", "1.5")
    with av.open(str(film)) as made:
        numbers = [
            read_number(f.to_ndarray(format="bgr24").astype(np.uint8)) for f in made.decode(video=0)
        ]
    with av.open(str(film)) as made:
        loud = np.abs(np.concatenate([f.to_ndarray()[0] for f in made.decode(audio=0)])) > 0.1
    seen = [n / 30 for n in range(1, len(numbers)) if numbers[n] != numbers[n - 1]]
    heard, quiet_until = [], -1
    for k in map(int, np.flatnonzero(loud)):
        if k > quiet_until:
            heard.append(k / RATE)
        quiet_until = k + RATE // 5
    apart = [abs(a - b) for a, b in zip(seen, heard, strict=True)]
    line("  sound and picture apart at most, ms", f"{1000 * max(apart):.0f}", "40")
    line("  deeds that were compared", str(len(apart)), str(len(at_s)))


def _guesses(connection: sqlite3.Connection, review_id: int) -> None:
    """Whether the time of an answer tells a link that has run out from one that never was."""
    today, long_ago = "2026-11-28", "2026-01-01"
    tokens = {}
    for kind, until in (
        ("opens", "2027-12-01"),
        ("ran out", long_ago),
        ("taken back", "2027-12-01"),
    ):
        link = review_links.by_id(
            connection, review_id, review_links.add(connection, review_id, until, None, None)
        )
        if kind == "taken back":
            review_links.take_back(connection, link.id)
        tokens[kind] = link.token
    tokens["never was"] = "x" * 32
    took: dict[str, list[float]] = {kind: [] for kind in tokens}
    order = [kind for kind in tokens for _ in range(4000)]
    random.Random(3).shuffle(order)
    for kind in order:
        began = time.perf_counter()
        review_links.of_token(connection, tokens[kind], today)
        took[kind].append(1e6 * (time.perf_counter() - began))
    middle = {kind: float(np.median(v)) for kind, v in took.items()}
    said = ", ".join(f"{kind} {value:.0f}" for kind, value in middle.items())
    line("looking a link up, µs", said, "alike")


def _bytes() -> None:
    """Deeds and drawings of ten minutes, packed as they are kept, a second at a time."""
    deeds = _spoken(LONG_S)
    size = 0
    for second in range(LONG_S):
        mine = [d for d in deeds if 1000 * second <= d[0] < 1000 * (second + 1)]
        drawn = {"0": _INK} if second % 6 == 0 else {}
        size += len(zlib.compress(json.dumps([mine, drawn]).encode(), 6))
    line("ten minutes of talk without its sound, kB", f"{math.ceil(size / 1000)}", "1000")
