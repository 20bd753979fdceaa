"""Walking all routes as everybody: who gets how far. `python -m tests.web.walk` writes the docs."""

from __future__ import annotations

import shutil
import sqlite3
import tempfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from pathlib import Path

from flask import Flask
from werkzeug.routing import Rule

from norvik.core.followup.length_log import Length
from norvik.core.prescription.plan import FocusRequest, PlanRequest, Pool
from norvik.settings import Settings
from norvik.store import (
    account_links,
    clips,
    made_films,
    plans,
    pool_tests,
    review_links,
    reviews,
    squads,
    swims,
    talks,
    users,
)
from norvik.store.connection import connected, migrate
from norvik.store.plans import StoredPlan
from norvik.store.pool_tests import SwumTest
from norvik.store.reviews import Review
from norvik.store.squads import Squad
from norvik.store.swimmers import Swimmer
from norvik.web import create_app
from norvik.workflow.review_judgement import review_of
from tests.clips import numbered_clip
from tests.conftest import PASSWORD_HASH, BroughtIn, holds, signed_in

DOCS = Path(__file__).parents[2] / "docs" / "roles.md"
#: Who walks. All things are of swimmer 1, who is in squad 1; swimmer 2 is in squad 2.
EVERYBODY = (
    "head coach", "coach", "assistant", "swimmer", "guardian", "coach of another squad",
    "assistant of another squad", "another swimmer", "nobody",
)  # fmt: skip
#: Columns of the written table.
WRITTEN = ("head coach", "coach", "assistant", "swimmer", "nobody")
_WORDS = {"kind": "png", "key": "1-1", "by": "months", "what": "still", "upload_id": "0" * 32,
          "token": "none", "name": "x", "stroke": "freestyle", "drill_id": "press-balance",
          "which": "season", "filename": "css/norvik.css"}  # fmt: skip
_WHAT = {"people.disable": "disable", "link.drill": "still", "mine.drill": "still"}


def one_of_each(connection: sqlite3.Connection) -> Review:
    """A plan, swim, pool test, review, talk and film of swimmer 1 and clip 1, each the first."""
    asked = PlanRequest(
        date.today(), (1, 3), Pool(Fraction(25)), (FocusRequest("straight-arm"),), metres=2000
    )
    plans.add(connection, StoredPlan(swimmer_id=1, stroke="freestyle", request=asked))
    swims.add(connection, 1, "2026-11-20", "freestyle", 25.0, None, "", [Length(21.4, 18)])
    swum = SwumTest(
        swimmer_id=1, test="kick-set", done_on="2026-11-20", stroke="freestyle",
        pool=Pool(Fraction(25)), entries={"seconds": (98.0, 99.5, 101.0)},
    )  # fmt: skip
    pool_tests.add(connection, swum)
    review = review_of(connection, clips.by_id(connection, 1))
    talks.add(connection, review.id, None)
    made_films.put(connection, {"what": "clip"}, review.id, 1, "films/x.mp4", 1.0, 1)
    return review


def fill(settings: Settings) -> None:
    """One of each kind, all of swimmer 1, and somebody of every role. The clip is there."""
    with connected(settings.database) as connection:
        review = one_of_each(connection)
        link = review_links.add(connection, review.id, "2999-01-01", None, None)
        review_links.add_answer(connection, link, "a-key-of-a-phone", None, "", "", None, "", "x")
        reviews.set_done(connection, review.id, True)
        for name, role in (("coach", "coach"), ("assistant", "assistant"), ("swimmer", "swimmer"),
                           ("guardian", "guardian"), ("coach of another squad", "coach"),
                           ("assistant of another squad", "assistant"),
                           ("another swimmer", "swimmer")):  # fmt: skip
            address = f"{name.replace(' ', '-')}@club.example"
            user_id = users.add(connection, address, name, role, PASSWORD_HASH)
            signed_in(connection, user_id, name)
            if role in ("swimmer", "guardian"):
                squads.set_own_swimmers(connection, user_id, [2 if "another" in name else 1])
        by_name = {u.name: u.id for u in users.every(connection)}
        signed_in(connection, by_name["Coach"], "head coach")
        staff = frozenset((by_name["coach"], by_name["assistant"]))
        others = frozenset(
            (by_name["coach of another squad"], by_name["assistant of another squad"])
        )
        squads.put(connection, Squad("One", swimmers=frozenset((1,)), staff=staff))
        squads.put(connection, Squad("Two", swimmers=frozenset((2,)), staff=others))
        account_links.make(connection, by_name["swimmer"], "reset", 0.0)


@dataclass(frozen=True)
class Walked:
    """One route as one person. allowed: got past the door. thing: names something of swimmer 1."""

    method: str
    endpoint: str
    rule: str
    status: int
    allowed: bool
    thing: bool


