"""Kills the web server at random while clients write, and looks for what was lost.

    python -m scripts.attack.kill_server --kills 1000

What was acknowledged (an answer under 400) has to be in the database at the end; after each kill
the database has to be whole; nothing half-made stays. Ends with 1 where something is wrong. SIGTERM
ends a long run early, with the same look at what it did.
"""

from __future__ import annotations

import argparse
import json
import os
import random
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field
from http.client import HTTPException, HTTPResponse
from http.cookiejar import CookieJar
from pathlib import Path

from tests.clips import numbered_clip

from norvik.intake.receive import receive
from norvik.jobs.runner import run_through
from norvik.settings import Settings
from norvik.store import clips, swimmers, users
from norvik.store.clips import Facts
from norvik.store.connection import connected, migrate
from norvik.store.swimmers import Swimmer
from norvik.workflow.passwords import hash_password
from norvik.workflow.review_judgement import review_of
from scripts.attack.workers import end

EMAIL, PASSWORD = "coach@club.example", "blue lane rope morning"
#: A client whose server is gone asks again after so many seconds.
_PAUSE_S = 0.05
#: Events of both arms, over all frames: each mark is one of a kind.
EVENTS = ("entry", "catch", "press", "exit")


@dataclass
class Tally:
    """What was acknowledged, by kind; failed: answers that came and said no."""

    kills: int = 0
    marks: set[tuple[int, str, str]] = field(default_factory=set)
    remarks: set[str] = field(default_factory=set)
    drawings: set[str] = field(default_factory=set)
    ticks: int = 0
    uploads: set[int] = field(default_factory=set)
    bits: set[int] = field(default_factory=set)
    answers: Counter[str] = field(default_factory=Counter)


class Client:
    """A browser that is signed in; asks again by itself when the line breaks."""

    def __init__(self, base: str) -> None:
        self._base = base
        self._opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
        self._token = ""

    def sign_in(self) -> None:
        page = self._ask("GET", "/sign-in")[1]
        self._token = page.split('name="csrf-token" content="')[1].split('"')[0]
        self._ask("POST", "/sign-in", {"email": EMAIL, "password": PASSWORD})
        page = self._ask("GET", "/swimmers/")[1]
        self._token = page.split('name="csrf-token" content="')[1].split('"')[0]

    def post(self, path: str, form: dict[str, str]) -> int:
        """The status of the answer; 0 where none came, and nobody knows whether it was done."""
        try:
            return self._ask("POST", path, form)[0]
        except (OSError, HTTPException):
            time.sleep(_PAUSE_S)
            return 0

    def raw(
        self, method: str, path: str, data: bytes, headers: dict[str, str]
    ) -> tuple[int, str, dict[str, str]]:
        headers = {**headers, "X-CSRFToken": self._token, "Accept": "application/json"}
        request = urllib.request.Request(self._base + path, data, headers, method=method)
        try:
            with self._opener.open(request, timeout=20) as answer:
                return answer.status, answer.read().decode(), dict(answer.headers)
        except urllib.error.HTTPError as error:
            return error.code, error.read().decode(errors="replace"), dict(error.headers)

    def held_open(self, path: str, headers: dict[str, str]) -> HTTPResponse:
        """An answer of which nothing but the head was read."""
        opened: HTTPResponse = self._opener.open(
            urllib.request.Request(self._base + path, headers=headers), timeout=20
        )
        return opened

    def _ask(self, method: str, path: str, form: dict[str, str] | None = None) -> tuple[int, str]:
        data = urllib.parse.urlencode(form).encode() if form is not None else None
        headers = {"X-CSRFToken": self._token, "Accept": "text/html"}
        request = urllib.request.Request(self._base + path, data, headers, method=method)
        try:
            with self._opener.open(request, timeout=20) as answer:
                return answer.status, answer.read().decode()
        except urllib.error.HTTPError as error:
            return error.code, error.read().decode(errors="replace")


class Server:
    """`norvik serve` as a process that can be killed and started again."""

    def __init__(self, settings: Settings, port: int) -> None:
        self.environment = {**os.environ, "NORVIK_DATA": str(settings.data)}
        self._port = port
        self.process = self._start()

    def _start(self) -> subprocess.Popen[bytes]:
        return subprocess.Popen(
            [sys.executable, "-m", "norvik", "serve", "--port", str(self._port)],
            env=self.environment, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )  # fmt: skip

    def wait(self, seconds: float = 60) -> None:
        deadline = time.monotonic() + seconds
        while time.monotonic() < deadline:
            try:
                address = f"http://127.0.0.1:{self._port}/healthz"
                urllib.request.urlopen(address, timeout=2).close()
                return
            except OSError:
                time.sleep(0.02)
        raise SystemExit("The server did not start again.")

    def kill(self) -> None:
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()
        self.process = self._start()

    def stop(self) -> None:
        self.process.terminate()
        self.process.wait(30)


