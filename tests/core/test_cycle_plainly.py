"""The time of a cycle and the kicks, beside the same rules written as plain loops over numbers."""

from __future__ import annotations

import math
from statistics import median

import numpy as np
import pytest
from numpy.typing import NDArray

from norvik.core.reading.breaths import front_breaths
from norvik.core.reading.cycle import CycleTime, cycle_time, swap_proof
from norvik.core.reading.kicks import dolphin, flutter, standing_out

Series = NDArray[np.float64]
Plain = list[float]
RATE = 30.0
#: Shortest, longest and usual cycle in seconds, as docs/reading.md has them.
LOOKED_AT = {
    "freestyle": (0.9, 3.2, 1.7), "backstroke": (0.9, 3.2, 1.6),
    "breaststroke": (0.8, 3.4, 1.7), "butterfly": (0.8, 2.6, 1.3),
}  # fmt: skip


def smoothed(values: Plain, kernel: Plain) -> Plain:
    """The sum of what lies around each value, weighted; nothing lies beyond the ends."""
    n, k = len(values), len(kernel)
    # Where more weights than values lie side by side, the middle of the longer ones is kept.
    first = (min(n, k) - 1) // 2
    whole = [
        sum(values[m] * kernel[i - m] for m in range(n) if 0 <= i - m < k) for i in range(n + k - 1)
    ]
    return whole[first : first + max(n, k)]


def flattened(column: Plain, slowest: float) -> Plain:
    known = [not math.isnan(v) for v in column]
    held = [v if k else 0.0 for v, k in zip(column, known, strict=True)]
    width = min(max(3, round(slowest * RATE)), len(column))
    total, count = smoothed(held, [1.0] * width), smoothed([float(k) for k in known], [1.0] * width)
    flat = [
        v - t / max(c, 1) if k else 0.0
        for v, t, c, k in zip(column, total, count, known, strict=True)
    ]
    soft = smoothed(flat, [1 / 9, 2 / 9, 3 / 9, 2 / 9, 1 / 9])
    return [v if k else math.nan for v, k in zip(soft, known, strict=True)]


def likeness(columns: list[Plain], lag: int) -> float:
    pairs = [
        (c[i], c[i + lag])
        for c in columns
        for i in range(len(c) - lag)
        if not math.isnan(c[i]) and not math.isnan(c[i + lag])
    ]
    if len(pairs) < 0.12 * sum(len(c) for c in columns):
        return 0.0
    xx, yy = sum(x * x for x, _ in pairs), sum(y * y for _, y in pairs)
    return sum(x * y for x, y in pairs) / math.sqrt(xx * yy + 1e-12)


def between(table: Plain, at: float) -> float:
    """The likeness at a lag that is no whole one; table[0] is lag 1."""
    if at < 1:
        return 0.0
    if at > len(table):
        return math.nan
    low = min(int(at), len(table) - 1)
    return table[low - 1] + (at - low) * (table[low] - table[low - 1])


def mean_known(values: Plain) -> float:
    kept = [v for v in values if not math.isnan(v)]
    return sum(kept) / len(kept)


def plainly(steady: list[Plain], turning: list[Plain], stroke: str) -> CycleTime | str:
    quickest, slowest, usual = LOOKED_AT[stroke]
    frames = len(steady[0])
    longest = min(slowest, frames / RATE / 1.8)
    if longest <= quickest:
        return "the film is too short"
    most = int(min(frames - 1 - 1.2 * RATE, 3.2 * slowest * RATE))
    stay = [flattened(c, slowest) for c in steady]
    turn = [flattened(c, slowest) for c in turning]
    stays = [likeness(stay, lag) for lag in range(1, most)]
    turns = [likeness(turn, lag) for lag in range(1, most)]
    tried, marks = [], []
    n = 0
    while quickest + 0.005 * n < longest:
        seconds = quickest + 0.005 * n
        at = seconds * RATE
        whole = [between(stays, k * at) for k in (1, 2, 3)]
        if stroke in ("freestyle", "backstroke"):
            whole += [between(turns, k * at) for k in (1, 2)]
            half = [-between(turns, at / 2), -between(turns, 1.5 * at), between(stays, at / 2)]
            mark = 0.6 * mean_known(whole) + 0.4 * mean_known(half)
        else:
            mark = mean_known(whole)
        tried.append(seconds)
        marks.append(mark - 0.12 * math.log(seconds / usual) ** 2)
        n += 1
    tops = [n for n in range(1, len(marks) - 1) if marks[n - 1] <= marks[n] > marks[n + 1]]
    if not tops or max(marks[n] for n in tops) < 0.25:
        return "no regular stroke can be seen"
    best = max(marks[n] for n in tops)
    first = next(tried[n] for n in tops if marks[n] >= 0.8 * best) * RATE
    each, u95 = returned(stays, first)
    return CycleTime(each / RATE, u95 / RATE, best, frames / each)


