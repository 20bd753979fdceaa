"""Quantities of whole swims that are not even: each value, the instants that show it and the words
beside it, worked out from the lists of events.
"""

from __future__ import annotations

import pytest

from norvik.core.time.compute import compute_timing
from norvik.core.time.quantities import QUANTITIES, Reading
from norvik.core.time.timing import Timing
from tests.core.test_quantities_of_timing import breathing
from tests.marking import marks

Shown = list[tuple[float, float, str]]


def swim(stroke: str, *lanes: tuple[str, str, list[float]], more: str = "") -> Timing:
    """lanes: (side, event, instants)."""
    text = "; ".join(f"{side} {event} {t}" for side, event, at in lanes for t in at)
    return compute_timing(marks(f"{text}; {more}" if more else text), stroke, 1 / 60, 25.0)


def read(name: str, of: Timing) -> Reading:
    found = QUANTITIES[name].of(of)
    assert found is not None, name
    return found


def shows(name: str, of: Timing, shown: Shown, value: float | None = None) -> None:
    """The value is the mean of what shows it, unless another one is given."""
    found = read(name, of)
    assert [(o.time_s, o.value, o.side) for o in found.occurrences] == [
        (pytest.approx(t), pytest.approx(v), side) for t, v, side in shown
    ], name
    mean = sum(v for _, v, _ in shown) / len(shown) if value is None else value
    assert found.value == pytest.approx(mean), name


def words(name: str, of: Timing) -> str:
    note = QUANTITIES[name].note
    assert note is not None
    return note(of)


# ---- freestyle ----

RIGHT = {
    "entry": [0.0, 1.5, 3.1, 4.5], "catch": [0.4, 1.95, 3.5], "press": [0.55, 2.05, 3.7],
    "shoulder": [0.8, 2.28, 3.9], "exit": [1.1, 2.6, 4.2],
}  # fmt: skip
LEFT = {
    "entry": [0.75, 2.3, 3.85, 5.3], "catch": [1.15, 2.7, 4.2], "press": [1.3, 2.9, 4.4],
    "shoulder": [1.55, 3.12, 4.6], "exit": [1.8, 3.4, 4.9],
}  # fmt: skip
#: Mean over both arms' whole cycles.
CYCLE = (4.5 / 3 + (5.3 - 0.75) / 3) / 2


def crawl(more: str = "") -> Timing:
    lanes = [("R", e, at) for e, at in RIGHT.items()] + [("L", e, at) for e, at in LEFT.items()]
    return swim("freestyle", *lanes, more=more)


def test_how_the_arms_go_together() -> None:
    of = crawl()
    assert of.resolved.mean_cycle_s == pytest.approx(CYCLE)
    left = [(x, x - p) for x, p in zip(LEFT["exit"][:2], RIGHT["press"][1:], strict=True)]
    right = [(x, x - p) for x, p in zip(RIGHT["exit"], LEFT["press"], strict=True)]
    shows("left-to-right", of, [(x, s, "") for x, s in left])
    shows("right-to-left", of, [(x, s, "") for x, s in right])
    both = [(x, 100 * s / CYCLE, "left") for x, s in left]
    both += [(x, 100 * s / CYCLE, "right") for x, s in right]
    mean = 50 / CYCLE * (sum(s for _, s in left) / 2 + sum(s for _, s in right) / 3)
    shows("hand-over", of, both, mean)
    assert words("hand-over", of) == "catch-up"
    assert (words("left-to-right", of), words("right-to-left", of)) == ("gap", "gap")
    # Hands that leave later than the others pull: an overlap.
    late = {**RIGHT, "exit": [x + 0.25 for x in RIGHT["exit"]]}
    lanes = [("R", e, at) for e, at in late.items()] + [("L", e, at) for e, at in LEFT.items()]
    other = swim("freestyle", *lanes)
    assert (words("left-to-right", other), words("right-to-left", other)) == ("gap", "overlap")
    none = swim("freestyle", ("R", "entry", RIGHT["entry"]))
    assert (words("left-to-right", none), words("hand-over", none)) == ("", "")
    assert QUANTITIES["hand-over"].of(none) is None


