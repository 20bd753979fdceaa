"""A real server and worker on a data folder, and Debian's Chromium, for tests and benchmarks."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager

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
]


class Server:
    """The web server of a data folder as a process of its own, which can be stopped and started."""

    def __init__(self, settings: Settings) -> None:
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.address = f"http://127.0.0.1:{self.port}"
        self._environment = environment(settings)
        self.start()

    def start(self) -> None:
        self.process = subprocess.Popen(
            [*NORVIK, "serve", "--port", str(self.port)],
            env=self._environment, stdout=subprocess.PIPE, text=True,
        )  # fmt: skip
        assert self.process.stdout is not None
        line = self.process.stdout.readline()
        assert "is ready" in line, line

    def stop(self) -> None:
        end(self.process)
        if self.process.stdout is not None:
            self.process.stdout.close()


NORVIK = [sys.executable, "-m", "norvik"]


def environment(settings: Settings) -> dict[str, str]:
    return {**os.environ, "NORVIK_DATA": str(settings.data), "PYTHONUNBUFFERED": "1"}


def start_worker(settings: Settings) -> subprocess.Popen[bytes]:
    return subprocess.Popen([*NORVIK, "worker", "--with-parent"], env=environment(settings))


def end(process: subprocess.Popen) -> None:  # type: ignore[type-arg]
    process.terminate()
    try:
        process.wait(timeout=20)
    except subprocess.TimeoutExpired:
        process.kill()
        process.wait()
        raise


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
