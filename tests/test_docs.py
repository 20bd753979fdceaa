"""Docs that would go stale unseen: commands, packages, pictures, links."""

from __future__ import annotations

import re
from pathlib import Path

import click

from norvik.catalogue.loader import everything, frame_bands
from norvik.cli import main
from norvik.core.frame.measures import MEASURES
from norvik.core.frame.movement import FOLLOWED
from norvik.core.strokes import STROKES
from norvik.model.dials import DIALS

ROOT = Path(__file__).parent.parent
README = (ROOT / "README.md").read_text()


def test_every_command_stands_in_the_readme() -> None:
    context = click.Context(main)
    names = main.list_commands(context)
    assert len(names) > 8
    for name in names:
        command = main.get_command(context, name)
        assert command is not None
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


def test_the_docs_count_the_tables_right() -> None:
    tables = everything()
    page = (ROOT / "docs/coaching.md").read_text()
    assert f"{len(tables.faults)} faults" in page
    assert f"{len(tables.drills)} drills" in page
    assert f"{len(tables.strengths)} strengths" in page
    assert f"{len(tables.questions)} questions" in page
    assert f"has {len(tables.drills)} of them" in README
    for stroke in STROKES:
        own = sum(f.strokes == (stroke,) for f in tables.faults.values())
        assert f"{stroke} {own}" in page, (stroke, own)


def test_every_dial_has_its_verdict() -> None:
    page = (ROOT / "docs/model-swimmer.md").read_text()
    assert f"{len(DIALS)} faults" in page
    for fault in DIALS:
        assert re.search(rf"\b{fault}\b", page), fault


def test_every_measure_stands_in_the_docs_with_its_limits() -> None:
    page = (ROOT / "docs/measures.md").read_text().replace("−", "-")
    for measure in (*MEASURES, *FOLLOWED):
        row = next((x for x in page.splitlines() if f"(`{measure}`)" in x), None)
        assert row is not None, measure
        for band in frame_bands():
            if band.quantity == measure:
                ends = (band.good_from, band.good_to, band.fault_below, band.fault_above)
                for limit in (e for e in ends if e is not None):
                    assert re.search(rf"(?<![\d.]){re.escape(f'{limit:g}')}\b", row), (
                        measure,
                        limit,
                    )
                assert band.source in row


def test_every_test_that_the_security_page_names_is_there() -> None:
    named = set(re.findall(r"`(tests/[\w/]+\.py)::(\w+)`", (ROOT / "docs/security.md").read_text()))
    assert len(named) > 25
    for file, test in named:
        assert f"def {test}(" in (ROOT / file).read_text(), f"{file}::{test}"


def test_every_variable_of_the_environment_stands_in_the_operations_page() -> None:
    page = (ROOT / "docs/operations.md").read_text()
    read = set()
    for path in (ROOT / "src").rglob("*.py"):
        text = path.read_text()
        read |= set(re.findall(r"(?:environ\.get\(|environ\[|envvar=)\s*\"(NORVIK_\w+)\"", text))
    assert len(read) > 8
    assert {name for name in read if f"`{name}`" not in page} <= {"NORVIK_LOCALE"}