def test_the_front_quadrant() -> None:
    of = crawl()
    # Each entry with the other hand's shoulder: the cycle in which it lies.
    pairs = [(0.75, 0.8), (1.5, 1.55), (2.3, 2.28), (3.1, 3.12), (3.85, 3.9), (4.5, 4.6)]
    shows("front-quadrant-lead", of, [(e, 100 * (s - e) / CYCLE, "") for e, s in pairs])
    found = read("front-quadrant", of)
    assert found.hits == (5, 6)
    assert found.value == pytest.approx(500 / 6)
    first = found.occurrences[0]
    assert (first.time_s, first.value, first.side) == (0.0, found.value, "right")
    assert len(found.occurrences) == 1


def test_how_long_and_how_far_the_hand_waits_in_front() -> None:
    of = crawl(more="pass 5m 1; pass 15m 6")
    waits = [(e, p - e, "right") for e, p in zip(RIGHT["entry"], RIGHT["press"], strict=False)]
    waits += [(e, p - e, "left") for e, p in zip(LEFT["entry"], LEFT["press"], strict=False)]
    waits.sort()
    shows("hold-time", of, sorted(waits))
    shows("hold-distance", of, [(e, 2.0 * s, side) for e, s, side in waits])
    assert QUANTITIES["hold-distance"].of(crawl()) is None


def test_breaths_of_freestyle() -> None:
    of = crawl(
        "R turn 0.9; R air 1.05; R down 1.45; L turn 1.7; L air 1.85; L down 2.2; "
        "R turn 4.0; R air 4.15; R down 4.52; bubbles-on 1.5; bubbles-off 1.68; "
        "bubbles-on 2.4; bubbles-off 3.9"
    )
    shows("breath-time", of, [(1.05, 0.4, ""), (1.85, 0.35, ""), (4.15, 0.37, "")])
    shows("breath-share", of, [(t, 100 * s / CYCLE, "") for t, s in
                               ((1.05, 0.4), (1.85, 0.35), (4.15, 0.37))])  # fmt: skip
    assert words("breath-time", of) == "1 left, 2 right"
    shows("breath-return", of, [(1.45, 0.05, "right"), (2.2, 0.1, "left"), (4.52, -0.02, "right")])
    # Head turn to the pull of the arm on the breathing side.
    lead = read("head-lead", of)
    assert [o.side for o in lead.occurrences] == ["right", "left", "right"]
    one = read("breath-one-side", of)
    assert (one.hits, one.value) == ((2, 3), pytest.approx(200 / 3))
    assert [(o.time_s, o.side) for o in one.occurrences] == [
        (1.05, "right"), (1.85, "left"), (4.15, "right")
    ]  # fmt: skip
    under = read("exhale-share", of)
    waters = [(1.45, 1.85, 0.18), (2.2, 4.15, 1.5)]
    assert [(o.time_s, o.value) for o in under.occurrences] == [
        (pytest.approx(a), pytest.approx(100 * s / (b - a))) for a, b, s in waters
    ]
    assert QUANTITIES["breath-one-side"].of(crawl("R air 1.05; L air 1.85")) is None
    assert words("breath-time", crawl()) == ""


def test_a_breath_pattern_is_regular_or_not() -> None:

    for airs, regular, hits in (
        ("L air 1.5; R air 4.5; L air 7.5", 1.0, (2, 2)),
        ("L air 1.5; R air 4.5; R air 6.5; L air 9.5", 0.0, (2, 3)),
    ):
        of = breathing(airs)
        found = read("breath-regular", of)
        assert (found.value, found.hits) == (regular, hits), of.breathing
        assert [o.side for o in found.occurrences][:2] == ["left", "right"]
        assert all(o.value == regular for o in found.occurrences)
        assert found.occurrences[0].time_s == 1.5
    assert QUANTITIES["breath-regular"].of(breathing("L air 1.5")) is None


def test_backstroke_says_to_which_event_it_is_counted() -> None:
    lanes = [("R", e, at) for e, at in RIGHT.items()] + [("L", e, at) for e, at in LEFT.items()]
    assert words("hand-over", swim("backstroke", *lanes)).endswith(", to the exit")
    ends = [("R", "push-end", [x - 0.1 for x in RIGHT["exit"]]),
            ("L", "push-end", [x - 0.1 for x in LEFT["exit"]])]  # fmt: skip
    assert words("hand-over", swim("backstroke", *lanes, *ends)) == "catch-up"


# ---- breaststroke ----

