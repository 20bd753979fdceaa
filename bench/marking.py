"""How many presses a cycle takes with proposals: the truth of the demo's clips, frame by frame."""

from __future__ import annotations

from bisect import bisect_left

from bench.figures import line
from norvik.core.strokes import STROKES
from norvik.core.strokes.events import Mark
from norvik.core.strokes.names import StrokeName
from norvik.core.time.proposals import propose
from norvik.core.time.resolve import resolve
from norvik.demo.people import everything
from norvik.model.schedule import schedule

#: Cycles of each arm that are marked by hand before proposals go on.
_BY_HAND = 2


def run() -> None:
    worst, total, events = 0.0, 0, 0
    for stroke in STROKES:
        presses, marked = _presses(stroke)
        if marked:
            per_cycle = 8 if STROKES[stroke].alternating else 4
            each = per_cycle * presses / marked
            worst = max(worst, each)
            line(
                f"  presses for {per_cycle} events, {stroke}", f"{each:.1f} of {marked} events", ""
            )
        if STROKES[stroke].alternating:
            total, events = total + presses, events + marked
    line("presses a cycle of both arms, with proposals", f"{8 * total / events:.1f}", "at most 12")


def _presses(stroke: StrokeName) -> tuple[int, int]:
    presses = marked = 0
    for _, clip in everything():
        for take in clip.takes:
            if take.swim.stroke != stroke:
                continue
            times = take.frame_times().tolist()
            plan = schedule(take.swim, take.seconds)
            truth = plan.marks(0, times[-1], with_shoulder=False)
            done, more = _one([m for m in truth if m.lane == "arm"], stroke, times)
            presses, marked = presses + done, marked + more
    return presses, marked


def _one(truth: list[Mark], stroke: StrokeName, times_s: list[float]) -> tuple[int, int]:
    """Confirm every proposal on the frame of the true event; gives presses and events."""

    def frame_of(time_s: float) -> int:
        return bisect_left(times_s, time_s)

    opens = STROKES[stroke].opens
    given: list[Mark] = []
    waiting: list[Mark] = []
    seen = dict.fromkeys(STROKES[stroke].arms, 0)
    for m in sorted(truth, key=lambda m: m.time_s):
        arm = m.side if m.side in seen else "both"
        seen[arm] += m.event == opens
        (given if seen[arm] <= _BY_HAND or (m.event == opens and seen[arm] == _BY_HAND + 1)
         else waiting).append(m)  # fmt: skip
    presses = marked = 0
    while waiting:
        proposals = propose(resolve(given, STROKES[stroke]), times_s[-1])
        if not proposals:
            break
        p = proposals[0]
        true = next((m for m in waiting if m.event == p.event and m.side in (p.side, "")), None)
        if true is None:
            break
        off = abs(frame_of(p.time_s) - frame_of(true.time_s))
        # Ten frames with Shift, single ones without, and one press to confirm.
        presses += min(off // 10 + off % 10, off // 10 + 1 + 10 - off % 10) + 1
        marked += 1
        waiting.remove(true)
        given.append(true)
    return presses, marked