def returned(stays: Plain, first: float) -> tuple[float, float]:
    found: list[tuple[int, float]] = []
    each, k = first, 1
    while (k + 0.1) * each < len(stays):
        near = [
            lag for lag in range(2, len(stays)) if abs(lag - k * each) <= 0.12 * first + 1
        ]  # fmt: skip
        lag = max(near, key=lambda lag: stays[lag - 1]) if near else 0
        if lag:
            a, b, c = stays[lag - 2 : lag + 1]
            if b > 0 and b >= max(a, c):
                bend = a - 2 * b + c
                found.append((k, lag + (0.5 * (a - c) / bend if bend < -1e-12 else 0)))
                each = sum(n * p for n, p in found) / sum(n * n for n, _ in found)
        k += 1
    if not found:
        return first, 0.05 * first
    off = sum((p - each * n) ** 2 for n, p in found)
    spread = max(0.5, math.sqrt(off / max(1, len(found) - 1)))
    u95 = 1.96 * spread / math.sqrt(sum(n * n for n, _ in found))
    return each, math.hypot(2 * u95, 0.003 * each)


def swum(stroke: str, cycle_s: float, seconds: float, noise: float, seed: int) -> list[Series]:
    """Heights of the left and the right wrist, with frames in which one is not seen."""
    rng = np.random.default_rng(seed)
    at = np.arange(round(seconds * RATE)) / RATE / cycle_s
    apart = 0.5 if stroke in ("freestyle", "backstroke") else 0.0
    made = []
    for lag in (0.0, apart):
        wave = np.cos(2 * np.pi * (at - lag)) + 0.4 * np.sin(4 * np.pi * (at - lag))
        wave = wave + rng.normal(0, noise, len(at)) + 0.3 * at / at[-1]
        wave[rng.random(len(at)) < 0.15] = np.nan
        made.append(wave)
    return made


@pytest.mark.parametrize(
    ("stroke", "cycle_s", "seconds", "noise"),
    [
        ("freestyle", 1.83, 9.0, 0.2), ("backstroke", 1.47, 6.2, 0.5), ("freestyle", 2.9, 5.4, 0.1),
        ("breaststroke", 2.05, 8.0, 0.3), ("butterfly", 1.21, 5.0, 0.2), ("butterfly", 1.2, 3.1, 1),
        ("freestyle", 1.6, 1.6, 0.1), ("breaststroke", 1.6, 6.0, 6.0),
    ],
)  # fmt: skip
def test_a_cycle_is_what_the_rules_say(
    stroke: str, cycle_s: float, seconds: float, noise: float
) -> None:
    for seed in range(3):
        left, right = swum(stroke, cycle_s, seconds, noise, seed)
        steady, turning = swap_proof(left, right)
        np.testing.assert_array_equal(steady[:, 0], (left + right) / 2)
        np.testing.assert_array_equal(steady[:, 1], abs(left - right))
        found = cycle_time(steady, turning[:, None], 1 / RATE, stroke)
        expected = plainly(
            [list(map(float, c)) for c in steady.T], [list(map(float, turning))], stroke
        )
        if isinstance(expected, str):
            assert found == expected
            continue
        assert isinstance(found, CycleTime)
        for one, other in zip(
            (found.seconds, found.u95, found.like, found.cycles),
            (expected.seconds, expected.u95, expected.like, expected.cycles),
            strict=True,
        ):
            assert one == pytest.approx(other, rel=1e-9)


# ---- kicks ----

PARTS = 72


def mean_cycle(shares: Plain, values: Plain, least: int, half: int | None = None) -> Plain | None:
    """The median of what was seen near each share of a cycle, gaps bridged straight."""
    kept = [
        (s, v)
        for s, v in zip(shares, values, strict=True)
        if not math.isnan(s) and not math.isnan(v) and half in (None, math.floor(s) % 2)
    ]
    found = []
    for n in range(PARTS):
        near = [v for s, v in kept if abs((s - n / PARTS + 0.5) % 1 - 0.5) <= 0.025]
        found.append(median(near) if len(near) >= least else math.nan)
    known = [n for n in range(PARTS) if not math.isnan(found[n])]
    if len(known) < 0.8 * PARTS:
        return None
    ring = [(n + turn * PARTS, found[n]) for turn in (-1, 0, 1) for n in known]
    return [float(np.interp(n, *map(np.array, zip(*ring, strict=True)))) for n in range(PARTS)]