BREAST = {
    "out": [0.0, 1.6, 3.3, 4.9], "in": [0.4, 2.05, 3.7], "shoot": [0.8, 2.5, 4.05],
    "long": [1.1, 2.75, 4.35], "heels": [0.9, 2.55, 4.2], "set": [1.3, 2.95, 4.5],
    "close": [1.5, 3.2, 4.75],
}  # fmt: skip
BREAST_CYCLE = 4.9 / 3


def breast(more: str = "", **changed: list[float]) -> Timing:
    lanes = [("", e, at) for e, at in {**BREAST, **changed}.items()]
    return swim("breaststroke", *lanes, more=more)


def test_arms_and_legs_of_breaststroke() -> None:
    of = breast()
    gaps = {
        # Outsweep after the feet are together; heels after the recovery; kick after extension.
        "t1": [(1.6, 0.1), (3.3, 0.1), (4.9, 0.15)],
        "t2": [(0.9, 0.1), (2.55, 0.05), (4.2, 0.15)],
        "t3": [(1.3, 0.2), (2.95, 0.2), (4.5, 0.15)],
    }
    for gap, shown in gaps.items():
        shows(f"{gap}-seconds", of, [(t, s, "") for t, s in shown])
        shows(gap, of, [(t, 100 * s / BREAST_CYCLE, "") for t, s in shown])
        pct = 100 * sum(s for _, s in shown) / 3 / BREAST_CYCLE
        assert words(f"{gap}-seconds", of) == f"{pct:.0f} % of the cycle"
    # The hands part before the feet are together: below 0, with a real minus sign.
    early = breast(close=[1.75, 3.45, 5.05])
    assert words("t1-seconds", early) == "−9 % of the cycle"
    arms_alone = swim("breaststroke", *[("", e, BREAST[e]) for e in ("out", "in", "shoot", "long")])
    assert words("t1-seconds", arms_alone) == ""
    assert QUANTITIES["t1-seconds"].of(arms_alone) is None
    shows("breast-pull-time", of, [(0.8, 0.4, ""), (2.5, 0.45, ""), (4.05, 0.35, "")])
    heels = [(1.3, 0.4), (2.95, 0.4), (4.5, 0.3)]
    shows("heel-time", of, [(t, s, "") for t, s in heels])
    shows("heel-share", of, [(t, 100 * s / BREAST_CYCLE, "") for t, s in heels])


def test_the_breath_of_breaststroke_by_the_insweep() -> None:
    of = breast("F air 0.3; F down 0.9; F air 2.15; F down 2.6")
    shows("breath-in-sweep", of, [(t, 100 * s / BREAST_CYCLE, "") for t, s in
                                  ((0.3, -0.1), (2.15, 0.1))])  # fmt: skip
    counted = read("breaths-per-cycle", of)
    assert counted.value == pytest.approx(of.breathing.breaths_per_cycle or 0)
    assert [(o.time_s, o.value) for o in counted.occurrences] == [
        (0.3, counted.value), (2.15, counted.value)
    ]  # fmt: skip


def test_dolphins_in_the_pull_out_are_the_most_of_any_wall() -> None:
    text = "push 10; B beat 10.5; breakout 13; push 40; B beat 40.5; B beat 40.9; breakout 43"
    of = compute_timing(marks(text), "breaststroke", 1 / 60)
    found = read("pullout-dolphins", of)
    assert (found.value, found.u) == (2.0, 0.0)
    assert [(o.time_s, o.value) for o in found.occurrences] == [(10.0, 1.0), (40.0, 2.0)]
    assert QUANTITIES["pullout-dolphins"].of(compute_timing(marks(text), "butterfly")) is None
    assert (
        QUANTITIES["pullout-dolphins"].of(compute_timing(marks("push 10"), "breaststroke")) is None
    )


# ---- butterfly ----

FLY = {
    "entry": [0.0, 1.2, 2.45, 3.6], "catch": [0.2, 1.4, 2.65], "press": [0.3, 1.5, 2.75],
    "shoulder": [0.5, 1.7, 2.95], "exit": [0.7, 1.95, 3.15],
    "up": [0.06, 0.55, 1.25, 1.72, 2.5, 3.0], "beat": [0.26, 0.72, 1.45, 1.9, 2.7, 3.2, 3.7],
}  # fmt: skip
FLY_CYCLE = 1.2


def fly(more: str = "", **changed: list[float]) -> Timing:
    return swim("butterfly", *[("", e, at) for e, at in {**FLY, **changed}.items()], more=more)


