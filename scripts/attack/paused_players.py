"""Players that have a long film open and read no further: everybody else is answered.

python -m scripts.attack.paused_players --players 60
"""

from __future__ import annotations

import argparse
import socket
import sys
import tempfile
import time
from collections.abc import Callable
from http.client import HTTPResponse
from pathlib import Path

from norvik.settings import Settings
from norvik.store import recordings
from norvik.store.connection import connected
from scripts.attack.kill_server import Client, Server, make_house

#: More than the server and both sockets hold for one connection. The end of it are zeros, which
#: take no room on the disk.
FILM_BYTES = 64 << 20
#: Pages that are asked for meanwhile.
PAGES = ("/", "/library/", "/swimmers/", "/clips/1/")


def _long_film(settings: Settings) -> tuple[Path, str]:
    """The clip's film made long: its file and its address."""
    with connected(settings.database) as connection:
        recording = recordings.by_id(connection, 1)
    path = settings.data / str(recording.review_path)
    with path.open("ab") as file:
        file.truncate(FILM_BYTES)
    return path, f"/recordings/{recording.id}/film-{recording.frames}.mp4"


def attack(players: int, tell: Callable[[str], None] = print) -> list[str]:
    """What went wrong, in words."""
    folder = Path(tempfile.mkdtemp())
    settings, _ = make_house(folder, 30)
    path, address = _long_film(settings)
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    server = Server(settings, port)
    wrong: list[str] = []
    opened: list[tuple[int, HTTPResponse]] = []
    try:
        server.wait()
        client = Client(f"http://127.0.0.1:{port}")
        client.sign_in()
        for n in range(players):
            asked = {"Range": f"bytes={n}-"} if n % 4 else {}
            try:
                opened.append((n if asked else 0, client.held_open(address, asked)))
            except OSError as error:
                wrong.append(f"player {n + 1} got nothing: {error}")
                break
        waited = []
        for page in PAGES:
            begun = time.perf_counter()
            try:
                code = client.raw("GET", page, b"", {})[0]
            except OSError as error:
                wrong.append(f"{page} was not answered: {error}")
                break
            waited.append(time.perf_counter() - begun)
            if code != 200:
                wrong.append(f"{page} was answered with {code}")
        tell(f"{players} players paused; pages took {max(waited, default=20):.2f} s at most")
        # One that plays again gets the rest, to the byte.
        for first, player in opened[:2]:
            with path.open("rb") as file:
                file.seek(first)
                if player.read() != file.read():
                    wrong.append(f"the film from byte {first} on is not what lies there")
    finally:
        for _, player in opened:
            player.close()
        server.stop()
    return wrong


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--players", type=int, default=60)
    wrong = attack(parser.parse_args().players)
    for line in wrong:
        print(line, file=sys.stderr)
    sys.exit(1 if wrong else 0)


if __name__ == "__main__":
    main()
