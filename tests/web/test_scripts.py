"""The pure parts of the pages' scripts, by node's own test runner where node is installed."""

from __future__ import annotations

import shutil
import subprocess
from pathlib import Path

import pytest

FOLDER = Path(__file__).parents[1] / "scripts"


@pytest.mark.skipif(not shutil.which("node"), reason="node is not installed")
@pytest.mark.parametrize("path", sorted(FOLDER.glob("*.test.mjs")), ids=lambda p: p.stem)
def test_script(path: Path) -> None:
    done = subprocess.run(
        ["node", "--test", path], capture_output=True, text=True, timeout=60, check=False
    )
    assert done.returncode == 0, done.stdout[-2000:]
