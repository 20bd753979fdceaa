"""What `norvik demo` and `norvik worker` refuse before they begin."""

from __future__ import annotations

from pathlib import Path

import pytest
from click.testing import CliRunner

from norvik.cli import main


@pytest.mark.parametrize("name", ["NORVIK_FOOTAGE", "NORVIK_QUEUE"])
def test_the_demo_works_on_one_folder(
    name: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("NORVIK_DATA", str(tmp_path / "data"))
    monkeypatch.setenv(name, "redis://127.0.0.1:9" if name.endswith("QUEUE") else "s3://club")
    said = CliRunner().invoke(main, ["demo", "--port", "8799"])
    assert said.exit_code != 0
    assert "unset NORVIK_FOOTAGE and NORVIK_QUEUE" in said.output
    assert not (tmp_path / "data").exists()
