"""The short form of scripts/attack: a few kills -9 lose nothing."""

from __future__ import annotations

from scripts.attack import kill_filming
from scripts.attack.kill_server import attack


def test_what_was_acknowledged_outlives_kills() -> None:
    said: list[str] = []
    assert attack(4, 1, 200, said.append) == []
    # Something was written between the kills: else this would show nothing.
    assert "acknowledged: 0 marks" not in said[-2], said


def test_a_film_of_a_talk_outlives_workers_that_die() -> None:
    said: list[str] = []
    assert kill_filming.attack(3, 12, 2, said.append) == []
    # A worker was killed in the middle of it: else this would show nothing.
    assert "0 at work" not in said[-1], said
