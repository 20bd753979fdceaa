"""The short form of scripts/attack/paused_players.py: more players than the server has threads."""

from __future__ import annotations

from scripts.attack.paused_players import attack

from norvik.commands import serving


def test_everybody_is_answered_while_players_are_paused() -> None:
    said: list[str] = []
    assert attack(2 * serving._THREADS, said.append) == []
    assert "16 players paused" in said[-1]
