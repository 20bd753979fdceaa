"""Pool tests on the pages: written down, judged, tied to a plan, taken away as a table."""

from __future__ import annotations

import csv
import io
from datetime import date, timedelta
from fractions import Fraction
from io import BytesIO

import pytest
from flask.testing import FlaskClient

from norvik.core.pool import Pool
from norvik.core.prescription.plan import FocusRequest, PlanRequest
from norvik.settings import Settings
from norvik.store import pains, plans, pool_tests, swimmers
from norvik.store.connection import connected
from norvik.store.plans import StoredPlan
from norvik.store.swimmers import Swimmer
from norvik.workflow.due import due
from norvik.workflow.plans import worked_out

TODAY = date.today()
POOL = {"pool": "25", "unit": "m", "stroke": "freestyle", "done_on": TODAY.isoformat()}


@pytest.fixture
def swimmer(client: FlaskClient, settings: Settings) -> int:
    with connected(settings.database) as connection:
        return swimmers.add(connection, Swimmer("Tilde Vassholm", kit=("board",)))


@pytest.fixture
def plan(settings: Settings, swimmer: int) -> int:
    """Begun today: its first test is swum in its first session."""
    request = PlanRequest(
        TODAY, tuple(range(7)), Pool(Fraction(25)), (FocusRequest("straight-arm"),), metres=2000
    )
    stored = StoredPlan(swimmer_id=swimmer, stroke="freestyle", request=request)
    with connected(settings.database) as connection:
        return plans.add(connection, stored).id


def write(client: FlaskClient, swimmer: int, test: str, **entries: str) -> str:
    """The page that follows."""
    form = {**POOL, "test": test, **entries}
    return client.post(f"/swimmers/{swimmer}/tests", data=form, follow_redirects=True).text


def test_a_ratio_is_judged_and_drills_for_it_named(client: FlaskClient, swimmer: int) -> None:
    assert "No test yet" in client.get(f"/swimmers/{swimmer}/tests").text
    page = write(client, swimmer, "pull-kick", pull="1:48.0", kick="60", rested="on")
    assert "1.80" in page
    assert "the arms are the weaker part" in page
    assert "/drills/catch-up" in page
    assert "/drills/fist" in page
    page = write(client, swimmer, "pull-kick", pull="96,0", kick="1:00", rested="on")
    assert "Balanced" in page
    assert "better (−0.20)" in page
    assert "The arms are 12.0 s faster than before." in page
    assert "<svg" in page
    assert "/drills/fist" not in page


def test_drills_follow_pain_and_findings(
    client: FlaskClient, settings: Settings, swimmer: int, plan: int
) -> None:
    with connected(settings.database) as connection:
        stored = plans.by_id(connection, plan)
        connection.execute(
            "UPDATE plans SET wish = json_set(wish, '$.found', json('[\"overglide\"]'))"
        )
    assert stored.found == ()
    page = write(client, swimmer, "pull-kick", pull="108", kick="60", rested="on")
    assert "/drills/catch-up" not in page  # it makes the over-gliding
    assert "/drills/fist" in page


def test_a_tired_test_names_no_drill(client: FlaskClient, swimmer: int) -> None:
    page = write(client, swimmer, "pull-kick", pull="108", kick="60")
    assert "Not rested" in page
    assert "/drills/fist" not in page


