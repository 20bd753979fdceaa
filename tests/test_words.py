"""The product speaks plainly: no page, message, table or document shows a word of the list."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.words import (
    REPLACED,
    ROOT,
    SOURCE,
    found_in,
    plain_text,
    script_strings,
    sentences_of,
)

#: Patterns that recognise words, and the database's own language.
SPEAK_OTHERWISE = {"core/prescription/breath_holding.py"}


def complaints(name: str, text: str) -> list[str]:
    return [f"{name}: …{hit}… write: {better}" for hit, better in found_in(text)]


def test_pages_and_their_parts() -> None:
    wrong = []
    for path in SOURCE.rglob("*.html"):
        wrong += complaints(str(path.relative_to(SOURCE)), plain_text(path.read_text("utf-8")))
    assert not wrong, "\n".join(wrong)


def test_messages_of_the_program() -> None:
    wrong = []
    for path in SOURCE.rglob("*.py"):
        name = str(path.relative_to(SOURCE))
        if name not in SPEAK_OTHERWISE and "migrations" not in name:
            wrong += [c for text in sentences_of(path) for c in complaints(name, text)]
    assert not wrong, "\n".join(wrong)


def test_messages_of_the_scripts() -> None:
    wrong = []
    for path in SOURCE.rglob("*.js"):
        if ".min." not in path.name:
            texts = script_strings(path.read_text("utf-8"))
            wrong += [c for text in texts for c in complaints(path.name, text)]
    assert not wrong, "\n".join(wrong)


def shown_in(value: object) -> Iterator[str]:
    """The texts of a table: strings with a space. Ids have none."""
    if isinstance(value, str):
        if " " in value:
            yield value
    elif isinstance(value, dict):
        for item in value.values():
            yield from shown_in(item)
    elif isinstance(value, list):
        for item in value:
            yield from shown_in(item)


def test_tables_of_faults_and_drills() -> None:
    wrong = []
    for path in SOURCE.rglob("*.toml"):
        for text in shown_in(tomllib.loads(path.read_text("utf-8"))):
            wrong += complaints(path.name, text)
    assert not wrong, "\n".join(wrong)


@pytest.mark.parametrize("path", [*sorted(ROOT.glob("docs/*.md")), ROOT / "README.md"])
def test_documents(path: Path) -> None:
    if path.name == "words.md":
        return
    # Tokens of files and names in code are older than the words.
    text = re.sub(r"`[^`]*`", "", path.read_text("utf-8"))
    wrong = complaints(path.name, text)
    assert not wrong, "\n".join(wrong)


def test_the_list_finds_what_it_is_for() -> None:
    assert [better for _, better in found_in("Nobody yet. Say who it is")] == [
        "unassigned",
        "assign, enter, choose",
    ]
    assert plain_text('<p title="Say who">{{ "x" }} Nobody yet</p>{# told #}').count("o") == 3
    assert len(REPLACED) > 40
