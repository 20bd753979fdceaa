"""The main job with a film that reads itself: presses from an empty club to a plan.

The film and its judgement are as in the counted job by hand; what was read of it is the truth of
the model swimmer, off by chance and, in the second case, by a bias of every third kind of event,
which the first corrections have to take away from the rest.
"""

from __future__ import annotations

import random
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from norvik.core.strokes.events import Mark
from norvik.model.dials import usual_swim
from norvik.model.schedule import schedule
from norvik.settings import Settings
from norvik.store import clips, marks, readings
from norvik.store.connection import connected
from norvik.store.readings import Reading, StoredCycle, StoredEvent
from norvik.workflow.clip_timing import time_clip
from norvik.workflow.reading import read_as
from tests.browser.conftest import until
from tests.browser.test_counted_job import (
    AT_PROPOSAL,
    FPS,
    MORE_MARKS,
    SECONDS,
    Bench,
    Hand,
    bring_first_clip,
    judge_and_prescribe,
    measure,
)
from tests.clips import numbered_clip

#: Frames by which every third kind of event is read late.
BIAS = 5
#: A coach leaves a proposal that is no farther off than this, in frames.
FINE = 2


def read(settings: Settings, truth: list[Mark], bias: int) -> None:
    """Keep what was read of clip 1: arms and kicks, as the film would tell them."""
    chance = random.Random(3)
    kinds = sorted({(m.lane, m.event) for m in truth if m.lane in ("arm", "leg")})
    late = {kind: bias if n % 3 == 1 else 0 for n, kind in enumerate(kinds)}
    events = tuple(
        StoredEvent(
            m.time_s * FPS + late[m.lane, m.event] + chance.gauss(0, 0.6), m.lane,
            m.side if m.lane == "arm" else "", m.event, 4.0, 0.9,
        )
        for m in truth
        if m.lane in ("arm", "leg") and 0.1 < m.time_s < SECONDS - 0.2
    )  # fmt: skip
    with connected(settings.database) as connection:
        timed = time_clip(connection, clips.by_id(connection, 1))
        made = Reading(
            read_as(timed.clip, timed.time_base), 1.0, StoredCycle(80.0, 0.5, 6.0), events, {}
        )
        readings.put(connection, 1, made, None)


def check_first_cycle(hand: Hand, bench: Bench, last: int) -> None:
    """One by one: what is off is moved to its frame."""
    hand.doing = "first cycle one by one"
    hand.press("Enter")
    bench.page.wait_for_function(AT_PROPOSAL)
    while (first := bench.state()["proposals"][0])[0] <= last:
        frame, side, event, lane = first[:4]
        off = bench.true_frame(lane, side, event, frame) - frame
        if abs(off) > FINE:
            hand.step(off)
        bench.shown()
        known = len(bench.state()["marks"])
        hand.press("Enter")
        bench.page.wait_for_function(MORE_MARKS, arg=known)
        bench.page.wait_for_function(AT_PROPOSAL)


@pytest.mark.parametrize(("bias", "most"), [(0, 40), (BIAS, 90)])
def test_the_whole_job_when_the_film_reads_itself(
    page: Page, worker: None, settings: Settings, tmp_path: Path, bias: int, most: int
) -> None:
    truth = schedule(usual_swim("freestyle", 45, 3), SECONDS).marks(0, SECONDS - 0.1)
    clip = numbered_clip(tmp_path / "tilde side.mp4", [n / FPS for n in range(FPS * SECONDS)])
    hand, bench = Hand(page), Bench(page, truth)
    bench.truth |= {
        ("", "beat"): [round(m.time_s * FPS) for m in truth if m.event == "beat"],
        **{
            (side, "shoulder"): [
                round(m.time_s * FPS) for m in truth if (m.side, m.event) == (side, "shoulder")
            ]
            for side in ("left", "right")
        },
    }

    bring_first_clip(hand, page, clip)
    # A film is read when all of it is there, not its first stretch.
    with connected(settings.database) as connection:
        until(page, lambda: clips.by_id(connection, 1).state == "ready")
    read(settings, truth, bias)
    page.reload()
    page.wait_for_selector('#bench[data-ready="true"]')
    expect(page.locator("#reading")).to_contain_text("From the film, not confirmed")

    if bias:
        check_first_cycle(hand, bench, bench.cycle("right", 0)[-1] + 2)
        expect(page.locator("#reading")).to_contain_text("Moved by your corrections")
    hand.doing = "the rest at once"
    hand.press("Control+Shift+Enter")
    expect(page.locator("#told")).to_contain_text("of this clip confirmed")
    bench.state()
    expect(page.locator("#reading")).not_to_contain_text("From the film")

    with connected(settings.database) as connection:
        marked = marks.of_clip(connection, 1)
    off = [abs(m.frame - bench.true_frame(m.lane, m.side, m.event, m.frame)) for m in marked]
    assert len(off) >= 0.9 * sum(m.lane in ("arm", "leg") for m in truth)
    assert sum(o <= FINE for o in off) >= 0.95 * len(off), sorted(off)
    assert max(off) <= 2 * FINE

    measure(hand, page)
    judge_and_prescribe(hand, page)
    assert hand.count.total() <= most, hand.count
