"""Films of talks: what was seen, when it was seen, with sound, chapters and captions."""

from __future__ import annotations

import os
import time
from pathlib import Path

import av
import numpy as np
import pytest

from norvik.core.talk.chapters import tied
from norvik.core.talk.pieces import without
from norvik.files.opened import footage_of
from norvik.footage.talk_sound import LOUDNESS_LUFS, RATE, evened, silent_ends
from norvik.jobs.make_film import order
from norvik.jobs.report import JobReport
from norvik.jobs.runner import HouseDesk, run_through
from norvik.jobs.sweep import KEEP_ORPHANS_S, sweep
from norvik.settings import Settings
from norvik.store import clips, jobs, made_films, reviews, talks
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.work.make_film import make_film
from norvik.work.place import Place
from norvik.work.report import JobCancelled
from norvik.work_names import MAKE_FILM
from norvik.workflow.review_judgement import review_of
from norvik.workflow.talk.assemble import row_of
from norvik.workflow.talk.films import ask_for, pair_wish, state_of, talk_wish
from tests.clips import read_number
from tests.conftest import BroughtIn
from tests.talks import clicks, clip_film, record, stage, tone, whole

FPS = 30
SQUAD = [Swimmer(name="Wren Alder", level="improver")]


@pytest.fixture
def talk_id(settings: Settings, brought_in: BroughtIn, small_clip: Path) -> int:
    brought_in(settings, SQUAD, (small_clip, {}))
    with connected(settings.database) as connection:
        review = review_of(connection, clips.by_id(connection, 1))
        return talks.add(connection, review.id, 1)


def made(settings: Settings, talk_id: int, shape: str = "wide") -> Path:
    """The film of a talk, made by its job."""
    with connected(settings.database) as connection:
        wish = talk_wish(talks.by_id(connection, talk_id), shape)
        job = ask_for(connection, wish)
        assert job is not None
        run_through(settings, job)
        state = state_of(connection, wish)
        assert state.film is not None, state
        return settings.data / state.film.path


def pictures(path: Path) -> list[np.ndarray]:
    with av.open(str(path)) as film:
        return [f.to_ndarray(format="bgr24") for f in film.decode(video=0)]


def heard(path: Path) -> np.ndarray:
    with av.open(str(path)) as film:
        parts = [f.to_ndarray()[0] for f in film.decode(audio=0)]
    return np.concatenate(parts)


def test_every_frame_is_the_one_that_was_seen(settings: Settings, talk_id: int) -> None:
    seen = [(0, 5), (400, 6), (433, 7), (466, 9), (900, 80), (1500, 3)]
    deeds = [stage(clip_film(1)), whole(0), *([ms, "frame", 0, n] for ms, n in seen), [2000, "end"]]
    with connected(settings.database) as connection:
        record(connection, talk_id, deeds)
    found = [read_number(image, 2.0) for image in pictures(made(settings, talk_id))]
    assert len(found) == 60
    for n, number in enumerate(found):
        at = (n + 0.5) * 1000 / FPS
        assert number == [frame for ms, frame in seen if ms <= at][-1], n


def test_two_films_lie_beside_each_other_and_on_a_phone_above(
    settings: Settings, talk_id: int
) -> None:
    deeds = [stage(clip_film(1), clip_film(1)), whole(0), whole(1), [0, "frame", 0, 11],
             [0, "frame", 1, 42], [300, "end"]]  # fmt: skip
    with connected(settings.database) as connection:
        record(connection, talk_id, deeds)
    wide = pictures(made(settings, talk_id))[4]
    assert wide.shape == (720, 1280, 3)
    assert read_number(wide[180:, :640]) == 11
    assert read_number(wide[180:, 640:]) == 42
    tall = pictures(made(settings, talk_id, "tall"))[4]
    assert tall.shape == (1280, 720, 3)
    top = (640 - 405) // 2 + 1
    assert read_number(tall[top:], 720 / 640) == 11
    assert read_number(tall[640 + top :], 720 / 640) == 42


def test_zoomed_mirrored_drawn_on_and_pointed_at(settings: Settings, talk_id: int) -> None:
    mirrored = [0, "place", 0, [640, 360, -1, 0, 0, 1, 640, 0]]
    closer = [500, "place", 0, [640, 360, 2, 0, 0, 2, 0, 0]]
    ink = '<g class="drawing good"><polyline class="ink" points="100,200 500,200"/></g>'
    deeds = [stage(clip_film(1)), mirrored, [0, "frame", 0, 20], [200, "ink", 0, [0]],
             [300, "spot", 0, 0.5, 0.75], closer, [500, "spot", -1], [800, "end"]]  # fmt: skip
    with connected(settings.database) as connection:
        record(connection, talk_id, deeds, inks={"0": ink})
    found = pictures(made(settings, talk_id))
    assert read_number(np.ascontiguousarray(found[2][:, ::-1]), 2.0) == 20
    plain, drawn, pointed, close = (found[n].astype(int) for n in (3, 7, 12, 20))
    # The line lies where it was drawn, mirrored with the film and twice as large: x 280 to 1080.
    rows = np.abs(drawn - plain).sum(axis=2)[395:406, :].max(axis=0) > 120
    assert rows[290:1070].mean() > 0.95
    assert not rows[:270].any()
    assert not rows[1100:].any()
    spot = np.abs(pointed - drawn).sum(axis=2) > 60
    centre = np.argwhere(spot).mean(axis=0)
    assert centre == pytest.approx([540, 640], abs=4)
    # Twice as close: the line is at y 800, out of the picture; the picture is another one.
    assert np.abs(close - drawn).mean() > 5


