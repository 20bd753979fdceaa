"""Twenty coaches mark at once while three clips come in and are encoded: how long a mark takes.

python -m scripts.attack.load --seconds 60
"""

from __future__ import annotations

import argparse
import random
import shutil
import socket
import subprocess
import sys
import tempfile
import threading
import time
import urllib.parse
from collections import Counter
from pathlib import Path

import numpy as np

from norvik.store import clips, recordings
from norvik.store.clips import Facts
from norvik.store.connection import connected
from scripts.attack.kill_server import EVENTS, Client, Server, make_house

COACHES, UPLOADS = 20, 3
#: Behind the film of each upload, so that it takes its time to come.
_MORE_BYTES = 60 << 20


def _own_clips(settings_database: Path, frames: int) -> list[int]:
    """A part of the film for every coach."""
    each = frames // COACHES
    with connected(settings_database) as connection:
        return [
            clips.add(
                connection, 1, Facts(swimmer_id=1, filmed_on="2026-11-20", pool_m=25.0), None,
                part=(n * each, (n + 1) * each - 1),
            )
            for n in range(COACHES)
        ]  # fmt: skip


def run(seconds: float, frames: int) -> tuple[np.ndarray, Counter[str]]:
    """Times of marks in ms, and how many answers of each kind there were."""
    folder = Path(tempfile.mkdtemp())
    settings, _ = make_house(folder, frames)
    own = _own_clips(settings.database, frames)
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    server = Server(settings, port)
    server.wait()
    worker = subprocess.Popen(
        [sys.executable, "-m", "norvik", "worker"], env=server.environment,
        stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
    )  # fmt: skip
    body = (folder / "a.mp4").read_bytes() + bytes(_MORE_BYTES)
    times, answers, stop = list[float](), Counter[str](), threading.Event()
    ready = threading.Barrier(COACHES + UPLOADS + 1)

    def mark(n: int) -> None:
        client, numbers = Client(f"http://127.0.0.1:{port}"), random.Random(n)
        client.sign_in()
        # Whoever marks has opened the clip.
        client.raw("GET", f"/clips/{own[n]}/", b"", {})
        each = frames // COACHES
        free = [(f, s, e) for f in range(n * each, (n + 1) * each)
                for s in ("left", "right") for e in EVENTS]  # fmt: skip
        numbers.shuffle(free)
        ready.wait()
        while not stop.is_set() and free:
            frame, side, event = free.pop()
            form = {"frame": str(frame), "lane": "arm", "side": side, "event": event}
            began = time.perf_counter()
            code = client.post(f"/clips/{own[n]}/marks", form)
            times.append(1000 * (time.perf_counter() - began))
            answers[f"mark {code}"] += 1
            # A coach looks at the film between two marks.
            time.sleep(numbers.uniform(0.3, 1.5))

    def upload(n: int) -> None:
        client, numbers = Client(f"http://127.0.0.1:{port}"), random.Random(100 + n)
        client.sign_in()
        ready.wait()
        while not stop.is_set():
            data = body + numbers.randbytes(16)
            head = {"Tus-Resumable": "1.0.0", "Upload-Length": str(len(data))}
            path = urllib.parse.urlsplit(
                client.raw("POST", "/uploads", b"", head)[2]["Location"]
            ).path
            for at in range(0, len(data), 8 << 20):
                piece = {"Tus-Resumable": "1.0.0", "Upload-Offset": str(at),
                         "Content-Type": "application/offset+octet-stream"}  # fmt: skip
                client.raw("PATCH", path, data[at : at + (8 << 20)], piece)
            form = urllib.parse.urlencode({"upload": path.rpartition("/")[2], "name": "x.mp4"})
            kind = {"Content-Type": "application/x-www-form-urlencoded"}
            code, _, _ = client.raw("POST", "/clips", form.encode(), kind)
            answers[f"upload {code}"] += 1
            time.sleep(2)

    threads = [threading.Thread(target=mark, args=(n,), daemon=True) for n in range(COACHES)]
    threads += [threading.Thread(target=upload, args=(n,), daemon=True) for n in range(UPLOADS)]
    for thread in threads:
        thread.start()
    ready.wait(120)
    time.sleep(seconds)
    stop.set()
    for thread in threads:
        thread.join(60)
    worker.kill()
    worker.wait()
    server.stop()
    with connected(settings.database) as connection:
        for one in recordings.everyone(connection):
            answers[f"film {one.state}"] += 1
    shutil.rmtree(folder)
    return np.array(times), answers


def main() -> None:
    arguments = argparse.ArgumentParser(description=__doc__)
    arguments.add_argument("--seconds", type=float, default=60)
    arguments.add_argument("--frames", type=int, default=6000)
    said = arguments.parse_args()
    times, answers = run(said.seconds, said.frames)
    p50, p95 = np.percentile(times, [50, 95])
    print(f"{times.size} marks: p50 {p50:.0f} ms, p95 {p95:.0f}, max {times.max():.0f}")
    print(dict(sorted(answers.items())))


if __name__ == "__main__":
    main()
