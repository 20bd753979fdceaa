"""Whose a clip is: moved knowingly, never guessed; swimmers who leave; steps that are undone."""

from __future__ import annotations

import io
import json
import re
import zipfile
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import (
    clips,
    focus_answers,
    marks,
    observations,
    swimmer_removal,
    swimmers,
    users,
)
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.conftest import PASSWORD_HASH, BroughtIn, signed_in_as
from tests.web.judged import films, judged, review, review_stored, tick

OTHER = 2


@pytest.fixture(scope="module")
def made(tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, dict[str, object]]]:
    return films(tmp_path_factory.mktemp("whose"), "2026-10-01", "2026-11-20")


@pytest.fixture
def both(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn,
    made: list[tuple[Path, dict[str, object]]],
) -> list[int]:  # fmt: skip
    ids = judged(client, settings, brought_in, made)
    with connected(settings.database) as connection:
        assert swimmers.add(connection, Swimmer("Ida Brekke")) == OTHER
    return ids


def facts(client: FlaskClient, clip: int, **said: str):  # type: ignore[no-untyped-def]
    form = {"swimmer_id": str(OTHER), "stroke": "freestyle", "filmed_on": "2026-10-01", **said}
    return client.post(f"/clips/{clip}/facts", data=form)


def test_a_judged_clip_asks_before_it_moves(
    client: FlaskClient, both: list[int], settings: Settings
) -> None:
    client.post(f"{review(client, both[0])}words", data={"words": "Great rhythm, Tilde!"})
    asked = facts(client, both[0]).text
    for words in ("12 marks", "4 ticks", "2 chosen points", "Great rhythm", "Ida Brekke"):
        assert words in asked, words
    with connected(settings.database) as connection:
        assert clips.by_id(connection, both[0]).swimmer_id == 1
    assert facts(client, both[0], judgement="stays").status_code == 302
    with connected(settings.database) as connection:
        assert clips.by_id(connection, both[0]).swimmer_id == OTHER
        assert len(marks.of_clip(connection, both[0])) == 12
        assert observations.of_clip(connection, both[0]) == []
        assert review_stored(connection, both[0]).words == ""


def test_the_judgement_may_go_along_and_all_of_it_can_be_undone(
    client: FlaskClient, both: list[int], settings: Settings
) -> None:
    facts(client, both[0], judgement="goes")
    with connected(settings.database) as connection:
        assert len(review_stored(connection, both[0]).focuses) == 2
        (step,) = connection.execute("SELECT max(id) FROM undo_steps").fetchone()
    assert client.post(f"/undo/{step}").status_code == 200
    with connected(settings.database) as connection:
        assert clips.by_id(connection, both[0]).swimmer_id == 1


def test_nothing_is_asked_of_a_clip_without_judgement_or_without_a_move(
    client: FlaskClient, both: list[int]
) -> None:
    assert facts(client, both[1]).status_code == 302
    assert facts(client, both[0], swimmer_id="1", view="side-above").status_code == 302


def test_judged_clips_are_not_moved_by_the_dozen(
    client: FlaskClient, both: list[int], settings: Settings
) -> None:
    form = {"ids": [str(n) for n in both], "swimmer_id": str(OTHER)}
    answer = client.post("/library/describe", data=form)
    assert answer.status_code == 422
    assert "Judged already" in answer.text
    with connected(settings.database) as connection:
        assert {clips.by_id(connection, n).swimmer_id for n in both} == {1}
    # What belongs to no judgement is changed as before.
    assert (
        client.post("/library/describe", data={"ids": form["ids"], "pool_m": "none"}).status_code
        == 200
    )
    with connected(settings.database) as connection:
        assert clips.by_id(connection, both[0]).facts.pool_m is None


def test_a_guessed_day_says_so_until_somebody_confirms_it(
    client: FlaskClient, both: list[int], settings: Settings
) -> None:
    with connected(settings.database) as connection:
        assert not clips.by_id(connection, both[1]).day_guessed
        clips.set_day_guessed(connection, both[1], True)
    assert "day guessed" in client.get("/library/").text
    assert "day guessed" in client.get(f"/clips/{both[1]}/").text
    assert "saving confirms it" in client.get(f"/clips/{both[1]}/facts").text
    facts(client, both[1], swimmer_id="1")
    assert "day guessed" not in client.get("/library/").text


def test_a_clip_of_nobody_shows_what_it_lacks(
    client: FlaskClient, both: list[int], settings: Settings
) -> None:
    with connected(settings.database) as connection:
        connection.execute("UPDATE clips SET swimmer_id = NULL WHERE id = ?", (both[1],))
    page = client.get(f"/clips/{both[1]}/").text
    assert page.count("Assign a swimmer first") == 3
    client.post(
        f"/clips/{both[1]}/marks",
        data={"frame": 3, "lane": "arm", "side": "left", "event": "entry"},
    )
    assert client.post(f"/clips/{both[1]}/lengths").status_code == 422


def test_marks_of_another_stroke_are_one_line_and_come_back(
    client: FlaskClient, both: list[int], settings: Settings
) -> None:
    facts(client, both[1], swimmer_id="1", stroke="breaststroke")
    page = client.get(f"/clips/{both[1]}/").text
    assert "12 freestyle marks are hidden" in page
    assert "12 to look at" not in page
    client.post(f"/clips/{both[1]}/stroke", data={"stroke": "freestyle"})
    assert "are hidden" not in client.get(f"/clips/{both[1]}/").text
    facts(client, both[1], swimmer_id="1", stroke="breaststroke")
    client.post(f"/clips/{both[1]}/marks/delete-hidden")
    with connected(settings.database) as connection:
        assert marks.of_clip(connection, both[1]) == []


