"""One review over several clips: judged together, chosen over strokes, whole whatever happens."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.catalogue.loader import load
from norvik.settings import Settings
from norvik.store import clips, focus_answers, review_clips, reviews, trash
from norvik.store.connection import connected, transaction
from norvik.store.swimmers import Swimmer
from tests.conftest import BroughtIn
from tests.web.judged import SWIMMER, choose, films, review, review_stored, tick

JSON = {"Accept": "application/json"}
DAY = "2026-11-20"


@pytest.fixture(scope="module")
def made(tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, dict[str, object]]]:
    side, front, fly = films(tmp_path_factory.mktemp("gathered"), DAY, DAY, DAY)
    front[1]["view"], fly[1]["stroke"] = "front-under", "butterfly"
    return [side, front, fly]


@pytest.fixture
def day(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn,
    made: list[tuple[Path, dict[str, object]]],
) -> list[int]:  # fmt: skip
    """Side, front and butterfly of one day: the elbow on one, the roll on the other."""
    ids = brought_in(settings, [SWIMMER, Swimmer("Eirik Lundstrand")], *made)
    tick(client, ids[0], ("dropped-elbow", "slight"), ("long-line", "clear"))
    tick(client, ids[1], ("over-rotation", "clear"), ("even-roll", "clear"))
    tick(client, ids[2], ("fly-high", "clear"), ("fly-wave", "clear"))
    return ids


def test_one_map_joins_what_two_views_show(client: FlaskClient, day: list[int]) -> None:
    page = client.get(f"/clips/{day[0]}/causes/").text
    assert "from 2 clips" in page
    lit = re.findall(r'class="stream stream-lit"', page)
    assert len(lit) == 1
    order = re.findall(r"<b>\d\. ([^<]+)</b>", page)
    assert order == ["Over-rotation", "Dropped elbow"]
    judge = client.get(f"/clips/{day[0]}/judge/").text
    assert "front, under water" in judge
    assert "It leads to another fault found here: dropped elbow." in judge


def test_the_points_of_all_strokes_are_at_most_three(
    client: FlaskClient, day: list[int], settings: Settings
) -> None:
    tick(client, day[0], ("head-forward", "clear"))
    choose(client, day[2], "fly-high")
    choose(client, day[0], "over-rotation", "head-forward")
    full = client.post(f"/clips/{day[0]}/judge/focus", data={"fault": "dropped-elbow"})
    assert full.status_code == 422
    with connected(settings.database) as connection:
        stored = review_stored(connection, day[0])
        assert [(f.stroke, f.fault) for f in stored.focuses] == [
            ("butterfly", "fly-high"), ("freestyle", "over-rotation"),
            ("freestyle", "head-forward"),
        ]  # fmt: skip
    page = client.get(review(client, day[0])).text
    for said in ("in butterfly", "in freestyle", load("butterfly").faults["fly-high"].name):
        assert said.lower() in page.lower(), said
    assert "Also chosen" in client.get(f"/clips/{day[0]}/judge/").text
    # One plan for all of them.
    answer = client.post(f"{review(client, day[0])}plan", data={
        "weekday": ["1", "3"], "size": "2000", "by": "metres", "pool": "25", "unit": "m",
        "starts_on": "2026-11-30"})  # fmt: skip
    assert answer.status_code == 302
    plan = client.get(answer.location).text
    assert "Over-rotation" in plan
    assert client.get(answer.location + "event").status_code == 200


def test_two_coaches_who_press_the_same_do_not_undo_each_other(
    client: FlaskClient, day: list[int], settings: Settings
) -> None:
    for _ in range(2):
        client.post(f"/clips/{day[0]}/judge/focus", data={"fault": "over-rotation", "want": "yes"})
    with connected(settings.database) as connection:
        assert len(review_stored(connection, day[0]).focuses) == 1
    # The same of a drill and of an answer.
    drill = {"fault": "over-rotation", "drill": "torpedo-kick", "want": "no"}
    for _ in range(2):
        client.post(f"/clips/{day[0]}/judge/drills", data=drill)
    with connected(settings.database) as connection:
        (focus,) = review_stored(connection, day[0]).focuses
        assert "torpedo-kick" not in (focus.drills or ())
        later = review_clips.begin(connection, 1, "2026-12-20")
        review_clips.take_out(connection, 1, day[1])
        review_clips.put_in(connection, later, day[1])
        clips.change_facts(connection, [day[1]], filmed_on="2026-12-20")
    said = {"fault": "over-rotation", "answer": "better", "was": ""}
    for _ in range(2):
        client.post(f"/clips/{day[1]}/judge/worked-on", data=said)
    with connected(settings.database) as connection:
        assert focus_answers.of_review(connection, later, "freestyle") == {
            "over-rotation": "better"
        }


def test_words_that_somebody_else_wrote_are_not_overwritten(
    client: FlaskClient, day: list[int], settings: Settings
) -> None:
    address = review(client, day[0])
    first = {"words": "Roll less.", "before": ""}
    assert client.post(f"{address}words", data=first).status_code == 204
    late = {"words": "Elbow up.", "before": ""}
    refused = client.post(f"{address}words", data=late, headers=JSON)
    assert refused.status_code == 409
    assert "Roll less." in refused.json["sentence"]
    assert refused.json["words"] == "Roll less."
    assert client.post(address, data=late).status_code == 422
    # From what is there now it goes on.
    assert client.post(f"{address}words", data={**late, "before": "Roll less."}).status_code == 204
    with connected(settings.database) as connection:
        assert review_stored(connection, day[0]).words == "Elbow up."


def test_clips_are_taken_out_and_put_in(
    client: FlaskClient, day: list[int], settings: Settings
) -> None:
    address = f"{review(client, day[0])}clips/"
    client.post(f"{address}take-out", data={"clip": day[1]})
    assert (
        "Over-rotation" not in client.get(f"/clips/{day[0]}/judge/").text.split('id="verdict"')[1]
    )
    page = client.get(address).text
    assert "Other clips of this day" in page
    client.post(f"{address}put-in", data={"clip": day[1]})
    assert "Over-rotation" in client.get(f"/clips/{day[0]}/judge/").text.split('id="verdict"')[1]
    with connected(settings.database) as connection:
        connection.execute("UPDATE clips SET swimmer_id = 2 WHERE id = ?", (day[2],))
    refused = client.post(f"{address}put-in", data={"clip": day[2]}, headers=JSON)
    assert refused.status_code == 422


@pytest.mark.parametrize(
    ("happens", "said"),
    [
        ("moved", "a clip of Eirik Lundstrand"),
        ("trashed", "is in the trash"),
        ("deleted", "has been deleted permanently"),
        ("stroke", "now shows backstroke"),
    ],
)
def test_whatever_becomes_of_a_clip_the_review_says_so_and_stays_whole(
    client: FlaskClient, day: list[int], settings: Settings, happens: str, said: str
) -> None:
    choose(client, day[0], "over-rotation", "dropped-elbow")
    address = review(client, day[0])
    with connected(settings.database) as connection, transaction(connection):
        facts = clips.by_id(connection, day[1]).facts
        if happens == "moved":
            clips.set_facts(connection, day[1], replace(facts, swimmer_id=2))
        elif happens == "stroke":
            clips.set_facts(connection, day[1], replace(facts, stroke="backstroke"))
        else:
            trash.put(connection, [day[1]])
            if happens == "deleted":
                trash.delete(connection, [day[1]])
    page = client.get(address).text
    assert said in page
    assert "“Over-rotation” is chosen, but no clip shows it any more." in page
    with connected(settings.database) as connection:
        stored = review_stored(connection, day[0])
        assert [f.fault for f in stored.focuses] == ["over-rotation", "dropped-elbow"]
    # It goes when the coach removes it.
    client.post(f"/clips/{day[0]}/judge/focus", data={"fault": "over-rotation", "want": "no"})
    assert "no clip shows it any more" not in client.get(address).text
    assert said in client.get(f"{address}clips/").text


def test_the_sheet_holds_everything_and_says_what_numbers_say(
    client: FlaskClient, day: list[int]
) -> None:
    page = client.get(f"/clips/{day[0]}/judge/").text
    sheet = page.split('id="verdict"')[0]
    # Also what numbers can show, and what this view can't.
    for name in ("Overgliding", "Late breath", "Over-rotation", "Even roll"):
        assert name in sheet, name
    assert "best from: front, under water" in sheet
    assert 'data-words="dropped elbow' in sheet


def test_a_remark_becomes_a_point_with_cue_and_drills(
    client: FlaskClient, day: list[int], settings: Settings
) -> None:
    url = f"/clips/{day[0]}/remarks/"
    client.post(url, data={"text": "+ you never stop smiling", "frame": 12})
    page = client.post(
        url, data={"text": "the right hand stops", "frame": 20, "side": "right"}
    ).text
    assert "The right hand stops" in page
    assert "You never stop smiling." in page
    choose(client, day[0], "remark-2")
    answer = client.post(f"{url}2/work", data={"cue": "Keep it moving", "drill": ["fist", ""]})
    assert answer.status_code == 200
    sheet = client.get(review(client, day[0])).text
    for said in ("Keep it moving", "You never stop smiling.", "The right hand stops"):
        assert said in sheet, said
    plan = {"weekday": ["1"], "size": "2000", "by": "metres", "pool": "25", "unit": "m",
            "starts_on": "2026-11-30"}  # fmt: skip
    answer = client.post(f"{review(client, day[0])}plan", data=plan)
    assert "The right hand stops" in client.get(answer.location).text
    held = client.post(f"{url}2/work", data={"cue": "hold your breath for a length"}, headers=JSON)
    assert held.status_code == 422
    assert client.post(f"{url}2", data={"text": ""}).status_code == 200
    for text in ("", " ", "x" * 301):
        refused = client.post(url, data={"text": text}, headers=JSON)
        assert refused.status_code == 422


def test_a_doubt_waits_on_today_and_on_the_clip_that_can_answer_it(
    client: FlaskClient, day: list[int]
) -> None:
    data = {"text": "? does the elbow drop", "view": "front-under"}
    client.post(f"/clips/{day[0]}/remarks/", data=data)
    assert "does the elbow drop" in client.get("/").text
    assert "Doubts that this clip may answer" not in client.get(f"/clips/{day[0]}/judge/").text
    assert "does the elbow drop" in client.get(f"/clips/{day[1]}/judge/").text
    client.post(f"/clips/{day[1]}/remarks/1/answer", data={"of": day[0], "answer": "only the left"})
    assert "does the elbow drop" not in client.get("/").text
    assert "answered: only the left" in client.get(f"/clips/{day[0]}/judge/").text


def test_lists_are_of_reviews(client: FlaskClient, day: list[int], settings: Settings) -> None:
    for address in ("/", "/swimmers/1"):
        page = client.get(address).text
        assert page.count('id="review-') == 1, address
        assert page.count("/poster.jpg") == 3, address
    with connected(settings.database) as connection:
        reviews.set_done(connection, review_stored(connection, day[0]).id, True)
    assert "Reviewed" in client.get("/").text


def test_one_point_fits_on_two_sheets_of_paper(client: FlaskClient, day: list[int]) -> None:
    choose(client, day[0], "over-rotation")
    data = client.get(f"{review(client, day[0])}review.pdf").data
    assert 1 <= len(re.findall(rb"/Type\s*/Page\b", data)) <= 2


def test_looking_at_a_clip_beside_a_finished_review_begins_none(
    client: FlaskClient, settings: Settings, day: list[int]
) -> None:
    """It is asked in which it is to be judged; nothing is written before somebody says it."""
    with connected(settings.database) as connection:
        number = review_stored(connection, day[0]).id
        reviews.set_done(connection, number, True)
        review_clips.take_out(connection, number, day[1])
    pages = [f"/clips/{day[1]}/{page}/" for page in ("judge", "causes", "short", "review", "talk")]
    for address in pages:
        answer = client.get(address)
        assert (answer.status_code, "not in a review yet" in answer.text) == (200, True), address
        assert f"/reviews/{number}/" in answer.text
        assert "is finished" in answer.text
    assert client.get(pages[0], headers={"HX-Request": "true"}).status_code == 409
    with connected(settings.database) as connection:
        assert reviews.id_of_clip(connection, day[1]) is None
        assert connection.execute("SELECT count(*) FROM reviews").fetchone()[0] == 1
    begun = client.post(f"/clips/{day[1]}/review/", data={"page": pages[1]})
    assert begun.location == pages[1]
    elsewhere = client.post(f"/clips/{day[1]}/review/", data={"page": "https://elsewhere.example/"})
    assert elsewhere.location == pages[0]
    with connected(settings.database) as connection:
        own = reviews.id_of_clip(connection, day[1])
        assert own not in (None, number)
        assert connection.execute("SELECT count(*) FROM reviews").fetchone()[0] == 2
    assert "not in a review yet" not in client.get(pages[0]).text


def test_a_tick_on_a_clip_that_stands_apart_begins_its_review(
    client: FlaskClient, settings: Settings, day: list[int]
) -> None:
    """A deed says it: what the coach ticks has to stand somewhere."""
    with connected(settings.database) as connection:
        number = review_stored(connection, day[0]).id
        review_clips.take_out(connection, number, day[1])
    tick(client, day[1], ("crossing", "clear"))
    with connected(settings.database) as connection:
        assert reviews.id_of_clip(connection, day[1]) not in (None, number)