def test_the_pointer_lies_where_it_was_held_beside_bars_too(
    settings: Settings, talk_id: int
) -> None:
    """A box of 1000 x 400 on the screen: the film, 640 wide in it, begins at x 180."""
    box = [0, "place", 0, [1000, 400, 1, 0, 0, 1, 180, 20]]
    at_source = (160, 90)
    spot = ((180 + at_source[0]) / 1000, (20 + at_source[1]) / 400)
    deeds = [stage(clip_film(1)), box, [0, "frame", 0, 20], [300, "spot", 0, *spot], [700, "end"]]
    with connected(settings.database) as connection:
        record(connection, talk_id, deeds)
    found = pictures(made(settings, talk_id))
    assert read_number(found[2], 2.0) == 20
    held = np.abs(found[15].astype(int) - found[2]).sum(axis=2) > 60
    centre = np.argwhere(held).mean(axis=0)
    assert centre == pytest.approx([2 * at_source[1], 2 * at_source[0]], abs=4)


def test_over_each_other_and_their_difference(settings: Settings, talk_id: int) -> None:
    films = stage(clip_film(1), clip_film(1), layout="over")
    deeds = [films, whole(0), whole(1), [0, "frame", 0, 30], [0, "frame", 1, 30], [0, "blend", 0.5],
             [300, "stage", "difference", films[3]], [300, "place", 0, whole(0)[3]],
             [300, "place", 1, whole(1)[3]], [300, "frame", 0, 30], [300, "frame", 1, 30],
             [700, "end"]]  # fmt: skip
    with connected(settings.database) as connection:
        record(connection, talk_id, deeds)
    found = pictures(made(settings, talk_id))
    assert read_number(found[4], 2.0) == 30
    assert found[15][:600].mean() < 3


