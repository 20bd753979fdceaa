"""The fault dials: which faults the model swimmer can show, and where to look for each."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from norvik.model.film import Take
from norvik.model.schedule import TIMING_DIALS, USUAL, Swim


@dataclass(frozen=True, slots=True)
class Dial:
    """fault: id in the catalogue. view: where it shows best."""

    fault: str
    stroke: str
    view: str


DIALS: dict[str, Dial] = {
    fault: Dial(fault, stroke, view)
    for stroke, view, faults in (
        (
            "freestyle",
            "side-under",
            "straight-arm dropped-elbow reaches-down brake-hand hand-above-elbow "
            "overglide head-lift-breath head-forward legs-low kick-uneven kick-knees "
            "short-finish entry-close uneven-rhythm",
        ),
        (
            "freestyle",
            "front-under",
            "crossing over-rotation under-rotation thumb-first wide-recovery low-swing pull-wide "
            "pull-across over-turn-breath exit-over-back",
        ),
        ("freestyle", "overhead", "snaking scissor"),
        (
            "backstroke",
            "side-under",
            "back-legs-low back-head-up back-late-hold back-kick-big back-knees back-feet-deep",
        ),
        ("backstroke", "overhead", "back-cross"),
        ("backstroke", "front-under", "back-little-roll back-thumb-entry"),
        (
            "breaststroke",
            "side-under",
            "breast-slow-heels breast-hands-stop breast-dive breast-head-bob breast-upright "
            "breast-knees-lead breast-early-look",
        ),
        ("breaststroke", "front-under", "breast-flat-forearms"),
        ("breaststroke", "overhead", "breast-knees-wide breast-kick-out"),
        (
            "butterfly",
            "side-under",
            "fly-late-breath fly-extra-kick fly-short fly-high fly-dive fly-no-press "
            "fly-one-way-kick",
        ),
        ("butterfly", "front-under", "fly-elbows-low fly-wide"),
        ("butterfly", "overhead", "fly-palm-down"),
        (
            "wall",
            "side-under",
            "wall-head-up wall-few-kicks wall-steep wall-early-break wall-kick-wide wall-knees",
        ),
    )
    for fault in faults.split()
}


def with_faults(take: Take, faults: dict[str, float]) -> Take:
    """The same take with dials turned, each 0 to 1.

    Raises KeyError for an unknown fault and ValueError for an amount outside 0..1 or a fault of
    another stroke (a swim off the wall goes on in freestyle and may show those, too).
    """
    strokes = {take.swim.stroke, "freestyle"} if take.swim.stroke == "wall" else {take.swim.stroke}
    for fault, amount in faults.items():
        if DIALS[fault].stroke not in strokes:
            raise ValueError(f"{fault} is a fault of {DIALS[fault].stroke}")
        if not 0 <= amount <= 1:
            raise ValueError(f"the amount of {fault} must lie between 0 and 1")
    timing = {f: a for f, a in faults.items() if f in TIMING_DIALS}
    return replace(
        take,
        swim=replace(take.swim, dials={**take.swim.dials, **timing}),
        build=replace(take.build, dials={**take.build.dials, **faults}),
    )


def usual_swim(stroke: str, cycles_per_min: float | None = None, seed: int = 1) -> Swim:
    """How a stroke is swum when nothing else is said, at a rate."""
    swim = replace(USUAL[stroke], seed=seed)
    if cycles_per_min is None:
        return swim
    cycle_s = 60 / cycles_per_min
    if stroke == "breaststroke":
        # A slow stroke glides longer; the arms hardly take more time.
        moving = (1 - swim.entry) * math.sqrt(swim.cycle_s / cycle_s)
        swim = replace(
            swim,
            entry=max(0.02, 1 - moving),
            **{n: getattr(swim, n) * moving / (1 - swim.entry)
               for n in ("catch", "pull", "recovery")},
        )  # fmt: skip
    return replace(swim, cycle_s=cycle_s)
