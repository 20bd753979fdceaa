"""Plans on the pages: made from a judged clip, changed, logged, taken away as files."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Callable
from datetime import date, timedelta
from pathlib import Path

import icalendar
import pytest
from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import clips, club, pains, plans, swimmers
from norvik.store.connection import connected
from norvik.workflow.plans import SwimmerPlan, worked_out
from tests.conftest import BroughtIn
from tests.web.judged import choose, films, judged, review, review_stored, tick

MONDAY = date(2026, 11, 30)
FORM = {"weekday": ["1", "3"], "size": "2000", "by": "metres", "pool": "25", "unit": "m",
        "starts_on": MONDAY.isoformat(), "aim_on": "2027-01-20", "begins_at": "18:30"}  # fmt: skip


@pytest.fixture(scope="module")
def made(tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, dict[str, object]]]:
    return films(tmp_path_factory.mktemp("plans"), "2026-11-20")


@pytest.fixture
def clip(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn,
    made: list[tuple[Path, dict[str, object]]],
) -> int:  # fmt: skip
    return judged(client, settings, brought_in, made)[0]


@pytest.fixture
def plan(client: FlaskClient, clip: int) -> int:
    answer = client.post(f"{review(client, clip)}plan", data=FORM)
    assert answer.status_code == 302
    return int(answer.location.rstrip("/").rsplit("/", 1)[1])


def out_of(settings: Settings, plan_id: int) -> SwimmerPlan:
    with connected(settings.database) as connection:
        return worked_out(connection, plans.by_id(connection, plan_id))


def test_a_plan_is_made_from_the_chosen_points(
    client: FlaskClient, settings: Settings, clip: int, plan: int
) -> None:
    page = client.get(f"/plans/{plan}/").text
    assert "Arched back" in page
    assert "Head up (looking forward)" in page
    made = out_of(settings, plan)
    assert [f for f, _, _ in made.plan.spans()] == ["back-arch", "head-forward"]
    assert made.plan.session_lengths == 80
    # Every set of the page adds up to what it says.
    session = made.plan.sessions[0]
    detail = client.get(f"/plans/{plan}/?session={session.key}").text
    said = re.findall(r'text-lg">(\d+) × (\d+)</b>', detail)
    assert sum(int(n) * int(m) for n, m in said) == session.lengths * 25
    assert f"technique {session.lengths * 25} of 2000&nbsp;m" in detail
    assert f"/plans/{plan}/" in client.get(f"{review(client, clip)}plan").text


@pytest.mark.parametrize(
    ("change", "word"),
    [
        ({"weekday": []}, "at least one day"),
        ({"size": "much"}, "whole number"),
        ({"size": "100"}, "at least 400 m"),
        ({"pool": "x"}, "must be a number"),
        ({"pool": "3"}, "between 10 and 100"),
        ({"aim_on": "2026-11-01"}, "before the start"),
        ({"starts_on": "soon"}, "must look like"),
        ({"begins_at": "late"}, "time of day"),
    ],
)
def test_what_cannot_be_planned_is_said_and_what_was_typed_stays(
    client: FlaskClient, settings: Settings, clip: int, change: dict[str, object], word: str
) -> None:
    answer = client.post(f"{review(client, clip)}plan", data={**FORM, **change})
    assert answer.status_code == 422
    assert word in answer.text
    if "size" not in change:
        assert 'value="2000"' in answer.text
    with connected(settings.database) as connection:
        assert plans.of_swimmer(connection, 1) == []


def test_without_a_chosen_point_there_is_nothing_to_plan(client: FlaskClient, clip: int) -> None:
    choose(client, clip, "back-arch", "head-forward")  # takes both away
    assert "No point is chosen" in client.get(f"{review(client, clip)}plan").text
    assert client.post(f"{review(client, clip)}plan", data=FORM).status_code == 422


def test_dragging_changes_the_plan_and_refuses_what_cannot_be(
    client: FlaskClient, settings: Settings, plan: int
) -> None:
    first, second = out_of(settings, plan).plan.sessions[:2]
    # Onto the day of another session: they change places.
    answer = client.post(f"/plans/{plan}/move",
                         data={"session": first.key, "to": second.on.isoformat()})  # fmt: skip
    assert answer.status_code == 200
    moved = out_of(settings, plan).plan
    assert moved.session(first.key).on == second.on
    assert moved.session(second.key).on == first.on
    assert (moved.session(first.key).moved, moved.session(second.key).moved) == (True, True)
    assert "Back to its own day" in client.get(f"/plans/{plan}/?session={first.key}").text
    client.post(f"/plans/{plan}/move", data={"session": second.key, "to": ""})
    back = out_of(settings, plan)
    assert back.stored.request.moves == {}
    assert back.plan.session(first.key).on == first.on
    client.post(f"/plans/{plan}/move", data={"session": first.key, "to": second.on.isoformat()})
    for day in ("2020-01-01", "2027-01-20", "never"):
        refused = client.post(f"/plans/{plan}/move", data={"session": first.key, "to": day})
        assert refused.status_code == 422
    assert out_of(settings, plan).plan == moved
    client.post(f"/plans/{plan}/order", data={"fault": "head-forward", "before": "back-arch"})
    assert out_of(settings, plan).plan.spans()[0][0] == "head-forward"
    client.post(f"/plans/{plan}/weeks", data={"fault": "head-forward", "weeks": "1"})
    assert out_of(settings, plan).plan.spans()[0] == ("head-forward", 1, 1)
    client.post(f"/plans/{plan}/weeks", data={"fault": "head-forward", "weeks": ""})
    assert out_of(settings, plan).plan.spans()[0] == ("head-forward", 1, 3)
    key = out_of(settings, plan).plan.sessions[0].key
    client.post(f"/plans/{plan}/repeats", data={"session": key, "place": "0", "repeats": "2"})
    fixed = out_of(settings, plan).plan.session(key)
    assert (fixed.sets[0].repeats, fixed.sets[0].fixed) == (2, True)
    too_many = client.post(f"/plans/{plan}/repeats",
                           data={"session": key, "place": "0", "repeats": "60"})  # fmt: skip
    assert "swim-off needs a length" in too_many.text
    assert out_of(settings, plan).plan.session(key) == fixed
    client.post(f"/plans/{plan}/repeats", data={"session": key, "place": "0", "repeats": ""})
    assert not out_of(settings, plan).plan.session(key).sets[0].fixed


def test_another_drill_in_every_session_of_its_point(
    client: FlaskClient, settings: Settings, plan: int
) -> None:
    before = out_of(settings, plan)
    session = before.plan.sessions[0]
    drill = session.sets[0].drill
    said = {"session": session.key, "fault": session.focus, "drill": drill}
    assert client.post(f"/plans/{plan}/another", data=said).status_code == 200
    after = out_of(settings, plan)
    for one in after.plan.sessions:
        assert drill not in [s.drill for s in one.sets if s.fault == session.focus]
        assert one.lengths == sum(s.total for s in one.sets)
    assert client.post(f"/plans/{plan}/another", data={**said, "drill": "fist"}).status_code == 422


def test_a_set_is_put_in_changed_and_taken_out(
    client: FlaskClient, settings: Settings, plan: int
) -> None:
    key = out_of(settings, plan).plan.sessions[0].key
    whole = out_of(settings, plan).plan.session(key).lengths

    def mine() -> list[tuple[str | None, int, int | None]]:
        session = out_of(settings, plan).plan.session(key)
        assert session.lengths == whole
        return [(s.drill, s.repeats, s.place) for s in session.sets if s.added]

    client.post(f"/plans/{plan}/sets", data={"session": key, "drill": "fist", "repeats": "2"})
    ((drill, repeats, place),) = mine()
    assert (drill, repeats) == ("fist", 2)
    assert "yours" in client.get(f"/plans/{plan}/?session={key}").text
    client.post(f"/plans/{plan}/repeats", data={"session": key, "place": place, "repeats": "3"})
    assert mine() == [("fist", 3, place)]
    for bad, word in (
        ({"drill": "fist", "repeats": "60"}, "swim-off needs a length"),
        ({"drill": "fist", "repeats": "0"}, "between 1 and 60"),
        ({"drill": "fist", "repeats": "many"}, "whole number"),
        ({"drill": "no-drill", "repeats": "2"}, "does not suit"),
    ):
        answer = client.post(f"/plans/{plan}/sets", data={"session": key, **bad})
        assert (answer.status_code, word in answer.text) == (422, True), word
    client.post(f"/plans/{plan}/repeats", data={"session": key, "place": place, "repeats": ""})
    assert mine() == []
    gone = client.post(f"/plans/{plan}/repeats",
                       data={"session": key, "place": place, "repeats": "2"})  # fmt: skip
    assert "no longer in the plan" in gone.text


def test_pain_lays_a_set_aside_that_was_put_in(
    client: FlaskClient, settings: Settings, plan: int
) -> None:
    key = out_of(settings, plan).plan.sessions[0].key
    client.post(f"/plans/{plan}/sets", data={"session": key, "drill": "ankle-buoy", "repeats": "2"})

    def mine() -> list[str | None]:
        return [s.drill for s in out_of(settings, plan).plan.session(key).sets if s.added]

    assert mine() == ["ankle-buoy"]
    with connected(settings.database) as connection:
        pains.note(connection, 1, "back", "")
    assert mine() == []
    with connected(settings.database) as connection:
        pains.clear(connection, 1, "back", "")
    assert mine() == ["ankle-buoy"]


def test_fixed_repeats_that_no_longer_fit_are_let_go(
    client: FlaskClient, settings: Settings, plan: int
) -> None:
    """Other drills may take their places; the plan has to open all the same."""
    session = out_of(settings, plan).plan.sessions[0]
    with connected(settings.database) as connection:
        connection.execute(
            "UPDATE plans SET wish = json_set(wish, '$.repeats', json(?))",
            (f'{{"{session.key}": {{"0": 55}}}}',),
        )
    assert client.get(f"/plans/{plan}/").status_code == 200
    assert out_of(settings, plan).plan.session(session.key) == session


def test_a_minors_plan_and_review_say_so(
    client: FlaskClient, settings: Settings, clip: int, plan: int
) -> None:
    assert "A minor:" not in client.get(review(client, clip)).text
    client.post("/swimmers/1/edit",
                data={"name": "Tilde Vassholm", "level": "improver", "minor": "y"})  # fmt: skip
    assert "A minor:" in client.get(review(client, clip)).text
    assert "A minor:" in client.get(f"/plans/{plan}/").text


def test_what_was_done_is_noted_and_pain_blocks_until_cleared(
    client: FlaskClient, settings: Settings, clip: int, plan: int
) -> None:
    key = out_of(settings, plan).plan.sessions[0].key
    log = {"session": key, "outcome": "done", "felt": "6", "note": "quick water"}
    assert "quick water" in client.post(f"/plans/{plan}/log", data=log).text
    assert out_of(settings, plan).trained[key].felt == 6
    for felt in ("11", "0", "hard"):
        assert client.post(f"/plans/{plan}/log", data={**log, "felt": felt}).status_code == 422
    # Low swing is worked on by drills that load the shoulder.
    tick(client, clip, ("low-swing", "clear"))
    choose(client, clip, "back-arch", "head-forward", "low-swing")
    with connected(settings.database) as connection:
        swimmer = swimmers.by_id(connection, 1)
        swimmers.update(connection, swimmers.Swimmer(
            swimmer.name, kit=("cord",), id=1, level="improver"))  # fmt: skip
    answer = client.post(f"{review(client, clip)}plan", data=FORM)
    other = int(answer.location.rstrip("/").rsplit("/", 1)[1])
    assert "bench-paddle-2" in [d for s in out_of(settings, other).plan.sessions for d in s.land]
    key = out_of(settings, other).plan.sessions[0].key
    page = client.post(
        f"/plans/{other}/log", data={"session": key, "outcome": "partly", "pain": "shoulder"}
    ).text
    assert "excluded until you clear it" in page
    blocked = out_of(settings, other)
    assert blocked.swimmer.pain == ("shoulder",)
    # What is to come leaves it out; what was swum stays as it was.
    assert blocked.plan.sessions[0].land == out_of(settings, other).plan.sessions[0].land
    for session in blocked.plan.sessions[1:]:
        for drill in blocked.drills_of(session):
            assert "shoulder" not in drill.loads + drill.not_with
    client.post("/swimmers/1/pain", data={"part": "shoulder", "what": "clear", "note": "physio"})
    cleared = out_of(settings, other)
    assert cleared.swimmer.pain == ()
    assert "bench-paddle-2" in [d for s in cleared.plan.sessions for d in s.land]
    with connected(settings.database) as connection:
        (told,) = pains.of_swimmer(connection, 1)
    assert (told.part, told.cleared_note) == ("shoulder", "physio")
    assert told.cleared_on
    assert "physio" in client.get("/swimmers/1").text
    client.post(f"/plans/{other}/log", data={"session": key, "outcome": ""})
    assert out_of(settings, other).trained == {}


def test_the_calendar_is_read_back(client: FlaskClient, settings: Settings, plan: int) -> None:
    """RFC 5545, read back with the icalendar library and, for line lengths, by hand."""
    data = client.get(f"/plans/{plan}/plan.ics").data
    made = out_of(settings, plan)
    calendar = icalendar.Calendar.from_ical(data)
    events = list(calendar.walk("VEVENT"))
    assert len(events) == len(made.plan.sessions)
    assert calendar["VERSION"] == "2.0"
    by_uid = {str(e["UID"]): e for e in events}
    assert len(by_uid) == len(events)
    with connected(settings.database) as connection:
        here = club.installation(connection)
    assert re.fullmatch("[0-9a-f]{32}", here)
    for session in made.plan.sessions:
        event = by_uid[f"plan-{plan}-session-{session.key}-{here}@norvik"]
        assert (event["SEQUENCE"], event["STATUS"]) == (0, "CONFIRMED")
        start, end = event.decoded("DTSTART"), event.decoded("DTEND")
        assert (start.date(), start.strftime("%H:%M")) == (session.on, "18:30")
        assert end - start == timedelta(minutes=60)
        assert ("film" in str(event["SUMMARY"])) == session.film
        assert f"Technique: {session.lengths * 25} m" in str(event["DESCRIPTION"])
    assert all(len(line) <= 75 for line in data.split(b"\r\n"))
    # Without a time of day a session lasts the day.
    with connected(settings.database) as connection:
        stored = plans.by_id(connection, plan)
        connection.execute(
            "UPDATE plans SET wish = json_set(wish, '$.begins_at', '') WHERE id = ?", (stored.id,)
        )
    whole = icalendar.Calendar.from_ical(client.get(f"/plans/{plan}/plan.ics").data)
    first = whole.walk("VEVENT")[0]
    assert first.decoded("DTEND") - first.decoded("DTSTART") == timedelta(days=1)


def test_a_calendar_says_what_moved_and_what_is_off(
    client: FlaskClient, settings: Settings, plan: int
) -> None:
    def told() -> dict[str, tuple[int, str]]:
        data = client.get(f"/plans/{plan}/plan.ics").data
        return {
            str(e["UID"]).split("-session-")[1].rsplit("-", 1)[0]: (e["SEQUENCE"], str(e["STATUS"]))
            for e in icalendar.Calendar.from_ical(data).walk("VEVENT")
        }

    first = told()
    assert set(first.values()) == {(0, "CONFIRMED")}
    # Asked for again nothing has changed.
    assert told() == first
    key = out_of(settings, plan).plan.sessions[2].key
    moved = out_of(settings, plan).plan.sessions[2].on + timedelta(days=1)
    client.post(f"/plans/{plan}/move", data={"session": key, "to": moved.isoformat()})
    after = told()
    assert after[key] == (1, "CONFIRMED")
    assert {**after, key: first[key]} == first
    # Fewer days a week: what is planned no longer is said to be off, once and for all.
    with connected(settings.database) as connection:
        connection.execute(
            "UPDATE plans SET wish = json_set(wish, '$.weekdays', json('[0]')) WHERE id = ?",
            (plan,),
        )
    planned = {s.key for s in out_of(settings, plan).plan.sessions}
    now = told()
    off = {k for k, (_, status) in now.items() if status == "CANCELLED"}
    assert off == set(first) - planned
    assert off
    assert {k: now[k] for k in off} == {k: told()[k] for k in off}


def send(client: FlaskClient, address: str, text: str | bytes) -> int:
    data = text.encode() if isinstance(text, str) else text
    return client.post(address, data={"file": (io.BytesIO(data), "a.csv")}).status_code


def test_its_table_comes_back_with_days_and_repeats(
    client: FlaskClient, settings: Settings, plan: int
) -> None:
    address = f"/plans/{plan}/plan.csv"
    text = client.get(address).get_data(as_text=True)
    before = out_of(settings, plan).plan.sessions
    # As it is it changes nothing.
    assert send(client, address, text) == 302
    assert out_of(settings, plan).plan.sessions == before
    rows = list(csv.reader(io.StringIO(text, newline="")))
    first, second = before[0], before[1]
    drill = next(s for s in second.sets if s.place is not None)
    for row in rows[1:]:
        if row[2] == f"session {first.key}":
            row[0] = (first.on + timedelta(days=1)).isoformat()
        if row[2] == f"session {second.key}" and row[4] == drill.name:
            row[5] = str(drill.repeats - 1)
    changed = "\r\n".join(";".join(cell.replace(";", ",") for cell in row) for row in rows)
    assert send(client, address, changed.encode("utf-16")) == 302
    after = {s.key: s for s in out_of(settings, plan).plan.sessions}
    assert after[first.key].on == first.on + timedelta(days=1)
    again = next(s for s in after[second.key].sets if s.place == drill.place)
    assert (again.repeats, again.fixed) == (drill.repeats - 1, True)


@pytest.mark.parametrize(
    "change",
    [
        lambda t: t.replace("session 1-1", "session 77-1"),
        lambda t: t.replace(",m,", ",m,,,,,,,,,,,", 1),
        lambda t: t.replace("date,week", "day,week"),
        lambda t: "",
    ],
)
def test_a_table_of_another_plan_changes_nothing(
    client: FlaskClient, settings: Settings, plan: int, change: Callable[[str], str]
) -> None:
    address = f"/plans/{plan}/plan.csv"
    before = out_of(settings, plan).plan
    assert send(client, address, change(client.get(address).get_data(as_text=True))) == 422
    assert out_of(settings, plan).plan == before


def test_paper(client: FlaskClient, settings: Settings, plan: int) -> None:
    key = out_of(settings, plan).plan.sessions[0].key
    for address in (f"/plans/{plan}/plan.pdf", f"/plans/{plan}/deck/{key}.pdf"):
        answer = client.get(address)
        assert answer.status_code == 200
        assert answer.data.startswith(b"%PDF-")
    assert client.get(f"/plans/{plan}/deck/9-9.pdf").status_code == 422


def test_the_table_is_read_back_and_adds_up(
    client: FlaskClient, settings: Settings, plan: int
) -> None:
    text = client.get(f"/plans/{plan}/plan.csv").get_data(as_text=True)
    rows = list(csv.DictReader(io.StringIO(text, newline="")))
    made = out_of(settings, plan)
    for session in made.plan.sessions:
        own = [r for r in rows if r["session"] == f"session {session.key}"]
        assert sum(int(r["repeats"]) * int(r["distance"]) for r in own) == session.lengths * 25
        assert {r["date"] for r in own} == {session.on.isoformat()}
        assert {r["film"] for r in own} == ({"yes"} if session.film else {""})


def test_deck_card_and_the_day_of_a_long_event(
    client: FlaskClient, settings: Settings, plan: int
) -> None:
    session = next(s for s in out_of(settings, plan).plan.sessions if s.film)
    card = client.get(f"/plans/{plan}/deck/{session.key}").text
    assert "Zip up from your belt" in card
    assert "Never alone" in card
    assert "near race pace" in card
    assert client.get(f"/plans/{plan}/deck/9-9").status_code == 422
    day = client.get(f"/plans/{plan}/event?minutes=300&each=60&word-back-arch=Zip").text
    assert day.count(">Zip<") == 3
    assert "4:00 to 5:00" in day
    assert client.get(f"/plans/{plan}/event?minutes=0").status_code == 422


def test_a_plan_ends_and_goes(client: FlaskClient, settings: Settings, plan: int) -> None:
    client.post(f"/plans/{plan}/end", data={"what": "end"})
    assert "Resume" in client.get(f"/plans/{plan}/").text
    client.post(f"/plans/{plan}/end", data={"what": "again"})
    with connected(settings.database) as connection:
        assert [p.id for p in plans.running(connection)] == [plan]
    client.post(f"/plans/{plan}/end", data={"what": "delete"})
    assert client.get(f"/plans/{plan}/").status_code == 404


def test_today_tells_what_is_to_be_filmed(
    client: FlaskClient, settings: Settings, clip: int, plan: int
) -> None:
    today = date.today()
    with connected(settings.database) as connection:
        connection.execute("UPDATE clips SET filmed_on = '2020-01-01'")
    assert "film arched back" not in client.get("/").text

    def start(on: date) -> None:
        with connected(settings.database) as connection:
            connection.execute(
                "UPDATE plans SET wish = json_set(wish, '$.starts_on', ?, '$.aim_on', NULL, "
                "'$.focuses', json('[[\"back-arch\", 1]]'))",
                (on.isoformat(),),
            )

    start(today - timedelta(days=today.weekday() + 7))  # its last session was last Thursday
    page = client.get("/").text
    assert "film arched back" in page
    assert "missed" in page
    with connected(settings.database) as connection:
        connection.execute("UPDATE clips SET filmed_on = ?", (today.isoformat(),))
    assert "film arched back" not in client.get("/").text
    start(today + timedelta(days=1))
    soon = client.get("/").text
    assert ("film arched back" in soon) == any(
        s.film and s.on <= today + timedelta(days=7) for s in out_of(settings, plan).plan.sessions
    )


def test_a_point_that_is_gone_is_told_and_shortened(
    client: FlaskClient, plan: int, clip: int, settings: Settings
) -> None:
    with connected(settings.database) as connection:
        connection.execute(
            "INSERT INTO focus_answers (review_id, stroke, fault, answer) "
            "VALUES (?, 'freestyle', 'back-arch', 'gone')",
            (review_stored(connection, clip).id,),
        )
    # Said of a film from before the plan began: it says nothing of the training.
    assert "gone</b> on the film" not in client.get(f"/plans/{plan}/").text
    with connected(settings.database) as connection:
        clips.change_facts(connection, [clip], filmed_on="2026-12-02")
        stored = worked_out(connection, plans.by_id(connection, plan))
    before = {fault: (first, last) for fault, first, last in stored.plan.spans()}
    first, last = before["back-arch"]
    page = client.get(f"/plans/{plan}/").text
    assert "gone</b> on the film of 2 December 2026" in page
    weeks = int(re.search(r'"weeks": (\d+)}\'[^>]*>Move on', page).group(1))  # type: ignore[union-attr]
    client.post(f"/plans/{plan}/weeks", data={"fault": "back-arch", "weeks": weeks})
    with connected(settings.database) as connection:
        after = worked_out(connection, plans.by_id(connection, plan)).plan.spans()
    assert next(b - a for f, a, b in after if f == "back-arch") < last - first
    assert "gone</b> on the film" not in client.get(f"/plans/{plan}/").text


def test_effort_is_ten_buttons_and_pain_stays_in_sight(
    client: FlaskClient, plan: int, settings: Settings
) -> None:
    page = client.get(f"/plans/{plan}/").text
    assert page.count('type="radio" name="felt"') == 10
    key = re.search(r'data-session="([^"]+)"', page).group(1)  # type: ignore[union-attr]
    form = {"session": key, "outcome": "done", "felt": "6", "pain": "shoulder", "note": "front"}
    page = client.post(f"/plans/{plan}/log", data=form).text
    assert "Shoulder: pain noted" in page
    assert 'value="6" class="sr-only" checked' in page
    assert "none new" in page


def test_another_drill_of_a_point_that_is_not_in_the_plan(client: FlaskClient, plan: int) -> None:
    answer = client.post(f"/plans/{plan}/another", data={"fault": "late-catch", "drill": "fist"})
    assert answer.status_code == 422
    assert "no longer in the plan" in answer.text
