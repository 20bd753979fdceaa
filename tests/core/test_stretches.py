"""Where somebody swims in a long film, and which stroke fits best."""

from __future__ import annotations

import numpy as np
import pytest

from norvik.core.reading.stretches import clearly_best, swum_stretches


def swim(begin_s: float, seconds: float, from_px: float, px_s: float) -> tuple[list[float], ...]:
    """Times and hips of somebody who crosses the picture; trunk of 100 px, head first."""
    times = begin_s + np.arange(0, seconds, 1 / 30)
    hips = from_px + px_s * (times - begin_s)
    return list(times), list(hips), list(hips + 100 * np.sign(px_s))


def both(*swims: tuple[list[float], ...]) -> list[tuple[float, float, int]]:
    times, hips, shoulders = (np.concatenate([s[n] for s in swims]) for n in range(3))
    level = np.full(len(times), 300.0)
    found = swum_stretches(
        times, np.stack([hips, level], axis=1), np.stack([shoulders, level], axis=1)
    )
    return [(round(times[f.first], 1), round(times[f.last], 1), f.heading) for f in found]


def test_a_pause_parts_two_swimmers_and_a_short_one_bridges_a_splash() -> None:
    assert both(swim(0, 6, 0, 100), swim(6.5, 4, 650, 100), swim(14, 5, 0, 100)) == [
        (0.0, 10.5, 1), (14.0, 19.0, 1),
    ]  # fmt: skip


def test_the_next_swimmer_at_the_other_end_of_the_picture_is_another_one() -> None:
    assert both(swim(0, 5, 0, 200), swim(5.1, 5, 0, 200)) == [(0.0, 5.0, 1), (5.1, 10.1, 1)]


def test_turning_round_ends_a_stretch() -> None:
    found = both(swim(0, 5, 200, 150), swim(5.0, 5, 950, -150))
    assert [heading for _, _, heading in found] == [1, -1]


def test_a_glimpse_is_no_part_and_nobody_is_none() -> None:
    assert both(swim(0, 2, 0, 100)) == []
    assert swum_stretches(np.zeros(0), np.zeros((0, 2)), np.zeros((0, 2))) == []


def test_the_best_is_clear_as_far_as_the_next_one_is_worse() -> None:
    assert clearly_best([]) is None
    assert clearly_best([("butterfly", 3.0)]) == ("butterfly", 0.2)
    name, clear = clearly_best([("freestyle", 6.0), ("backstroke", 4.0), ("butterfly", 9.0)]) or (
        "",
        0,
    )
    assert name == "backstroke"
    assert clear == pytest.approx(0.5)
    assert clearly_best([("a", 1.0), ("b", 5.0)]) == ("a", 1.0)