def test_arms_and_kicks_of_butterfly() -> None:
    of = fly()
    assert of.resolved.mean_cycle_s == pytest.approx(FLY_CYCLE)
    gaps = {
        "t1": [(0.06, 0.06), (1.25, 0.05), (2.5, 0.05)],
        "t2": [(0.26, -0.04), (1.45, -0.05), (2.7, -0.05)],
        "t3": [(0.55, 0.05), (1.72, 0.02), (3.0, 0.05)],
        "t4": [(0.72, 0.02), (1.9, -0.05), (3.2, 0.05)],
    }
    for gap, shown in gaps.items():
        shows(f"fly-{gap}-seconds", of, [(t, s, "") for t, s in shown])
        shows(f"fly-{gap}", of, [(t, 100 * s / FLY_CYCLE, "") for t, s in shown])
    assert words("fly-t1-seconds", of) == "4 % of the cycle"
    assert words("fly-t2-seconds", of) == "−4 % of the cycle"
    assert words("fly-t1-seconds", fly(up=[])) == ""
    kicks = read("fly-beats", of)
    assert kicks.value == pytest.approx(of.kick.beats_per_cycle if of.kick else 0)
    assert [(o.time_s, o.value) for o in kicks.occurrences] == [
        (t, kicks.value) for t in FLY["entry"][:3]
    ]
    assert QUANTITIES["fly-beats"].of(fly(beat=[], up=[])) is None


def test_a_kick_as_the_hands_finish() -> None:
    finish = read("fly-out-kick", fly())
    assert (finish.hits, finish.value, [o.time_s for o in finish.occurrences]) == (
        (3, 3), 1.0, FLY["exit"],
    )  # fmt: skip
    # 0.15 of the cycle of 1.2 s are 0.18 s: 0.17 away is theirs, 0.19 is not.
    near = read("fly-out-kick", fly(beat=[0.26, 0.87, 1.45, 1.76, 2.7, 3.34, 3.7]))
    assert near.hits == (1, 3)
    assert [o.value for o in near.occurrences] == [1.0, 0.0, 0.0]
    # Cycles before the first kick or after the last are not counted; fewer than three say nothing.
    assert QUANTITIES["fly-out-kick"].of(fly(beat=[1.45, 1.9, 2.7, 3.2])) is None
    assert QUANTITIES["fly-out-kick"].of(fly(beat=[0.26, 0.72])) is None
    longer = fly(entry=[*FLY["entry"], 4.8], exit=[*FLY["exit"], 4.3], press=[*FLY["press"], 3.9])
    assert read("fly-out-kick", longer).hits == (3, 4)
    early = fly(entry=[*FLY["entry"], 4.8], exit=[*FLY["exit"], 4.3], beat=FLY["beat"][:6])
    assert read("fly-out-kick", early).hits == (3, 3)


def test_breaths_of_butterfly() -> None:
    of = fly("F air 0.75; F down 1.15; F air 2.0; F down 2.5; F air 3.2; F down 3.62")
    shows("fly-breath", of, [(t, 100 * s / FLY_CYCLE, "") for t, s in
                             ((0.75, 0.05), (2.0, 0.05), (3.2, 0.05))])  # fmt: skip
    shows("fly-head-return", of, [(t, 100 * s / FLY_CYCLE, "") for t, s in
                                  ((1.15, 0.05), (2.5, -0.05), (3.62, -0.02))])  # fmt: skip
    breaths = read("fly-breaths", of)
    assert (breaths.value, breaths.hits) == (1.0, (3, 3))
    assert [(o.time_s, o.value) for o in breaths.occurrences] == [
        (0.75, 1.0), (2.0, 1.0), (3.2, 1.0)
    ]  # fmt: skip
    # A face that comes back half a cycle off the landing is no return to it.
    late = fly("F air 0.75; F down 1.15; F air 2.0; F down 3.1")
    shows("fly-head-return", late, [(1.15, 100 * 0.05 / FLY_CYCLE, "")])
    two = swim("butterfly", ("", "entry", FLY["entry"][:3]), more="F air 0.75; F down 1.15")
    assert QUANTITIES["fly-breaths"].of(two) is None
    push = read("breath-in-push", of)
    assert push.hits is not None
    assert push.value == pytest.approx(100 * push.hits[0] / push.hits[1])
    assert [o.time_s for o in push.occurrences] == [0.75, 2.0, 3.2]
