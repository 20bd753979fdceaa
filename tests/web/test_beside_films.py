"""Which films may stand beside a clip: leave, three films, the filmed model, what is gone."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.files.footage import FolderFootage
from norvik.jobs.film_model import forget_old
from norvik.model.wish import ModelWish
from norvik.settings import Settings
from norvik.store import clips, marks
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.clips import numbered_clip
from tests.conftest import BroughtIn
from tests.web.beside import FAST, JSON, SLOW, frames_of, mark_cycles


@pytest.fixture(scope="module")
def films(tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, dict[str, object]]]:
    folder = tmp_path_factory.mktemp("beside")
    slow = numbered_clip(folder / "slow.mp4", [k / 30 for k in range(150)])
    fast = numbered_clip(folder / "fast.mp4", [k / 60 for k in range(220)])
    mate = numbered_clip(folder / "mate.mp4", [k / 30 for k in range(140)])
    return [
        (slow, {"filmed_on": "2026-11-20"}),
        (fast, {"filmed_on": "2026-11-27"}),
        (mate, {"filmed_on": "2026-11-27", "swimmer_id": 2}),
    ]


@pytest.fixture
def squad(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn,
    films: list[tuple[Path, dict[str, object]]],
) -> list[int]:  # fmt: skip
    ids = brought_in(settings, [Swimmer("Tilde Vassholm"), Swimmer("Eirik Lundstrand")], *films)
    mark_cycles(settings, ids[0], SLOW, 40)
    mark_cycles(settings, ids[1], FAST, 60)
    mark_cycles(settings, ids[2], SLOW, 40)
    return ids


def allow(client: FlaskClient, by: str, kind: str = "squad") -> None:
    """Note who allows it, or that it is withdrawn."""
    said = {"kind": kind, "given_by": by, "given_on": "2026-11-01"}
    address = "/swimmers/2/consent/" if by else "/swimmers/2/consent/withdraw"
    answer = client.post(address, data=said)
    assert answer.status_code == 302, answer.text


def test_another_swimmer_is_shown_only_with_leave(client: FlaskClient, squad: list[int]) -> None:
    one, _, mate = squad
    addresses = [
        f"/clips/{one}/beside/?with={mate}", f"/clips/{one}/beside/frames.json?with={mate}",
        f"/clips/{one}/beside/drawn.json?with={mate}", f"/clips/{one}/beside/strip.png?with={mate}",
        f"/clips/{one}/beside/?with={squad[1]}&third={mate}", f"/clips/{one}/change/?with={mate}",
    ]  # fmt: skip
    for address in addresses:
        refused = client.get(address, headers=JSON)
        assert refused.status_code == 403, address
        assert "Eirik Lundstrand may not be shown beside other swimmers" in refused.json["sentence"]
    assert "Eirik Lundstrand" not in client.get(f"/clips/{one}/beside/").text
    allow(client, "Eirik Lundstrand")
    for address in addresses:
        assert client.get(address).status_code == 200, address
    page = client.get(f"/clips/{one}/beside/").text
    assert "Other swimmers who allow it" in page
    assert "Eirik Lundstrand" in client.get("/swimmers/2/consent/").text
    # Taken back, it holds at once.
    allow(client, "")
    assert client.get(addresses[0], headers=JSON).status_code == 403
    assert "not allowed: being shown beside other swimmers" in client.get("/swimmers/2").text


def test_two_swimmers_are_compared_by_numbers_too(client: FlaskClient, squad: list[int]) -> None:
    allow(client, "Eirik Lundstrand")
    page = client.get(f"/clips/{squad[0]}/change/?with={squad[2]}").text
    assert "What differs" in page
    assert "Eirik Lundstrand, 27 November 2026" in page
    assert "no real difference" in page
    assert "better" not in re.sub(r"<p[^>]*>± says.*?</p>", "", page, flags=re.DOTALL)


def test_a_clip_kept_as_example_stands_by_itself_in_the_list(
    client: FlaskClient, squad: list[int], settings: Settings
) -> None:
    with connected(settings.database) as connection:
        clips.change_facts(connection, [squad[2]], role="model")
    # Being shown at training is one thing, being an example for whoever comes another.
    allow(client, "Eirik Lundstrand")
    assert "Kept as example" not in client.get(f"/clips/{squad[0]}/beside/").text
    allow(client, "Eirik Lundstrand", "example")
    page = client.get(f"/clips/{squad[0]}/beside/").text
    assert "Kept as example" in page
    assert "Other swimmers who allow it" not in page


def test_three_films_go_in_step(client: FlaskClient, squad: list[int], settings: Settings) -> None:
    allow(client, "Eirik Lundstrand")
    one, second, mate = squad
    state = client.get(
        f"/clips/{one}/beside/frames.json", query_string={"with": second, "third": mate, "k": 1}
    ).json
    assert [o["m"] for o in state["others"]] == [0, 1]
    for event, at in SLOW.items():
        assert state["others"][0]["frames"][5 + at] == 5 + FAST[event]
        assert state["others"][1]["frames"][5 + at] == 45 + at
    svg = client.get(
        f"/clips/{one}/beside/strip.svg", query_string={"with": second, "third": mate}
    ).text
    assert svg.count("<image ") == 15
    assert 'width="1440"' in svg


def test_the_strip_goes_by_tenths_of_the_cycle_too(client: FlaskClient, squad: list[int]) -> None:
    svg = client.get(
        f"/clips/{squad[0]}/beside/strip.svg", query_string={"with": squad[1], "rows": "tenths"}
    ).text
    words = re.findall(r">([^<]+)</text>", svg)
    # 40 frames of 1/30 s and 60 of 1/60 s: a tenth is 4 and 6 frames.
    assert "30 %: 0.40 s, 4 frames after" in words
    assert "30 %: 0.30 s, 6 frames after" in words
    assert sum(w.startswith("100 %") for w in words) == 2


def test_the_model_swimmer_is_filmed_at_the_clips_rate_and_view(
    client: FlaskClient, squad: list[int], settings: Settings
) -> None:
    one = squad[0]
    page = client.get(f"/clips/{one}/beside/?with=model:straight-arm").text
    assert "Model swimmer with the fault: " in page
    found = re.search(r"/model-films/([\w-]+)/frames.json", page)
    assert found is not None
    # 40 frames at 30 a second: 45 cycles a minute.
    assert found[1].startswith("freestyle-side-under-straight-arm-45-30-")
    table = client.get(f"/model-films/{found[1]}/frames.json").json
    packets = client.get(table["packets"]).json
    assert len(packets["position"]) == table["last"] + 1
    with client.get(table["film"]) as film:
        assert film.data[4:8] == b"ftyp"
    state = frames_of(client, one, **{"with": "model:straight-arm"})
    cycle = state["cycles"]
    assert isinstance(cycle, list)
    assert len(cycle) == 1
    mine = json.loads(re.search(r'id="beside-state">(.*?)</script>', page)[1])["cycles"]  # type: ignore[index]
    there = {event: frame for event, _, frame, _ in cycle[0][:-1]}
    frames = state["frames"]
    assert isinstance(frames, list)
    # One cycle of the model stands for every cycle of the clip: each event meets its own.
    for n in range(2):
        for event, _, frame, _ in mine[n][:-1]:
            assert frames[frame] == there[event], (n, event)
    drawn = client.get(f"/clips/{one}/beside/drawn.json?with=model:straight-arm").json
    assert len(drawn["films"][1]["trunks"]["at"]) == table["last"] + 1
    assert drawn["films"][1]["trunks"]["swims_to"] == "right"
    strip = client.get(f"/clips/{one}/beside/strip.png?with=model:straight-arm")
    assert strip.data.startswith(b"\x89PNG")


def test_a_model_that_cannot_be_filmed_says_so_and_is_tried_again(
    client: FlaskClient, squad: list[int], settings: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as broken:
        broken.setattr("norvik.model.wish.film", full)
        page = client.get(f"/clips/{squad[0]}/beside/?with=model").text
    assert "Something went wrong" in page
    # Its drawing stands in, and the page works.
    assert "data-stance=" in page
    assert list(settings.model_films.iterdir()) == []
    said = client.get(f"/clips/{squad[0]}/beside/filming?with=model")
    assert "HX-Refresh" not in said.headers
    page = client.get(f"/clips/{squad[0]}/beside/?with=model&again=1").text
    assert "/model-films/" in page
    assert client.get(f"/clips/{squad[0]}/beside/filming?with=model").headers["HX-Refresh"]


@pytest.mark.parametrize(
    "name", ["..%2Fnorvik", "freestyle-side-under-well-45-30-1", "x-45-30-1", "a" * 300]
)
def test_no_other_file_is_served_as_a_model_film(client: FlaskClient, name: str) -> None:
    for what in ("film.mp4", "frames.json", "packets.json"):
        assert client.get(f"/model-films/{name}/{what}", headers=JSON).status_code == 404


def test_only_so_many_films_of_the_model_are_kept(tmp_path: Path) -> None:
    for n in range(45):
        (tmp_path / "model-films").mkdir(exist_ok=True)
        (tmp_path / "model-films" / f"f-{n}.mp4").write_bytes(b"x")
    forget_old(FolderFootage(tmp_path))
    assert len(list(tmp_path.glob("*/*.mp4"))) == 40


def test_a_model_filmed_from_where_it_cannot_be_seen_is_filmed_from_the_side() -> None:
    wish = ModelWish("butterfly", "side-under", "", 50, 60)
    assert wish.key == "model"
    assert wish.name.startswith("butterfly-side-under-well-50-60-")


def test_a_clip_that_is_deleted_while_the_page_is_open_is_said(
    client: FlaskClient, squad: list[int], settings: Settings
) -> None:
    with connected(settings.database) as connection:
        connection.execute("DELETE FROM clips WHERE id = ?", (squad[1],))
    gone = client.get(f"/clips/{squad[0]}/beside/frames.json?with={squad[1]}", headers=JSON)
    assert gone.status_code == 404
    assert "deleted" in gone.json["sentence"] or "gone" in gone.json["sentence"]
    for bad in ("nonsense", "-1", "figure-of-nobody", "99999999999999999999"):
        answer = client.get(f"/clips/{squad[0]}/beside/?with={bad}", headers=JSON)
        assert answer.status_code in (200, 404), bad


def test_one_arm_marked_says_which_one_is_missing(
    client: FlaskClient, squad: list[int], settings: Settings
) -> None:
    state = frames_of(client, squad[0], **{"with": squad[0]})
    # The clip beside itself is its other arm, which nobody has marked.
    assert state["side"] == "left"
    assert "second film has no whole cycle of this arm" in str(state["cannot"])
    with connected(settings.database) as connection:
        for begin in (20, 62):
            for event, at in {"entry": 0, "catch": 12, "press": 18, "exit": 30}.items():
                marks.place(connection, squad[0], None, begin + at, "arm", "left", event)
    state = frames_of(client, squad[0], **{"with": squad[0]})
    assert state["cannot"] == ""
    frames = state["frames"]
    assert isinstance(frames, list)
    assert [frames[5], frames[15], frames[21], frames[33]] == [20, 32, 38, 50]
