"""How long the demo takes to start a second time."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from pathlib import Path

from bench.figures import line


def run(room: Path) -> None:
    environment = {**os.environ, "NORVIK_DATA": str(room / "demo"), "PYTHONUNBUFFERED": "1"}
    first, second = (_until_ready(environment) for _ in range(2))
    line("demo, first start with filming", f"{first:.1f} s", "")
    line("demo, second start", f"{second:.1f} s", "within 5 s")


def _until_ready(environment: dict[str, str]) -> float:
    began = time.perf_counter()
    command = [sys.executable, "-m", "norvik", "demo", "--port", "8799"]
    with subprocess.Popen(command, env=environment, stdout=subprocess.PIPE, text=True) as process:
        assert process.stdout is not None
        for text in process.stdout:
            if "is ready" in text:
                break
        seconds = time.perf_counter() - began
        process.terminate()
        process.wait(timeout=20)
    return seconds
