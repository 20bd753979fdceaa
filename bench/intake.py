"""Uploads of a gigabyte: memory of server and worker, and how soon the film can be reviewed."""

from __future__ import annotations

import http.client
import json
import subprocess
import time
from base64 import b64encode
from pathlib import Path
from urllib.parse import urlencode

from tests.browser.serving import Server, chromium, end, sign_in, start_worker

from bench.figures import line, percentiles
from bench.people import EMAIL, PASSWORD, add_coach
from norvik.settings import Settings
from norvik.store import swimmers
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.web.footage.uploads import CHUNK_BYTES

_GIGABYTE = 1 << 30
#: Seconds over which the worker is watched while it makes the rest.
_WATCH_S = 30.0
_TURNS = 3


class Browser:
    """What a signed-in browser sends, without a browser: its cookie and its token."""

    def __init__(self, server: Server) -> None:
        self.port = server.port
        with chromium() as browser:
            page = browser.new_page()
            sign_in(page, server.address, EMAIL, PASSWORD)
            self.token = page.locator("meta[name=csrf-token]").get_attribute("content")
            cookies = page.context.cookies()
        self.cookie = "; ".join(f"{c['name']}={c['value']}" for c in cookies)

    def send(
        self, method: str, path: str, body: bytes = b"", **headers: str
    ) -> tuple[int, dict[str, str], bytes]:
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=120)
        said = {"Cookie": self.cookie, "X-CSRFToken": str(self.token), "Tus-Resumable": "1.0.0",
                "Accept": "application/json"}  # fmt: skip
        said |= {name.replace("_", "-"): value for name, value in headers.items()}
        connection.request(method, path, body, said)
        answer = connection.getresponse()
        data = answer.read()
        connection.close()
        return answer.status, dict(answer.getheaders()), data

    def upload(self, path: Path) -> str:
        """Send a file as the intake page does; gives the address of the whole upload."""
        metadata = f"filename {b64encode(path.name.encode()).decode()}"
        status, headers, _ = self.send(
            "POST", "/uploads", Upload_Length=str(path.stat().st_size), Upload_Metadata=metadata
        )
        assert status == 201, status
        where, offset = headers["Location"], 0
        with path.open("rb") as file:
            while data := file.read(CHUNK_BYTES):
                status, _, _ = self.send(
                    "PATCH", where, data, Upload_Offset=str(offset),
                    Content_Type="application/offset+octet-stream",
                )  # fmt: skip
                assert status == 204, status
                offset += len(data)
        return where

    def take(self, where: str, name: str) -> int:
        form = {"upload": where.rsplit("/", 1)[-1], "name": name, "swimmer_id": 1,
                "view": "side-under", "role": "before", "stretch": 1}  # fmt: skip
        status, _, data = self.send(
            "POST", "/clips", urlencode(form).encode(),
            Content_Type="application/x-www-form-urlencoded",
        )  # fmt: skip
        assert status == 201, data
        return int(json.loads(data)["clip"])


def run(room: Path, source: Path) -> None:
    """source: 10 s at 1280x720 and 240 frames/s that needs a review copy."""
    settings = Settings(room / "intake")
    add_coach(settings)
    with connected(settings.database) as connection:
        swimmers.add(connection, Swimmer("Tilde Vassholm"))
    films = [_long_film(room, source, n) for n in range(_TURNS)]
    worker, server = start_worker(settings), Server(settings)
    try:
        browser = Browser(server)
        time.sleep(2)
        before = _most_memory(server.process.pid)
        waits, rates = [], []
        for film in films:
            began = time.perf_counter()
            where = browser.upload(film)
            ended = time.perf_counter()
            rates.append(film.stat().st_size / 1e6 / (ended - began))
            # From the last byte on: naming the clip counts, too.
            clip = browser.take(where, film.name)
            waits.append(1000 * (_until_watchable(settings, clip) - ended))
        line("first stretch after the end of an upload", percentiles(waits), "under 5000")
        size = films[0].stat().st_size / _GIGABYTE
        line("  film of it", f"{size:.2f} GB, {_frames(settings):,} frames in it so far", "")
        now = _most_memory(server.process.pid)
        line("memory of the server, most", f"{now:.0f} MB ({before:.0f} MB before)",
             "under 200 MB while 1 GB comes")  # fmt: skip
        line("  upload on this machine", f"{max(rates):.0f} MB/s", "")
        time.sleep(_WATCH_S)
        line("memory of the worker, most, 720p240", f"{_most_memory(worker.pid):.0f} MB",
             "under 600 MB")  # fmt: skip
    finally:
        server.stop()
        end(worker)


def _long_film(room: Path, source: Path, n: int) -> Path:
    """The source again and again until it is a gigabyte; n makes it a file of its own."""
    times = _GIGABYTE // source.stat().st_size + 1
    out = room / f"long-{n}.mp4"
    subprocess.run(
        ["ffmpeg", "-y", "-v", "error", "-stream_loop", str(times), "-i", str(source), "-c", "copy",
         "-metadata", f"comment={n}", str(out)],
        check=True,
    )  # fmt: skip
    return out


def _until_watchable(settings: Settings, clip_id: int) -> float:
    with connected(settings.database) as connection:
        while True:
            row = connection.execute(
                "SELECT r.frames FROM recordings r JOIN clips c ON c.recording_id = r.id "
                "WHERE c.id = ? AND r.state IN ('opening', 'ready')",
                (clip_id,),
            ).fetchone()
            if row is not None and row[0]:
                return time.perf_counter()
            time.sleep(0.01)


def _frames(settings: Settings) -> int:
    with connected(settings.database) as connection:
        return int(connection.execute("SELECT max(frames) FROM recordings").fetchone()[0])


def _most_memory(pid: int | None) -> float:
    """Most resident memory of a process so far, MB (VmHWM of Linux)."""
    status = Path(f"/proc/{pid}/status").read_text()
    (found,) = (row for row in status.splitlines() if row.startswith("VmHWM"))
    return int(found.split()[1]) / 1024
