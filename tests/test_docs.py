"""Docs that would go stale unseen: commands, packages, pictures, links."""

from __future__ import annotations

import re
from pathlib import Path

from norvik.cli import main
from norvik.model.dials import DIALS

ROOT = Path(__file__).parent.parent
README = (ROOT / "README.md").read_text()


def test_every_command_stands_in_the_readme() -> None:
    for name, command in main.commands.items():
        if not command.hidden:
            assert f"norvik {name}" in README or f"make {name}" in README, name


def test_every_package_has_its_reason() -> None:
    packages = (ROOT / "docs/packages.md").read_text().lower()
    listed = (ROOT / "requirements.in").read_text() + (ROOT / "requirements-dev.in").read_text()
    for name in re.findall(r"^[a-z][\w-]+$", listed, re.MULTILINE):
        assert {"av": "pyav"}.get(name, name) in packages, name


def test_every_link_and_picture_of_the_docs_is_there() -> None:
    for page in (ROOT / "README.md", *(ROOT / "docs").glob("*.md")):
        for target in re.findall(r"\]\(([^)#]+)\)", page.read_text()):
            assert (page.parent / target).exists(), (page.name, target)
    assert 5 <= len(list((ROOT / "docs/screenshots").glob("*.png"))) < 20


def test_every_dial_has_its_verdict() -> None:
    page = (ROOT / "docs/model-swimmer.md").read_text()
    assert f"{len(DIALS)} faults" in page
    for fault in DIALS:
        assert re.search(rf"\b{fault}\b", page), fault
