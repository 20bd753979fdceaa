"""The short form of scripts/attack/paused_players.py: more players than the server has threads."""

from __future__ import annotations

import subprocess
import sys

import pytest
from scripts.attack.paused_players import attack

from norvik.commands import serving


def test_everybody_is_answered_while_players_are_paused() -> None:
    said: list[str] = []
    assert attack(2 * serving._THREADS, said.append) == []
    assert "16 players paused" in said[-1]


@pytest.mark.parametrize("allowed", [256, 3000, 20_000])
def test_as_many_files_may_be_open_as_connections_need(allowed: int) -> None:
    """A system that gives 256 at first, and lets a process take as many as it allows."""
    code = f"""if True:
        import resource
        limit = resource.RLIMIT_NOFILE
        most = resource.getrlimit(limit)[1]
        most = {allowed} if most == resource.RLIM_INFINITY else min({allowed}, most)
        resource.setrlimit(limit, (256, most))
        from norvik.commands import serving
        serving._allow_open_files()
        print(*resource.getrlimit(limit))
    """
    said = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    now, most = (int(n) for n in said.stdout.split())
    assert now == max(256, min(most, 2 * serving._MOST_CONNECTIONS + 500))
    assert most <= allowed
