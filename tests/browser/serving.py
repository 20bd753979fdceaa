"""A real server and worker on a data folder, and Debian's Chromium, for tests and benchmarks."""

from __future__ import annotations

import multiprocessing
import os
import socket
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess

from playwright.sync_api import Browser, Page, sync_playwright

from norvik.settings import Settings

CHROMIUM = "/usr/bin/chromium"
_FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    # A microphone that beeps once a second, and nobody who has to allow it.
    "--use-fake-device-for-media-stream",
    "--use-fake-ui-for-media-stream",
]


#: Processes of the product start from one that has its modules loaded already, not from nothing.
STARTER = multiprocessing.get_context("forkserver")
STARTER.set_forkserver_preload(["norvik.cli", "tests.warmed"])


class Server:
    """The web server of a data folder as a process of its own, which can be stopped and started."""

    def __init__(self, settings: Settings) -> None:
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.address = f"http://127.0.0.1:{self.port}"
        self._data = str(settings.data)
        self.start()

    def start(self) -> None:
        said, saying = STARTER.Pipe(duplex=False)
        command = ["serve", "--port", str(self.port)]
        self.process = STARTER.Process(target=_norvik, args=(self._data, command, saying))
        self.process.start()
        saying.close()
        with said:
            assert said.poll(60), "the server says nothing"
            line = os.read(said.fileno(), 1000).decode()
        assert "is ready" in line, line

    def stop(self) -> None:
        end(self.process)


def start_worker(settings: Settings) -> BaseProcess:
    command = ["worker", "--with-parent"]
    worker = STARTER.Process(target=_norvik, args=(str(settings.data), command))
    worker.start()
    return worker


def _norvik(data: str, command: list[str], saying: Connection | None = None) -> None:
    """`norvik COMMAND` on a data folder; what it says first goes to `saying`."""
    from norvik.cli import main

    os.environ["NORVIK_DATA"] = data
    if saying is not None:
        os.dup2(saying.fileno(), 1)
        saying.close()
        sys.stdout = os.fdopen(1, "w", buffering=1)
    main(command)


def end(process: BaseProcess) -> None:
    process.terminate()
    process.join(timeout=20)
    if process.is_alive():
        process.kill()
        process.join()
        raise TimeoutError("A process of the product did not end when it was told to.")


@contextmanager
def running(settings: Settings) -> Iterator[str]:
    """Serve a data folder with a worker beside, each a process of its own; gives the address."""
    worker, server = start_worker(settings), Server(settings)
    try:
        yield server.address
    finally:
        server.stop()
        end(worker)


@contextmanager
def chromium() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=_FLAGS)
        try:
            yield browser
        finally:
            browser.close()


def sign_in(page: Page, address: str, email: str, password: str) -> None:
    page.goto(f"{address}/sign-in")
    page.get_by_label("E-mail").fill(email)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Sign in").click()
    page.wait_for_url(f"{address}/")


#: Reads the frame number out of the picture that is seen (see tests/clips.py).
READ_NUMBER = """(width) => {
  const { picture } = window.norvik.stage;
  const wide = picture.videoWidth ?? picture.width;
  const scale = wide / width;
  const canvas = document.createElement("canvas");
  canvas.width = wide;
  canvas.height = Math.ceil(16 * scale);
  const at = canvas.getContext("2d", { willReadFrequently: true });
  at.drawImage(picture, 0, 0);
  let number = 0;
  for (let bit = 0; bit < 16; bit += 1) {
    const x = Math.floor((bit + 1.5) * 16 * scale);
    const [red] = at.getImageData(x, Math.floor(8 * scale), 1, 1).data;
    number = number * 2 + (red > 128 ? 1 : 0);
  }
  return number;
}"""
