"""The short form of scripts/attack/odd_requests.py: some of all odd requests."""

from __future__ import annotations

import random
from pathlib import Path

from scripts.attack.odd_requests import Asked, attack, fields, make_app, requests

#: How many of some nine thousand are asked here.
ASKED = 160


def test_no_odd_request_is_an_error_of_the_server_or_holds_others_up(tmp_path: Path) -> None:
    app, settings = make_app(tmp_path)
    every = list(requests(app))
    assert len(every) > 8000
    assert {"frame", "stroke", "email", "metres"} <= set(fields())
    some = random.Random(3).sample(every, ASKED)
    found = attack(app, settings, some, tmp_path / "aside")
    assert found.wrong == []
    # Most get past the door: they are asked as a head coach, and everything is there.
    assert found.states[302] < ASKED / 2
    assert found.states[403] < ASKED / 8


def test_the_attack_notices_what_is_wrong(tmp_path: Path) -> None:
    app, settings = make_app(tmp_path)
    app.view_functions["today.show"] = lambda: 1 / 0
    found = attack(app, settings, [Asked("GET", "today.show", "/", "1")], tmp_path / "aside")
    assert found.wrong == ["500: GET / with '1'"]