@pytest.mark.parametrize(
    ("test", "entries", "word"),
    [
        ("pull-kick", {"pull": "108", "kick": ""}, "50 kick: is missing."),
        ("pull-kick", {"pull": "fast", "kick": "60"}, "“fast” is no time or count"),
        ("pull-kick", {"pull": "108", "kick": "60", "pool": "33 1/3"}, "in whole lengths"),
        ("pull-kick", {"pull": "108", "kick": "60", "pool": "x"}, "must be a number"),
        ("pull-kick", {"pull": "108", "kick": "60", "stroke": "butterfly"}, "is not swum in"),
        ("pull-kick", {"pull": "108", "kick": "60", "stroke": "dog"}, "not known"),
        ("pull-kick", {"pull": "108", "kick": "60", "done_on": "now"}, "must look like"),
        ("pull-kick", {"pull": "108", "kick": "60", "done_on": "2999-01-01"}, "still to come"),
        ("stroke-count", {"rows": "21 22.0\n19"}, "Line 2: write strokes and seconds"),
        ("stroke-count", {"rows": "21 22.0"}, "at least 2 values"),
        ("kick-set", {"seconds": "1:40"}, "at least 2 values"),
    ],
)
def test_what_cannot_be_is_said_and_what_was_typed_stays(
    client: FlaskClient, settings: Settings, swimmer: int, test: str, entries: dict[str, str],
    word: str,
) -> None:  # fmt: skip
    form = {**POOL, "test": test, "note": "lane 3", **entries}
    answer = client.post(f"/swimmers/{swimmer}/tests", data=form)
    assert answer.status_code == 422
    assert word in answer.text
    assert "lane 3" in answer.text
    typed = entries.get("pull") or entries.get("rows") or entries.get("seconds")
    assert typed
    assert typed in answer.get_data(as_text=True)
    with connected(settings.database) as connection:
        assert pool_tests.of_swimmer(connection, swimmer) == []


def test_counts_sets_and_the_table(client: FlaskClient, swimmer: int) -> None:
    page = write(client, swimmer, "stroke-count", rows="21 22.0\n18 22.6\n16 22.9\n")
    assert "From 21 strokes in 22.0 s to 16 in 22.9 s." in page
    page = write(client, swimmer, "kick-set", seconds="1:40 1:42 1:46", send_off="2:00")
    assert "6.0 s (6.0 %) slower" in page
    page = write(client, swimmer, "fly-333-count", strokes="14 15", stroke="butterfly",
                 pool="33.33")  # fmt: skip
    assert "known after 3 more days" in page
    rows = list(csv.DictReader(io.StringIO(client.get(f"/swimmers/{swimmer}/pool-tests.csv").text)))
    assert len(rows) == 6 + 4 + 2
    assert [r["value"] for r in rows if r["entry"] == "seconds" and r["test"] == "kick-set"] == [
        "100", "102", "106",
    ]  # fmt: skip
    assert {r["pool"] for r in rows if r["stroke"] == "butterfly"} == {"100/3"}


def test_the_table_comes_back(client: FlaskClient, settings: Settings, swimmer: int) -> None:
    address = f"/swimmers/{swimmer}/pool-tests.csv"
    table = (
        "day;test;stroke;pool;unit;rested;entry;number;value;note\r\n"
        "2026-10-05;pull-kick;freestyle;25;m;yes;pull;1;82,5;calm\r\n"
        "2026-10-05;pull-kick;freestyle;25;m;yes;kick;1;51;calm\r\n"
        "2026-10-12;pull-kick;freestyle;100/3;m;yes;pull;1;80;\r\n"
        "2026-10-12;pull-kick;freestyle;100/3;m;yes;kick;1;50;\r\n"
    )

    def send(text: str) -> int:
        return client.post(address, data={"file": (BytesIO(text.encode()), "a.csv")}).status_code

    def known() -> list[tuple[str, tuple[float, ...]]]:
        with connected(settings.database) as connection:
            return [
                (t.done_on, t.entries["pull"]) for t in pool_tests.of_swimmer(connection, swimmer)
            ]

    # 100 m are no whole lengths of 33 1/3 m doubled by a kick of 50: refused whole, with its name.
    assert send(table) == 422
    assert known() == []
    good = "\r\n".join(table.split("\r\n")[:3])
    assert send(good) == 302
    assert known() == [("2026-10-05", (82.5,))]
    # Brought again, and out and in again, nothing is doubled.
    assert send(good) == 302
    assert send(client.get(address).text) == 302
    assert len(known()) == 1
    for wrong in ("", "day,test\n", good.replace("82,5", "fast"), good.replace("pull-kick", "tow"),
                  good.replace("2026-10-05", "2199-10-05"),
                  # A row that ends before its last column.
                  "day;test;stroke;pool;unit;number;value;entry\r\n"
                  "2026-10-05;pull-kick;freestyle;25;m;1;82,5\r\n"):  # fmt: skip
        assert send(wrong) == 422, wrong
    assert len(known()) == 1
    # Pain is held against the table as against the form, but not against what is known already.
    with connected(settings.database) as connection:
        pains.note(connection, swimmer, "shoulder", "")
        connection.execute("UPDATE pains SET noted_on = '2026-10-05'")
    assert send(good) == 302
    assert send(good.replace("2026-10-05", "2026-10-04")) == 302
    assert send(good.replace("2026-10-05", "2026-10-06")) == 422
    assert [day for day, _ in known()] == ["2026-10-04", "2026-10-05"]