class House:
    """A data folder that can be put back as it was. aside: a folder for a copy of its files."""

    def __init__(self, settings: Settings, aside: Path) -> None:
        self._settings, self._files = settings, aside
        shutil.copytree(
            settings.data, aside, ignore=lambda _, names: [n for n in names if "sqlite" in n]
        )
        self._kept = sqlite3.connect(":memory:")
        self._watching = sqlite3.connect(settings.database)
        self._watching.backup(self._kept)

    @contextmanager
    def as_before(self) -> Iterator[None]:
        """Whatever is done inside, the next one finds everything as it was."""
        seen, there = self._version(), self._listed()
        yield
        if self._version() == seen and self._listed() == there:
            return  # most requests of most people are refused
        with closing(sqlite3.connect(self._settings.database)) as connection:
            self._kept.backup(connection)
        shutil.copytree(self._files, self._settings.data, dirs_exist_ok=True)

    def close(self) -> None:
        self._watching.close()
        self._kept.close()

    def _version(self) -> int:
        """A number that changes whenever somebody else writes into the database."""
        return int(self._watching.execute("PRAGMA data_version").fetchone()[0])

    def _listed(self) -> list[tuple[str, int]]:
        found = self._settings.data.rglob("*")
        return sorted((str(p), p.stat().st_size) for p in found if "sqlite" not in p.name)


def address_words(rule: Rule) -> dict[str, object]:
    """What stands in the address of a route: things of which there is one."""
    named: dict[str, object] = {n: _WORDS.get(n, 1) for n in rule.arguments}
    if "what" in named:
        named["what"] = _WHAT.get(rule.endpoint, "still")
    return named


def walk(app: Flask, settings: Settings, who: str, aside: Path) -> list[Walked]:
    """Every route as one of EVERYBODY. aside: a folder for a copy of the files."""
    house = House(settings, aside)
    found = []
    address = app.url_map.bind("localhost").build
    for rule in sorted(app.url_map.iter_rules(), key=lambda r: (r.endpoint, r.rule)):
        for method in sorted((rule.methods or set()) & {"GET", "POST", "PATCH", "DELETE"}):
            named = address_words(rule)
            at = address(rule.endpoint, named, method)
            client = app.test_client()
            if who != "nobody":
                holds(client, who)
            if method == "GET":
                answer = client.get(at)
                status, where = answer.status_code, answer.headers.get("Location", "")
                answer.close()
            else:
                with house.as_before():
                    answer = client.open(at, method=method, headers={"Accept": "text/html"})
                    status, where = answer.status_code, answer.headers.get("Location", "")
                    answer.close()
            asked = "/sign-in?next=" in where
            thing = bool(rule.arguments & _THINGS)
            found.append(
                Walked(method, rule.endpoint, rule.rule, status, status != 403 and not asked, thing)
            )
    house.close()
    return found


_THINGS = {"clip_id", "plan_id", "recording_id", "review_id", "swim_id", "swimmer_id", "test_id",
           "talk_id", "film_id", "answer_id"}  # fmt: skip


def table(by_person: dict[str, list[Walked]]) -> str:
    """The written table: who gets past the door of each route, of things of their own squad."""
    lines = [f"| route | {' | '.join(WRITTEN)} |", "|---" * (len(WRITTEN) + 1) + "|"]
    columns = [by_person[who] for who in WRITTEN]
    for row in zip(*columns, strict=True):
        cells = " | ".join("yes" if walked.allowed else "–" for walked in row)
        lines.append(f"| `{row[0].method} {row[0].rule}` | {cells} |")
    return "\n".join(lines) + "\n"


def written_table() -> str:
    """The table as the docs have it."""
    text = DOCS.read_text("utf-8")
    return text[text.index("| route |") :]


def main() -> None:
    """Walk a data folder made for it and write the table into the docs."""
    with tempfile.TemporaryDirectory() as folder:
        empty = Path(folder) / "empty.sqlite3"
        migrate(empty)
        with connected(empty) as connection:
            connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        clip = numbered_clip(Path(folder) / "small.mp4", [n / 30 for n in range(90)])
        settings = Settings(Path(folder) / "data")
        squad = [Swimmer(name="Wren Alder"), Swimmer(name="Other Side")]
        BroughtIn(Path(folder) / "brought-in", empty)(settings, squad, (clip, {}))
        fill(settings)
        app = create_app(settings, immediate_jobs=True)
        app.config.update(TESTING=True, WTF_CSRF_ENABLED=False, PROPAGATE_EXCEPTIONS=False)
        by_person = {
            who: walk(app, settings, who, Path(folder) / f"aside-{n}")
            for n, who in enumerate(WRITTEN)
        }
    text = DOCS.read_text("utf-8")
    DOCS.write_text(text[: text.index("| route |")] + table(by_person), "utf-8")


if __name__ == "__main__":
    main()