def test_a_swimmer_leaves_comes_back_and_is_exported(
    client: FlaskClient, both: list[int], settings: Settings
) -> None:
    asked = client.get("/swimmers/1/remove").text
    assert re.search(r"font-bold\">24</dt><dd>marks<", asked)
    client.post("/swimmers/1/remove")
    assert client.get("/swimmers/").text.count("Tilde Vassholm") == 0
    assert "Tilde Vassholm" in client.get("/trash/").text
    with connected(settings.database) as connection:
        assert clips.newest_first(connection) == []
    client.post("/swimmers/1/restore")
    assert "Tilde Vassholm" in client.get("/swimmers/").text
    with connected(settings.database) as connection:
        assert len(clips.newest_first(connection, 1)) == 2
    data = client.get("/swimmers/1/everything.zip").data
    with zipfile.ZipFile(io.BytesIO(data)) as file:
        assert file.testzip() is None
        assert any(name.endswith(".events.csv") for name in file.namelist())
        told = json.loads(next(file.read(n) for n in file.namelist() if n.endswith(".json")))
    assert "Tilde Vassholm" in json.dumps(told, ensure_ascii=False)


def test_a_swimmer_deleted_for_good_leaves_no_row_and_no_film(
    client: FlaskClient, both: list[int], settings: Settings
) -> None:
    assert client.post("/swimmers/1/delete").status_code == 404
    client.post("/swimmers/1/remove")
    client.post("/swimmers/1/delete")
    with connected(settings.database) as connection:
        assert swimmer_removal.removed(connection) == []
        for table in ("clips", "marks", "reviews", "sightings", "recordings"):
            assert connection.execute(f"SELECT count(*) FROM {table}").fetchone()[0] == 0, table
    assert list(settings.originals.iterdir()) == []
    raw = settings.database.read_bytes()
    assert b"Tilde Vassholm" not in raw


def last_step(settings: Settings) -> int:
    with connected(settings.database) as connection:
        return int(connection.execute("SELECT max(id) FROM undo_steps").fetchone()[0])


def test_a_tick_is_undone_unless_somebody_changed_it_since(
    client: FlaskClient, both: list[int], settings: Settings
) -> None:
    tick(client, both[1], ("head-forward", "clear"))
    first = last_step(settings)
    tick(client, both[1], ("head-forward", "slight"))
    # The earlier step would overwrite what came after it.
    refused = client.post(f"/undo/{first}", headers={"Accept": "application/json"})
    assert refused.status_code == 422
    assert "changed since" in refused.json["sentence"]
    assert client.post(f"/undo/{last_step(settings)}").status_code == 200
    with connected(settings.database) as connection:
        (seen,) = observations.of_clip(connection, both[1])
        assert seen.degree == "clear"


def test_nobody_undoes_the_steps_of_somebody_else(
    client: FlaskClient, both: list[int], settings: Settings
) -> None:
    tick(client, both[1], ("head-forward", "clear"))
    with connected(settings.database) as connection:
        other = users.add(connection, "other@club.example", "Other", "head-coach", PASSWORD_HASH)
    signed_in_as(client, settings, other)
    assert client.post(f"/undo/{last_step(settings)}").status_code == 404


def test_an_answer_is_kept_with_its_clip(
    client: FlaskClient, both: list[int], settings: Settings
) -> None:
    client.post(f"/clips/{both[1]}/judge/worked-on", data={"fault": "back-arch", "answer": "gone"})
    with connected(settings.database) as connection:
        assert focus_answers.newest(connection, 1, "freestyle") == {
            "back-arch": ("gone", "2026-11-20")
        }
    page = client.get(f"/clips/{both[1]}/change/").text
    assert "Points that were worked on" in page
    assert "seen: gone" in page
    assert "judge it on the later clip" in page  # of the other point


def test_what_a_clip_cannot_be_stands_beside_its_fields_and_nothing_typed_is_lost(
    client: FlaskClient, both: list[int], settings: Settings
) -> None:
    def kept() -> object:
        with connected(settings.database) as connection:
            return clips.by_id(connection, both[0]).facts

    before = kept()
    answer = facts(
        client, both[0], swimmer_id="1", pool_m="200", pace_s="fast", filmed_on="1999-13-01",
        view="side-above", kit="fins",
    )  # fmt: skip
    assert answer.status_code == 422
    for words in ("between 10 and 100", "A pace looks like", "must look like 2027-03-14",
                  'value="200"', 'value="fast"', 'value="side-above" selected'):  # fmt: skip
        assert words in re.sub(r"\s+", " ", answer.text), words
    assert "Not saved. Look at: filmed on, pace per 100, pool, metres." in re.sub(
        r"\s+", " ", answer.text
    )
    assert kept() == before
    # A pace is shown in tenths; saving the form as it stands changes nothing.
    with connected(settings.database) as connection:
        connection.execute(
            "UPDATE clips SET pace_s = 92.47, pool_m = 33.333 WHERE id = ?", (both[0],)
        )
    exact = kept()
    page = client.get(f"/clips/{both[0]}/facts").text
    assert 'value="1:32.5"' in page
    again = facts(client, both[0], swimmer_id="1", pace_s="1:32.5", pool_m="33.33", kit_said="1")
    assert again.status_code == 302
    assert kept() == exact
    # Kit stays where the ticks were not on the page, and goes where none is set.
    for said, kit in (({"kit": "fins"}, ("fins",)), ({}, ("fins",)), ({"kit_said": "1"}, ())):
        assert facts(client, both[0], swimmer_id="1", **said).status_code == 302
        with connected(settings.database) as connection:
            assert clips.by_id(connection, both[0]).facts.kit == kit
