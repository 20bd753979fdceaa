"""Fills the disk under a running house, looks at what it says, makes room, counts what is there.

    python -m scripts.attack.full_disk --disk /mnt/small

The disk is a small file system of its own, empty, of 600 MB to 2 GB (as root one is made by
`mount -t tmpfs -o size=700m tmpfs /mnt/small`). While it is full, pages are shown, every refusal is
a sentence, and the server can be killed and started; with room again everything goes on. What was
acknowledged is there in the end.
"""

from __future__ import annotations

import argparse
import shutil
import socket
import sys
import time
from collections.abc import Callable
from pathlib import Path

from norvik.settings import Settings
from norvik.store import recordings
from norvik.store.connection import connected
from scripts.attack.kill_server import (
    Client,
    Server,
    Tally,
    lost,
    make_house,
    whole,
    writers,
)
from scripts.attack.workers import end, worker_of

_FRAMES = 240
#: So often each kind of client writes in each part.
_TIMES = 12
_PAGES = ("/", "/clips/1/", "/clips/1/judge", "/library/", "/swimmers/1")


def attack(disk: Path, told: Callable[[str], None]) -> list[str]:
    """What went wrong, each a sentence."""
    folder = disk / "house"
    folder.mkdir()
    settings, small = make_house(folder, _FRAMES)
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    server, worker = Server(settings, port), worker_of(settings)
    server.wait()
    client, tally, wrong = Client(f"http://127.0.0.1:{port}"), Tally(), list[str]()
    client.sign_in()
    deeds = writers(tally, _FRAMES, small, 1)

    def write(part: str, codes: set[str]) -> None:
        """Everybody writes; answers of other codes than these are wrong."""
        before = tally.answers.copy()
        for _ in range(_TIMES):
            for deed in deeds:
                deed(client)
        found = tally.answers - before
        told(f"{part}: {dict(sorted(found.items()))}")
        wrong.extend(f"{part}: {kind}" for kind in found if kind.split()[1] not in codes)

    def pages(part: str) -> None:
        for path in _PAGES:
            code = client.raw("GET", path, b"", {})[0]
            if code >= 400:
                wrong.append(f"{part}: {path} answers {code}")

    try:
        write("with room", {"200", "201"})
        _fill(disk / "ballast")
        pages("full")
        write("full", {"200", "201", "507"})
        code, text, _ = client.raw("POST", "/clips/1/remarks/", b"text=full", _FORM)
        told(f"full, said: {code} {text[:120]}")
        if code == 507 and "full" not in text:
            wrong.append("a full disk is refused without a word of it")
        server.kill()
        server.wait()
        pages("full, started anew")
        (disk / "ballast").unlink()
        # Without any answer in between: nobody has to start anything again.
        write("with room again", {"200", "201"})
        _until_ready(settings, wrong)
    finally:
        worker.terminate()
        worker.wait(30)
        server.stop()
    state = whole(settings)
    if state != "ok":
        wrong.append(f"the database: {state}")
    wrong += lost(settings, tally)
    told(
        f"acknowledged: {len(tally.marks)} marks, {len(tally.remarks)} remarks, "
        f"{len(tally.drawings)} drawings, {len(tally.uploads)} uploads; {len(wrong)} wrong"
    )
    shutil.rmtree(folder)
    return wrong


_FORM = {"Content-Type": "application/x-www-form-urlencoded"}


def _fill(ballast: Path) -> None:
    """To the last byte."""
    with ballast.open("wb", buffering=0) as file:
        for size in (1 << 20, 1 << 12, 1):
            try:
                while file.write(bytes(size)):
                    pass
            except OSError:
                continue


def _until_ready(settings: Settings, wrong: list[str], seconds: float = 180.0) -> None:
    """Films that came in are prepared; one that failed for want of room says so."""
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        with connected(settings.database) as connection:
            found = recordings.everyone(connection)
        left = [r for r in found if r.state not in ("ready", "failed")]
        if not left:
            break
        time.sleep(0.5)
    wrong += [f"recording {r.id} is {r.state}" for r in left]
    wrong += [
        f"recording {r.id} failed: {r.failure}" for r in found
        if r.state == "failed" and "full" not in str(r.failure)
    ]  # fmt: skip


def main() -> None:
    arguments = argparse.ArgumentParser(description=__doc__)
    arguments.add_argument("--disk", type=Path, required=True)
    said = arguments.parse_args()
    free = shutil.disk_usage(said.disk).total
    if free > 2 << 30 or any(said.disk.iterdir()):
        sys.exit("The disk has to be empty, of 2 GB at most, and a file system of its own.")
    wrong = attack(said.disk, lambda text: print(text, flush=True))
    end(wrong)


if __name__ == "__main__":
    main()
