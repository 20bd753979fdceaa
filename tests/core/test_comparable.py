"""What of a clip can be compared with another, and by which limits a change is judged."""

from __future__ import annotations

import random
from dataclasses import replace

import pytest

from norvik.catalogue import load
from norvik.core.followup.change import ComparableValue
from norvik.core.followup.comparable import shown_by, values_in_time, values_on_frame
from norvik.core.judging.coaching_model import Band
from norvik.core.judging.on_frame import OnFrame
from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import DEFAULT_MARKER
from norvik.core.time.quantities import QUANTITIES, Occurrence
from norvik.core.time.quantities.rate import stroke_rate
from tests.simulated import Swimmer, crawl, marked

FREE = load("freestyle")
SWIM = crawl(Swimmer(walls=False, cycles=3), random.Random(5))
TIMING = compute_timing(
    marked(SWIM, DEFAULT_MARKER, 60, random.Random(6)), "freestyle", 1 / 60, 25.0, DEFAULT_MARKER
)


def by_id(found: list[ComparableValue]) -> dict[str, ComparableValue]:
    assert len({(v.what, v.side) for v in found}) == len(found)
    return {v.what: v for v in found}


def test_what_shows_a_fault() -> None:
    faults = FREE.faults
    assert shown_by(faults["overglide"], FREE, {}) == {"entry-share", "hand-over"}
    assert shown_by(faults["pull-across"], FREE, {}) == {"pull-width"}
    assert shown_by(faults["scissor"], FREE, {}) == {"leg-spread", "feet-cross"}
    assert shown_by(faults["late-catch"], FREE, {}) == {"hold-distance", "hold-time", "late-bend"}


def test_everything_that_is_compared_is_there_with_its_reading() -> None:
    found = by_id(values_in_time(TIMING, FREE, {}))
    rate = stroke_rate(TIMING)
    assert rate is not None
    first = found["rate"]
    assert (first.name, first.unit, first.digits, first.side) == (
        "Stroke rate", "strokes/min", 1, ""
    )  # fmt: skip
    assert first.value == rate.value
    assert first.swimmer == rate.own
    assert first.band is None
    assert rate.certainty is not None
    assert first.own == rate.certainty.between_clips
    assert len(first.singles) == len(rate.occurrences) > 2
    for q in QUANTITIES.values():
        reading = q.of(TIMING) if "freestyle" in q.strokes and q.compared else None
        assert (q.id in found) == (reading is not None), q.id
        if reading is not None:
            made = found[q.id]
            assert (made.name, made.unit, made.digits) == (q.name, q.unit, q.digits)
            assert (made.value, made.hits) == (reading.value, reading.hits)
    assert {"entry-share", "hand-over", "head-lead"} <= set(found)


def test_only_what_is_asked_for() -> None:
    found = values_in_time(TIMING, FREE, {}, only={"rate", "entry-share"})
    assert [v.what for v in found] == ["rate", "entry-share"]
    assert [v.what for v in values_in_time(TIMING, FREE, {}, only={"hand-over"})] == ["hand-over"]


def test_a_quantity_of_another_stroke_is_not_there() -> None:
    alone = {q.id for q in QUANTITIES.values() if "freestyle" not in q.strokes}
    assert alone
    assert not alone & {v.what for v in values_in_time(TIMING, FREE, {})}


@pytest.mark.parametrize(
    ("fault", "limits"),
    [
        # Nothing was worked on: good is what is good by both limits of the quantity.
        (None, (12.0, 22.0)),
        # The limit of what was worked on counts alone.
        ("overglide", (None, 22.0)),
        ("short-reach", (12.0, None)),
    ],
)
def test_which_limit_says_what_is_better(
    fault: str | None, limits: tuple[float | None, float | None]
) -> None:
    worked = [FREE.faults[fault]] if fault else []
    schools = {"front-timing": "overlap"}
    band = by_id(values_in_time(TIMING, FREE, schools, worked))["entry-share"].band
    assert band is not None
    highest = FREE.band("glide-share", schools).good_to
    assert (band.good_from, band.good_to) == (limits[0], highest if limits[1] else None)


def test_a_quantity_with_one_limit_has_it_whole() -> None:
    found = by_id(values_in_time(TIMING, FREE, {}))
    assert found["head-lead"].band == FREE.band("head-lead", {})
    assert found["breath-return"].band == FREE.band("breath-return", {})


def taken(what: str, side: str, *values: float, chosen: tuple[str, ...] = ()) -> OnFrame:
    found = tuple(Occurrence(float(n), v) for n, v in enumerate(values))
    band = Band("b", what, "own", good_from=90, good_to=120)
    return OnFrame(what, "Elbow angle", "°", 0, side, found, 1.5, band, chosen)


def test_measures_side_by_side_without_choices() -> None:
    takings = [
        taken("elbow-angle", "left", 100, 104), taken("elbow-angle", "right", 110),
        taken("first-contact", "left", 1, chosen=("thumb",)), taken("high-elbow", "", 30),
    ]  # fmt: skip
    found = values_on_frame(takings)
    assert [(v.what, v.side, v.value) for v in found] == [
        ("elbow-angle", "left", 102), ("elbow-angle", "right", 110), ("high-elbow", "", 30),
    ]  # fmt: skip
    left, right, _ = found
    assert left.singles == (100, 104)
    assert left.band == takings[0].band
    assert left.own == takings[0].reading.certainty.between_clips  # type: ignore[union-attr]
    # One taking does not tell how much the swimmer's differ.
    assert right.own is None
    assert [v.what for v in values_on_frame(takings, only={"high-elbow"})] == ["high-elbow"]


def test_measures_keep_their_words() -> None:
    (one,) = values_on_frame([taken("elbow-angle", "left", 100)])
    assert (one.name, one.unit, one.digits) == ("Elbow angle", "°", 0)


@pytest.mark.parametrize(
    ("one", "other", "good"),
    [((10, None), (None, 30), (10, 30)), ((10, 40), (12, 30), (12, 30)),
     ((None, 40), (None, 30), (None, 30)), ((10, None), (12, None), (12, None))],
)  # fmt: skip
def test_two_limits_leave_what_is_good_by_both(
    one: tuple[float | None, float | None], other: tuple[float | None, float | None],
    good: tuple[float | None, float | None],
) -> None:  # fmt: skip
    bands = tuple(
        Band(f"b{n}", "entry-share", f"source {n}", *edges) for n, edges in enumerate((one, other))
    )
    found = by_id(values_in_time(TIMING, replace(FREE, bands=bands), {}, only={"entry-share"}))
    band = found["entry-share"].band
    assert band is not None
    assert (band.good_from, band.good_to, band.id) == (*good, "b0")
    alone = by_id(values_in_time(TIMING, replace(FREE, bands=bands[1:]), {}, only={"entry-share"}))
    assert alone["entry-share"].band == bands[1]