def make_house(folder: Path, frames: int) -> tuple[Settings, Path]:
    """A data folder with a coach, a swimmer and a clip; and a small film to upload."""
    settings = Settings(folder / "data")
    settings.prepare()
    migrate(settings.database)
    film = numbered_clip(folder / "a.mp4", [n / 60 for n in range(frames)])
    small = numbered_clip(folder / "small.mp4", [n / 30 for n in range(12)])
    with connected(settings.database) as connection:
        users.add(connection, EMAIL, "Coach", "head-coach", hash_password(PASSWORD))
        swimmers.add(connection, Swimmer("Wren Alder"))
        with film.open("rb") as stream:
            said = Facts(swimmer_id=1, filmed_on="2026-11-20", pool_m=25.0)
            _, job = receive(settings, connection, stream, film.name, said, stretch=1)
        run_through(settings, job)
        review_of(connection, clips.by_id(connection, 1))
    return settings, small


def writers(tally: Tally, frames: int, small: Path, seed: int) -> list[Callable[[Client], None]]:
    """What the clients do, each over and over."""
    numbers = random.Random(seed)
    # Each mark is asked for once: whether it is there says whether its answer was true.
    free = [(f, s, e) for f in range(frames) for s in ("left", "right") for e in EVENTS]
    numbers.shuffle(free)
    data = small.read_bytes()

    def mark(client: Client) -> None:
        frame, side, event = free.pop()
        form = {"frame": str(frame), "lane": "arm", "side": side, "event": event}
        code = client.post("/clips/1/marks", form)
        tally.answers[f"mark {code}"] += 1
        if 200 <= code < 400:
            tally.marks.add((frame, side, event))

    def remark(client: Client) -> None:
        text = f"remark {numbers.random()}"
        code = client.post("/clips/1/remarks/", {"text": text})
        tally.answers[f"remark {code}"] += 1
        if 200 <= code < 400:
            tally.remarks.add(text)

    def draw(client: Client) -> None:
        name = f"drawn {numbers.random()}"
        form = {"kind": "text", "frame": "3", "points": "10,10", "text": name}
        code = client.post("/clips/1/drawings/", form)
        tally.answers[f"drawing {code}"] += 1
        if 200 <= code < 400:
            tally.drawings.add(name)

    def upload(client: Client) -> None:
        # One of a kind: bytes behind the film's end make another checksum.
        body = data + numbers.randbytes(16)
        tus = {"Tus-Resumable": "1.0.0"}
        name = f"{numbers.random()}.mp4"
        try:
            code, _, headers = client.raw(
                "POST", "/uploads", b"", {**tus, "Upload-Length": str(len(body))}
            )
            if code != 201:
                return
            path = urllib.parse.urlsplit(headers["Location"]).path
            piece = {**tus, "Upload-Offset": "0", "Content-Type": "application/offset+octet-stream"}
            if client.raw("PATCH", path, body, piece)[0] != 204:
                return
            form = urllib.parse.urlencode(
                {"upload": path.rpartition("/")[2], "name": name, "swimmer_id": "1"}
            ).encode()
            kind = {"Content-Type": "application/x-www-form-urlencoded"}
            code, text, _ = client.raw("POST", "/clips", form, kind)
            tally.answers[f"upload {code}"] += 1
            if code == 201:
                tally.uploads.add(json.loads(text)["clip"])
        except (OSError, HTTPException):
            tally.answers["upload 0"] += 1
            time.sleep(_PAUSE_S)

    return [mark, mark, remark, draw, upload]


