"""The drawn figure: every stroke, phase, view and fault has one, and it is the skeleton's."""

from __future__ import annotations

import pytest

from norvik.model.dials import DIALS
from norvik.model.schedule import STROKES, USUAL
from norvik.model.stance import STEPS, VIEW_OF, VIEWS, events_of, plainest_phase, stance


@pytest.mark.parametrize("stroke", STROKES)
@pytest.mark.parametrize("view", VIEWS)
def test_the_figure_stays_in_its_picture(stroke: str, view: str) -> None:
    for step in range(0, STEPS, 6):
        drawn = stance(stroke, step / STEPS, view)
        left, top, width, height = drawn.box
        for shape in drawn.shapes:
            for x, y in shape.points:
                assert left <= x <= left + width, (step, shape)
                assert top <= y <= top + height, (step, shape)
        assert stroke in drawn.words


def test_events_lie_where_the_swim_puts_them() -> None:
    for stroke in ("freestyle", "backstroke", "butterfly"):
        swim, events = USUAL[stroke], events_of(stroke)
        total = swim.entry + swim.catch + swim.pull + swim.recovery
        assert events["entry"] == pytest.approx(0)
        assert events["catch"] == pytest.approx(swim.entry / total)
        assert events["exit"] == pytest.approx(1 - swim.recovery / total)


def test_the_hand_is_deepest_under_the_body_and_out_of_the_water_in_recovery() -> None:
    events = events_of("freestyle")

    def lowest(phase: float) -> float:
        near = [p for p in stance("freestyle", phase, "side").shapes if p.tone == "near"]
        return max(y for p in near for _, y in p.points)

    assert lowest(events["shoulder"]) > 60
    drawn = stance("freestyle", (1 + events["exit"]) / 2, "side")
    assert min(y for p in drawn.shapes for _, y in p.points) < -20


@pytest.mark.parametrize("fault", sorted(DIALS))
def test_every_fault_has_a_figure_that_differs(fault: str) -> None:
    dial = DIALS[fault]
    phase, view = plainest_phase(fault), VIEW_OF[dial.view]
    assert 0 <= phase < 1
    assert stance(dial.stroke, phase, view).shapes != stance(dial.stroke, phase, view, fault).shapes