def wave_of(mean: Plain, n: int) -> complex:
    level = sum(mean) / PARTS
    turns = [2 * math.pi * n * k / PARTS for k in range(PARTS)]
    return sum(
        (v - level) * complex(math.cos(t), -math.sin(t)) for v, t in zip(mean, turns, strict=True)
    )


def instants(shares: Plain, numbers: Series, opened: Series, times: Series) -> Plain:
    at = []
    for n in numbers:
        for share in shares:
            place = n + share % 1
            if place <= numbers[-1]:
                at.append(float(np.interp(place, numbers, opened)))
    return sorted(t for t in at if times[0] <= t <= times[-1])


def clocked(cycle_s: float) -> tuple[Series, Series, Series, Plain]:
    times = np.arange(0, 8, 1 / RATE)
    numbers = np.arange(-1, 12, dtype=float)
    opened = 0.2 + cycle_s * numbers + 0.02 * np.sin(numbers)
    shares = np.interp(times, opened, numbers, left=np.nan, right=np.nan)
    return times, numbers, opened, [float(s) for s in shares]


@pytest.mark.parametrize("beats", [2, 4, 6])
@pytest.mark.parametrize("noise", [0.01, 0.06, 0.3])
def test_a_flutter_kick_is_what_the_rules_say(beats: int, noise: float) -> None:
    times, numbers, opened, shares = clocked(1.4)
    rng = np.random.default_rng(beats)
    place = np.nan_to_num(np.array(shares))
    wave = 0.1 * np.cos(np.pi * beats * (place - 0.07)) + 0.02 * np.cos(2 * np.pi * place)
    ankles = np.stack([wave, -wave], axis=1) + rng.normal(0, noise, (len(times), 2))
    ankles[rng.random(len(times)) < 0.2] = np.nan
    apart = [float(a) for a in np.abs(ankles[:, 0] - ankles[:, 1])]
    mean = mean_cycle(shares, apart, 2)
    odd, even = (mean_cycle(shares, apart, 1, half) for half in (0, 1))
    assert mean is not None
    assert odd is not None
    assert even is not None
    power = [abs(wave_of(mean, n)) ** 2 for n in range(PARTS // 2 + 1)]
    alike = [
        math.cos(float(np.angle(wave_of(odd, n)) - np.angle(wave_of(even, n)))) for n in range(7)
    ]
    least = max(
        0.12 * sum(power[1:]), 0.25 * max(power[n] for n in (2, 4, 6)), 8 * sum(power[7:14]) / 7
    )
    clear = [n for n in (2, 4, 6) if power[n] >= least and alike[n] >= 0.7]
    stands = standing_out(times, ankles, numbers, opened)
    maybe = max(0.12 * max(power[n] for n in (2, 4, 6)), 3 * sum(power[7:14]) / 7)
    if not clear or any(power[n] >= maybe for n in (2, 4, 6) if n > clear[-1]):
        assert stands is None
    else:
        assert stands == clear[-1]
    found = flutter(times, ankles, numbers, opened, beats)
    if power[beats] < 3 * sum(power[7:14]) / 7 or alike[beats] < 0.7:
        assert found is None
        return
    best = beats
    first = -float(np.angle(wave_of(mean, best))) / (2 * math.pi * best)
    expected = instants([first + n / best for n in range(best)], numbers, opened, times)
    assert found is not None
    assert found[0] == pytest.approx(expected, abs=1e-9)
    assert found[1] == pytest.approx(alike[best], abs=1e-9)


@pytest.mark.parametrize("second", [0.45, 0.62, 0.15])
@pytest.mark.parametrize("noise", [0.005, 0.03])
def test_a_dolphin_kick_is_what_the_rules_say(second: float, noise: float) -> None:
    times, numbers, opened, shares = clocked(1.15)
    rng = np.random.default_rng(round(100 * second))
    place = np.nan_to_num(np.array(shares)) % 1
    low = sum(
        size * np.exp(-0.5 * (((place - c + 0.5) % 1 - 0.5) / 0.06) ** 2)
        for c, size in ((0.1, 0.2), (second, 0.12))
    )
    ankles = -np.stack([low, low], axis=1) + rng.normal(0, noise, (len(times), 2))
    ankles[rng.random((len(times), 2)) < 0.2] = np.nan
    seen = [[float(a) for a in pair if not math.isnan(a)] for pair in ankles]
    both = [sum(pair) / len(pair) if pair else math.nan for pair in seen]
    mean = mean_cycle(shares, both, 2)
    assert mean is not None
    smooth = [
        sum((3 - abs(k)) * mean[(n + k) % PARTS] for k in (-2, -1, 0, 1, 2)) / 9
        for n in range(PARTS)
    ]
    lows = [n for n in range(PARTS) if smooth[n - 1] >= smooth[n] < smooth[(n + 1) % PARTS]]
    kept: list[int] = []
    for n in sorted(lows, key=lambda n: smooth[n]):
        if all(min((n - k) % PARTS, (k - n) % PARTS) >= 0.2 * PARTS for k in kept):
            kept.append(n)
    found = dolphin(times, ankles, numbers, opened)
    if len(kept) < 2:
        assert found is None
        return
    assert found is not None
    power = [abs(wave_of(smooth, n)) ** 2 for n in range(PARTS // 2 + 1)]
    expected = instants([n / PARTS for n in kept[:2]], numbers, opened, times)
    assert found[0] == pytest.approx(expected, abs=1e-9)
    assert found[1] == pytest.approx(sum(power[1:4]) / sum(power[1:]), rel=1e-9)


# ---- breaths ----

EVENTS = {"turn": 0.4, "air": 0.55, "down": 0.9}


def lifts(shares: Plain, head: Series, numbers: Series) -> dict[int, float]:
    found = {}
    for n in numbers[:-1]:
        up = [float(h) for s, h in zip(shares, head, strict=True)
              if not math.isnan(h) and n + 0.55 <= s <= n + 0.9]  # fmt: skip
        if len(up) >= 2:
            found[int(n)] = median(up)
    return found


def breaths_plainly(
    times: Series, shares: Plain, head: Series, clock: tuple[Series, Series], always: bool
) -> list[tuple[str, object, object]]:
    numbers, opened = clock
    lifted = lifts(shares, head, numbers)
    if not lifted:
        return []
    ordered = sorted(lifted.values())
    breathed = set(lifted)
    if not always:
        spread = [
            float(np.var(ordered[:n]) * n + np.var(ordered[n:]) * (len(ordered) - n))
            for n in range(1, len(ordered))
        ]
        n = spread.index(min(spread)) + 1 if spread else 0
        low, top = (sum(p) / len(p) if p else math.nan for p in (ordered[:n], ordered[n:]))
        if n and low < 0.24 and top - low >= 0.14:
            breathed = {number for number, lift in lifted.items() if lift >= ordered[n]}
        elif median(ordered) <= 0.2:
            breathed = set()
    expected: list[tuple[str, object, object]] = []
    for number in numbers[:-1]:
        lift = lifted.get(int(number))
        if int(number) in breathed or (always and lift is None):
            clear = 0.5 if lift is None else min(0.9, max(0.2, 0.3 + 1.5 * lift))
            for event, at in EVENTS.items():
                if numbers[0] <= number + at <= numbers[-1]:
                    t = float(np.interp(number + at, numbers, opened))
                    if times[0] <= t <= times[-1]:
                        expected.append((event, pytest.approx(t), pytest.approx(clear)))
    return expected


@pytest.mark.parametrize("always", [True, False])
@pytest.mark.parametrize("up", [(0, 2, 4), (0, 1, 2, 3, 4, 5), (), (1,)])
@pytest.mark.parametrize("high", [0.12, 0.22, 0.4])
def test_breaths_are_what_the_rules_say(always: bool, up: tuple[int, ...], high: float) -> None:
    times, numbers, opened, shares = clocked(1.3)
    place = np.nan_to_num(np.array(shares), nan=-9)
    head = np.random.default_rng(len(up)).normal(0.02, 0.02, len(times))
    for n in up:
        head[(place > n + 0.5) & (place < n + 0.95)] += high
    head[(place > 3) & (place < 4)] = np.nan
    found = front_breaths(times, head, numbers, opened, EVENTS, always)
    assert found == breaths_plainly(times, shares, head, (numbers, opened), always)


def test_breaths_of_any_head_are_what_the_rules_say() -> None:
    """Clocks that end inside the film, frames far apart, heads at any height."""
    told = {True: 0, False: 0}
    for seed in range(300):
        rng = np.random.default_rng(seed)
        times = np.arange(0, 7, 0.2) + 0.05
        numbers = np.arange(0, int(rng.integers(2, 6)), dtype=float)
        opened = 0.4 + 1.25 * numbers
        shares = [float(s) for s in np.interp(times, opened, numbers, np.nan, np.nan)]
        level = rng.choice((-0.2, 0.0, 0.15, 0.22, 0.3))
        each = level + rng.choice((0.0, 0.13, 0.15, 0.4), 8) * (rng.random(8) < 0.5)
        head = np.array([each[int(np.nan_to_num(s, nan=7.0))] for s in shares])
        head = head + rng.normal(0, 0.01, len(head))
        head[rng.random(len(head)) < 0.25] = np.nan
        for always in (True, False):
            found = front_breaths(times, head, numbers, opened, EVENTS, always)
            assert found == breaths_plainly(times, shares, head, (numbers, opened), always)
            told[always] += bool(found)
    assert 60 < told[False] < told[True]