def lost(settings: Settings, tally: Tally) -> list[str]:
    """What was acknowledged and is not there, each a sentence."""
    with connected(settings.database) as connection:
        marks = {
            (r["frame"], r["side"], r["event"])
            for r in connection.execute("SELECT frame, side, event FROM marks WHERE clip_id = 1")
        }
        remarks = {r["text"] for r in connection.execute("SELECT text FROM remarks")}
        drawn = {r["text"] for r in connection.execute("SELECT text FROM drawings")}
        there = {r["id"] for r in connection.execute("SELECT id FROM clips")}
        paths = {
            r["original_path"] for r in connection.execute("SELECT original_path FROM recordings")
        }
    wrong = [f"mark {one} is lost" for one in tally.marks - marks]
    wrong += [f"{one} is lost" for one in tally.remarks - remarks]
    wrong += [f"{one} is lost" for one in tally.drawings - drawn]
    wrong += [f"clip {one} is lost" for one in tally.uploads - there]
    wrong += [f"{path} has no file" for path in paths if not (settings.data / path).is_file()]
    # A file without a row is a kill between the two; the sweep takes it after a day.
    orphans = [p for p in settings.originals.iterdir() if settings.relative(p) not in paths]
    tally.answers["originals for the sweep"] = len(orphans)
    return wrong


def whole(settings: Settings) -> str:
    with connected(settings.database) as connection:
        try:
            found = str(connection.execute("PRAGMA integrity_check").fetchone()[0])
            broken = connection.execute("PRAGMA foreign_key_check").fetchall()
        except sqlite3.DatabaseError as error:
            return str(error)
    return "ok" if found == "ok" and not broken else f"{found}, {len(broken)} references"


def _wait_for_writing(tally: Tally, seconds: float = 10.0) -> None:
    """Until every kind of client but the uploading one was answered since the last start."""
    before, deadline = Counter(tally.answers), time.monotonic() + seconds
    wanted = ("mark 200", "remark 200", "drawing 200")
    while time.monotonic() < deadline:
        if all(tally.answers[kind] > before[kind] for kind in wanted):
            return
        time.sleep(0.01)


def attack(
    kills: int, seed: int, frames: int, told: Callable[[str], None],
    enough: threading.Event | None = None,
) -> list[str]:  # fmt: skip
    """Kill the server so often under writing clients; gives what went wrong.

    enough: once it is set, no more kills; what was acknowledged until then is looked for.
    """
    enough = enough or threading.Event()
    folder = Path(tempfile.mkdtemp())
    settings, small = make_house(folder, frames)
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    server, tally, stop = Server(settings, port), Tally(), threading.Event()
    server.wait()
    numbers, wrong, inside = random.Random(seed), list[str](), threading.Semaphore(0)

    def work(deed: Callable[[Client], None]) -> None:
        client = Client(f"http://127.0.0.1:{port}")
        signed = False
        while not stop.is_set():
            try:
                if not signed:
                    client.sign_in()
                    signed = True
                    inside.release()
                deed(client)
            except (OSError, HTTPException, IndexError):
                time.sleep(0.05)

    threads = [
        threading.Thread(target=work, args=(deed,), daemon=True)
        for deed in writers(tally, frames, small, seed)
    ]
    for thread in threads:
        thread.start()
    for _ in threads:
        if not inside.acquire(timeout=60):
            raise SystemExit("The clients could not sign in.")
    try:
        while tally.kills < kills and not enough.is_set():
            n = tally.kills
            _wait_for_writing(tally)
            time.sleep(numbers.uniform(0.0, 0.5))
            server.kill()
            state = whole(settings)
            if state != "ok":
                wrong.append(f"after kill {n + 1}: {state}")
            server.wait()
            tally.kills += 1
            if tally.kills % 50 == 0:
                told(f"{tally.kills} kills: {dict(sorted(tally.answers.items()))}")
    finally:
        stop.set()
        for thread in threads:
            thread.join(30)
        server.stop()
    wrong += lost(settings, tally)
    told(
        f"{tally.kills} kills; acknowledged: {len(tally.marks)} marks, {len(tally.remarks)} remarks"
        f", {len(tally.drawings)} drawings, {len(tally.uploads)} uploads; {len(wrong)} wrong"
    )
    told(str(dict(sorted(tally.answers.items()))))
    shutil.rmtree(folder)
    return wrong


def main() -> None:
    arguments = argparse.ArgumentParser(description=__doc__)
    arguments.add_argument("--kills", type=int, default=1000)
    arguments.add_argument("--seed", type=int, default=1)
    arguments.add_argument("--frames", type=int, help="of the clip that is marked")
    said = arguments.parse_args()
    # Some ninety marks are asked for between two kills, eight a frame at most.
    frames = said.frames or max(3000, 15 * said.kills)
    enough = threading.Event()
    signal.signal(signal.SIGTERM, lambda *_: enough.set())
    end(attack(said.kills, said.seed, frames, lambda text: print(text, flush=True), enough))


if __name__ == "__main__":
    main()
