"""The demo squad: what it has to show, and that its filming can be stopped and goes on."""

from __future__ import annotations

from dataclasses import replace

import pytest

from norvik.demo import people, seed
from norvik.demo.people import COACH, SIGN_IN, SQUAD, TO_CUT
from norvik.settings import Settings
from norvik.store import clips, users
from norvik.store.connection import connected
from tests.conftest import PASSWORD_HASH

CLIPS = [clip for _, clip in people.everything()]


def test_what_the_demo_shows() -> None:
    assert 14 <= len(CLIPS) <= 24
    assert len({c.name for c in CLIPS}) == len(CLIPS)
    strokes = {c.stroke for c in CLIPS}
    assert strokes == {"freestyle", "backstroke", "breaststroke", "butterfly"}
    roles = [c.role for c in CLIPS]
    assert roles.count("after") >= 3
    assert roles.count("speed-step") == 3
    takes = [take for clip in CLIPS for take in clip.takes]
    assert any(t.stretch == 8 for t in takes)
    assert any(t.jitter for t in takes)
    assert any(t.conditions.hidden for t in takes)
    assert any(len(c.takes) >= 3 for c in CLIPS)
    assert any(t.swim.stroke == "wall" for t in takes)
    # Side and front of the same swim: the same instants.
    ylva = {c.name: c.takes[0] for c in SQUAD[0].clips}
    front, side = ylva["torsmark-front-easy.mp4"], ylva["torsmark-side-easy.mp4"]
    assert front.swim == side.swim
    assert {front.view, side.view} == {"front-under", "side-under"}


@pytest.fixture
def short_squad(monkeypatch: pytest.MonkeyPatch) -> None:
    """The same squad, each clip a moment long, and fewer of them."""

    def short(take):  # type: ignore[no-untyped-def]
        return replace(take, seconds=min(take.seconds, 0.4), fps=30, stored_fps=None)

    def all_short(member):  # type: ignore[no-untyped-def]
        cut = tuple(replace(c, takes=tuple(short(t) for t in c.takes)) for c in member.clips)
        return replace(member, clips=cut)

    first = SQUAD[0]
    reviewed, *others = first.clips
    squad = (
        replace(
            first,
            clips=(
                # The reviewed one keeps its cycles, at fewer frames.
                replace(reviewed, takes=(replace(reviewed.takes[0], fps=30),)),
                *(replace(c, takes=tuple(short(t) for t in c.takes)) for c in others),
            ),
        ),
        all_short(SQUAD[2]),
    )
    for module in (seed, people):
        monkeypatch.setattr(module, "SQUAD", squad)
    to_cut = replace(TO_CUT, takes=tuple(short(t) for t in TO_CUT.takes))
    monkeypatch.setattr(people, "TO_CUT", to_cut)


@pytest.mark.usefixtures("short_squad")
def test_the_demo_is_made_whole_and_the_rest_is_filmed_once(tmp_path) -> None:  # type: ignore[no-untyped-def]
    settings = Settings(tmp_path / "demo")
    told: list[str] = []
    seed.make_demo_data(settings, told.append)
    assert not (tmp_path / "demo.making").exists()
    with connected(settings.database) as connection:
        reviewed = clips.by_id(connection, 1)
        assert (reviewed.reviewed_at is not None, reviewed.marks > 60) == (True, True)
        assert len(clips.newest_first(connection)) == 2
        seed.film_the_rest(settings)
        every = clips.newest_first(connection)
        assert len(every) == 5
        assert {c.state for c in every} == {"ready"}
        seed.film_the_rest(settings)
        assert len(clips.newest_first(connection)) == 5
        squad = next(c for c in every if c.recording.original_name.startswith("squad"))
        assert squad.swimmer_id is None
        assert squad.recording.frames == 36  # three swimmers of 12 frames
    before = len(told)
    seed.make_demo_data(settings, told.append)
    assert len(told) == before


def test_nothing_is_filmed_into_a_coachs_own_data(settings: Settings) -> None:
    with connected(settings.database) as connection:
        users.add(connection, "somebody@else.example", COACH, "head-coach", PASSWORD_HASH)
        seed.film_the_rest(settings)
        assert clips.newest_first(connection) == []
        assert users.by_email(connection, SIGN_IN[0]) is None
