"""A real server and worker on a data folder, and Debian's Chromium, for tests and benchmarks."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager

import waitress
from playwright.sync_api import Browser, Page, sync_playwright

from norvik.settings import Settings
from norvik.web import create_app

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
    """Serve a data folder with a worker beside; gives the address."""
    server = waitress.create_server(
        create_app(settings), host="127.0.0.1", port=0, threads=8, max_request_body_size=1 << 40
    )
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    worker = subprocess.Popen(
        [sys.executable, "-m", "norvik", "worker", "--with-parent"],
        env={**os.environ, "NORVIK_DATA": str(settings.data)},
    )
    try:
        yield f"http://127.0.0.1:{server.effective_port}"
    finally:
        worker.send_signal(signal.SIGINT)
        worker.wait(timeout=20)
        server.close()
        thread.join(timeout=5)


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
  const video = document.getElementById("film");
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
