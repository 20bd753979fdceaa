"""Every route asked for what nobody should ask: numbers beyond all bounds, words without end.

Each answer has to come soon and be no error of the server: 500 means that somebody did not look.

python -m scripts.attack.odd_requests
"""

from __future__ import annotations

import argparse
import re
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import nullcontext
from dataclasses import dataclass
from pathlib import Path

from flask import Flask
from tests.clips import numbered_clip
from tests.conftest import BroughtIn, holds
from tests.web.walk import House, address_words, fill

from norvik.settings import Settings
from norvik.store.connection import connected, migrate
from norvik.store.swimmers import Swimmer
from norvik.web import create_app

WEB = Path(__file__).parents[2] / "src" / "norvik" / "web"
#: One odd value each time, in every field of the form and every question of the address.
ODD = (
    "", "0", "-1", str(2**63), "1e16000000", "1e15", "NaN", "inf", "-inf", "1/0", "9999-12-31",
    "0000-00-00", "x" * 100_000, "\x00\x01\r\n\t", "../../../etc/passwd", "=cmd|'/c calc'!A1",
    "<script>alert(1)</script>", "{{7*7}}", "' OR 1=1 --", "[]", '{"a":1}', "\ud7ff", "２０：００",
)  # fmt: skip
#: For numbers in the address.
ODD_NUMBERS = (0, 2**31, 2**63, 10**30)
#: Seconds after which an answer counts as late: others wait for it.
LATE_S = 3.0
_LEFT_OUT = {"static"}


@dataclass(frozen=True, slots=True)
class Asked:
    method: str
    endpoint: str
    address: str
    value: str


def fields() -> list[str]:
    """Names of all fields that any view reads."""
    found: set[str] = set()
    for path in WEB.rglob("*.py"):
        text = path.read_text(encoding="utf-8")
        found |= set(
            re.findall(r"(?:form|args|values)(?:\.get|\.getlist)?[\[(]\"([a-z_-]+)\"", text)
        )
        found |= set(re.findall(r"_int\(\"([a-z_-]+)\"", text))
        found |= set(re.findall(r"^    ([a-z_]+) = [A-Z]\w+Field\(", text, re.MULTILINE))
    return sorted(found - {"csrf_token"})


def requests(app: Flask) -> Iterator[Asked]:
    """Each route with each odd value, and with each odd number in its address."""
    build = app.url_map.bind("localhost").build
    for rule in sorted(app.url_map.iter_rules(), key=lambda r: (r.endpoint, r.rule)):
        if rule.endpoint in _LEFT_OUT:
            continue
        for method in sorted((rule.methods or set()) & {"GET", "POST", "PATCH", "DELETE"}):
            named = address_words(rule)
            for value in ODD:
                yield Asked(method, rule.endpoint, build(rule.endpoint, named, method), value)
            for number in ODD_NUMBERS:
                odd = {k: number if v == 1 else v for k, v in named.items()}
                if odd != named:
                    yield Asked(method, rule.endpoint, build(rule.endpoint, odd, method), "1")


def ask(app: Flask, asked: Asked, names: list[str]) -> tuple[int, float]:
    """Status and seconds of one request, as a head coach."""
    client = app.test_client()
    holds(client, "head coach")
    told = dict.fromkeys(names, asked.value)
    began = time.perf_counter()
    if asked.method == "GET":
        # Longer addresses than servers take are no matter of ours.
        answer = client.get(asked.address, query_string={k: v[:60] for k, v in told.items()})
    else:
        answer = client.open(asked.address, method=asked.method, data=told)
    answer.get_data()
    answer.close()
    return answer.status_code, time.perf_counter() - began


@dataclass(frozen=True)
class Answers:
    """wrong: each a line. seconds: how long each took. states: how many there were of each."""

    wrong: list[str]
    seconds: list[float]
    states: Counter[int]


def attack(app: Flask, settings: Settings, every: list[Asked], aside: Path) -> Answers:
    """Each request finds everything as it was at first. aside: folder for a copy of that."""
    names, wrong, seconds, states = fields(), list[str](), list[float](), Counter[int]()
    house = House(settings, aside)
    for asked in every:
        with nullcontext() if asked.method == "GET" else house.as_before():
            status, took = ask(app, asked, names)
        seconds.append(took)
        states[status] += 1
        if status >= 500:
            wrong.append(f"{status}: {asked.method} {asked.address} with {asked.value[:30]!r}")
        elif took > LATE_S:
            wrong.append(f"{took:.1f} s: {asked.method} {asked.address} with {asked.value[:30]!r}")
    house.close()
    return Answers(wrong, seconds, states)


def make_app(folder: Path) -> tuple[Flask, Settings]:
    """An application with one of each thing."""
    empty = folder / "empty.sqlite3"
    migrate(empty)
    with connected(empty) as connection:
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    clip = numbered_clip(folder / "small.mp4", [n / 30 for n in range(90)])
    settings = Settings(folder / "data")
    squad = [Swimmer(name="Wren Alder"), Swimmer(name="Other Side")]
    BroughtIn(folder / "brought-in", empty)(settings, squad, (clip, {}))
    fill(settings)
    app = create_app(settings)
    app.config.update(TESTING=True, WTF_CSRF_ENABLED=False, PROPAGATE_EXCEPTIONS=False)
    return app, settings


def main() -> None:
    argparse.ArgumentParser(description=__doc__).parse_args()
    with tempfile.TemporaryDirectory() as folder:
        app, settings = make_app(Path(folder))
        every = list(requests(app))
        found = attack(app, settings, every, Path(folder) / "aside")
    slowest = max(found.seconds)
    print(f"{len(every)} requests, {len(found.wrong)} wrong, the slowest took {slowest:.2f} s")
    print(dict(sorted(found.states.items())))
    for line in found.wrong:
        print(line, file=sys.stderr)
    sys.exit(1 if found.wrong else 0)


if __name__ == "__main__":
    main()