def test_sound_and_picture_are_together_at_every_deed(settings: Settings, talk_id: int) -> None:
    """A flash and a click, also behind a cut and in a second take."""
    at_s = (0.5, 1.1, 2.6, 3.45, 4.2)
    flashes = [[1000 * s, "frame", 0, 1 + 2 * n] for n, s in enumerate(at_s)]
    deeds = [stage(clip_film(1)), whole(0), [0, "frame", 0, 0], *flashes, [5000, "end"]]
    with connected(settings.database) as connection:
        record(connection, talk_id, deeds, clicks(5.0, *at_s))
        record(connection, talk_id, deeds, clicks(5.0, *at_s), key="take-0002")
        talk = talks.by_id(connection, talk_id)
        talks.set_pieces(connection, talk_id, without(row_of(connection, talk), 1400, 2300))
    path = made(settings, talk_id)
    numbers = [read_number(image, 2.0) for image in pictures(path)]
    changes = [n / FPS for n in range(1, len(numbers)) if numbers[n] != numbers[n - 1]]
    loud = np.abs(heard(path)) > 0.1
    begins = [k / RATE for k in np.flatnonzero(loud) if not loud[max(0, k - RATE // 10) : k].any()]
    # The second take begins with frame 0: a change of picture without a click.
    assert len(begins) == 10
    changes = [c for c in changes if min(abs(c - b) for b in begins) < 0.2]
    assert len(changes) == 10
    assert max(abs(c - b) for c, b in zip(changes, begins, strict=True)) < 0.040
    assert begins[2] == pytest.approx(2.6 - 0.9, abs=0.02)


def test_chapters_and_captions_are_inside(settings: Settings, talk_id: int) -> None:
    deeds = [stage(clip_film(1)), whole(0), [0, "about", "strength", "long", "Long glide"],
             [2000, "about", "fault", "elbow", "Dropped elbow"], [4000, "end"]]  # fmt: skip
    with connected(settings.database) as connection:
        record(connection, talk_id, deeds, tone(4))
        row = row_of(connection, talks.by_id(connection, talk_id))
        talks.add_captions(connection, talk_id, tied(row, 500, 1500, "Så här, länge"))
    path = made(settings, talk_id)
    with av.open(str(path)) as film:
        found = [(c["start"], c["end"], c["metadata"]["title"]) for c in film.chapters()]
        assert [s.codec_context.name for s in film.streams if s.codec_context] == [
            "h264", "aac", "mov_text"]  # fmt: skip
        words = [bytes(p)[2:].decode() for p in film.demux(subtitles=0) if p.size > 2]
    assert found == [(0, 2000, "Long glide"), (2000, 4000, "Dropped elbow")]
    assert words == ["Så här, länge"]
    # Its index lies in front: it plays while it loads.
    data = path.read_bytes()
    assert 0 < data.find(b"moov") < data.find(b"mdat")


def test_a_second_film_of_the_same_talk_takes_the_place_of_the_first(
    settings: Settings, talk_id: int
) -> None:
    with connected(settings.database) as connection:
        record(connection, talk_id, [stage(clip_film(1)), [200, "end"]])
        first = made(settings, talk_id)
        assert ask_for(connection, talk_wish(talks.by_id(connection, talk_id), "wide")) is None
        talks.touch(connection, talk_id)
        second = made(settings, talk_id)
        assert second != first
        sweep(settings)
        assert (first.exists(), second.exists()) == (False, True)
        talks.delete(connection, talk_id)
        sweep(settings)
        assert not second.exists()


def test_a_stopped_film_leaves_nothing_and_what_a_kill_left_is_cleared_away(
    settings: Settings, talk_id: int
) -> None:
    with connected(settings.database) as connection:
        record(connection, talk_id, [stage(clip_film(1)), [60_000, "end"]])
        wish = talk_wish(talks.by_id(connection, talk_id), "wide")
        job = jobs.by_id(connection, ask_for(connection, wish) or 0)

        class Stops(JobReport):
            def __call__(self, doing: str, done: int, of: int | None) -> None:
                if done > 3:
                    raise JobCancelled

        with pytest.raises(JobCancelled):
            make_film(
                order(connection, settings, job),
                Place(footage_of(settings), settings.work),
                Stops(HouseDesk(connection, settings, job.id, "me")),
            )
        assert not [*settings.films.iterdir(), *settings.work.iterdir()]
        assert made_films.find(connection, wish) is None
    left = settings.films / "somebody.mp4.part"
    left.write_bytes(b"half")
    os.utime(left, (time.time() - 2 * KEEP_ORPHANS_S,) * 2)
    sweep(settings)
    assert not left.exists()


def test_a_film_that_is_gone_shows_nothing_and_an_empty_talk_is_said(
    settings: Settings, talk_id: int
) -> None:
    with connected(settings.database) as connection:
        wish = talk_wish(talks.by_id(connection, talk_id), "wide")
        run_through(settings, ask_for(connection, wish) or 0)
        assert "no recording" in state_of(connection, wish).failed
        record(connection, talk_id, [stage(clip_film(99), {"model": "../x-1-2-3", "size": [9, 9]}),
                                     [200, "end"]])  # fmt: skip
    assert len(pictures(made(settings, talk_id))) == 6


def test_a_pair_that_is_gone_is_said(settings: Settings, talk_id: int) -> None:
    with connected(settings.database) as connection:
        review = reviews.by_id(connection, talks.by_id(connection, talk_id).review_id)
        wish = made_films.written(pair_wish(review.id, 5, "wide"))
        job = jobs.add(connection, MAKE_FILM, {"wish": wish}, None)
        run_through(settings, job)
        assert "taken out of the review" in (jobs.by_id(connection, job).failure or "")


def loudness(samples: np.ndarray) -> float:
    """Integrated loudness, LUFS. Source: ITU-R BS.1770-4, K-weighting at 48 kHz and gating."""
    from scipy.signal import lfilter

    shelf = ([1.53512485958697, -2.69169618940638, 1.19839281085285],
             [1.0, -1.69065929318241, 0.73248077421585])  # fmt: skip
    high = ([1.0, -2.0, 1.0], [1.0, -1.99004745483398, 0.99007225036621])
    y = lfilter(*high, lfilter(*shelf, samples))
    block, step = round(0.4 * RATE), round(0.1 * RATE)
    power = np.array([np.mean(y[k : k + block] ** 2) for k in range(0, y.size - block, step)])
    level = -0.691 + 10 * np.log10(power + 1e-12)
    power = power[level > -70]
    gate = -0.691 + 10 * np.log10(power.mean()) - 10
    kept = power[-0.691 + 10 * np.log10(power) > gate]
    return float(-0.691 + 10 * np.log10(kept.mean()))


@pytest.mark.parametrize("level", [0.01, 0.6])
def test_a_voice_is_evened_out(level: float) -> None:
    made = evened(tone(8, level))
    assert made.size == 8 * RATE
    assert loudness(made) == pytest.approx(LOUDNESS_LUFS, abs=1.5)
    assert np.abs(made).max() <= 10 ** (-1 / 20)


def test_silence_stays_silent_and_its_ends_are_found() -> None:
    silent = np.zeros(3 * RATE, np.float32)
    assert not evened(silent).any()
    assert silent_ends(silent) == (0, 0)
    spoken = np.concatenate([silent, tone(2), silent[:RATE]])
    before, behind = silent_ends(spoken)
    assert (before, behind) == (pytest.approx(2750, abs=60), pytest.approx(750, abs=60))
