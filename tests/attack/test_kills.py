"""The short form of scripts/attack: a few kills -9 under writing clients lose nothing."""

from __future__ import annotations

from scripts.attack.kill_server import attack


def test_what_was_acknowledged_outlives_kills() -> None:
    said: list[str] = []
    assert attack(4, 1, 200, said.append) == []
    # Something was written between the kills: else this would show nothing.
    assert "acknowledged: 0 marks" not in said[-2], said
