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


@contextmanager
def running(settings: Settings) -> Iterator[str]:
    """Serve a data folder with a worker beside, each a process of its own; gives the address."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    environment = {**os.environ, "NORVIK_DATA": str(settings.data), "PYTHONUNBUFFERED": "1"}
    norvik = [sys.executable, "-m", "norvik"]
    worker = subprocess.Popen([*norvik, "worker", "--with-parent"], env=environment)
    serve = subprocess.Popen(
        [*norvik, "serve", "--port", str(port)], env=environment, stdout=subprocess.PIPE, text=True
    )
    try:
        assert serve.stdout is not None
        line = serve.stdout.readline()
        assert "is ready" in line, line
        yield f"http://127.0.0.1:{port}"
    finally:
        for process in (serve, worker):
            process.terminate()
            process.wait(timeout=20)
        if serve.stdout is not None:
            serve.stdout.close()


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


#: Reads the frame number out of the picture that the film element shows (see tests/clips.py).
READ_NUMBER = """(width) => {
  const { video } = window.norvik.stage;
  const scale = video.videoWidth / width;
  const canvas = document.createElement("canvas");
  canvas.width = video.videoWidth;
  canvas.height = Math.ceil(16 * scale);
  const at = canvas.getContext("2d", { willReadFrequently: true });
  at.drawImage(video, 0, 0);
  let number = 0;
  for (let bit = 0; bit < 16; bit += 1) {
    const x = Math.floor((bit + 1.5) * 16 * scale);
    const [red] = at.getImageData(x, Math.floor(8 * scale), 1, 1).data;
    number = number * 2 + (red > 128 ? 1 : 0);
  }
  return number;
}"""