def test_a_test_is_thrown_away(client: FlaskClient, settings: Settings, swimmer: int) -> None:
    write(client, swimmer, "stroke-count", rows="21 22.0\n18 22.6")
    with connected(settings.database) as connection:
        (swum,) = pool_tests.of_swimmer(connection, swimmer)
    assert client.post(f"/tests/{swum.id}/delete").status_code == 302
    assert client.post(f"/tests/{swum.id}/delete").status_code == 404
    assert "No test yet" in client.get(f"/swimmers/{swimmer}/tests").text


def test_a_test_of_the_plan_is_due_until_it_is_swum(
    client: FlaskClient, settings: Settings, swimmer: int, plan: int
) -> None:
    with connected(settings.database) as connection:
        session = worked_out(connection, plans.by_id(connection, plan)).plan.sessions[0]
        assert session.test is not None
    assert "test: pull-kick ratio" in client.get("/").text
    detail = client.get(f"/plans/{plan}/?session={session.key}").text
    assert "Enter the result" in detail
    page = write(client, swimmer, "pull-kick", pull="96", kick="60", rested="on",
                 plan=str(plan), session=session.key)  # fmt: skip
    assert "Swum on" in page  # back in the plan, at its session
    assert "Balanced" in page
    assert "test: pull-kick ratio" not in client.get("/").text
    # A plan of somebody else is not written to.
    with connected(settings.database) as connection:
        other = swimmers.add(connection, Swimmer("Eirik Lundstrand", kit=("board",)))
    write(client, other, "pull-kick", pull="96", kick="60", plan=str(plan), session=session.key)
    with connected(settings.database) as connection:
        assert pool_tests.of_swimmer(connection, other)[0].plan_id is None


def test_a_test_swum_without_the_plan_counts_too(
    client: FlaskClient, settings: Settings, swimmer: int, plan: int
) -> None:
    with connected(settings.database) as connection:
        assert [d.test.id for d in due(connection, TODAY) if d.test] == ["pull-kick"]
        later = due(connection, TODAY + timedelta(days=20))
        assert [d.test.id for d in later if d.test] == ["pull-kick"]  # missed, and told so
        assert not [d for d in due(connection, TODAY + timedelta(days=60)) if d.test]
    write(client, swimmer, "pull-kick", pull="96", kick="60", rested="on")
    with connected(settings.database) as connection:
        assert not [d for d in due(connection, TODAY + timedelta(days=20)) if d.test]


def test_a_test_that_works_a_painful_part_is_not_taken(
    client: FlaskClient, swimmer: int, settings: Settings
) -> None:
    with connected(settings.database) as connection:
        pains.note(connection, swimmer, "shoulder", "")
    assert "pain noted: shoulder" in client.get(f"/swimmers/{swimmer}/tests?test=pull-kick").text
    assert "pain noted" not in client.get(f"/swimmers/{swimmer}/tests?test=stroke-count").text
    page = write(client, swimmer, "pull-kick", pull="96", kick="60", rested="on")
    assert "until the pain is cleared" in page
    # One that was swum before it hurt is only written down.
    before = (TODAY - timedelta(days=3)).isoformat()
    page = write(client, swimmer, "pull-kick", pull="96", kick="60", rested="on", done_on=before)
    assert "Balanced" in page
    with connected(settings.database) as connection:
        pains.clear(connection, swimmer, "shoulder", "")
    assert "pain noted" not in client.get(f"/swimmers/{swimmer}/tests?test=pull-kick").text


def test_a_plan_asks_for_no_test_that_hurts(swimmer: int, plan: int, settings: Settings) -> None:
    with connected(settings.database) as connection:
        asked = {d.test.id for d in due(connection, TODAY) if d.test}
        assert "pull-kick" in asked
        pains.note(connection, swimmer, "shoulder", "")
        assert "pull-kick" not in {d.test.id for d in due(connection, TODAY) if d.test}
