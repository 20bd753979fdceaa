"""The model swimmer filmed for a comparison: what is wished for, and the film of it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path

from norvik.core.strokes.names import StrokeName
from norvik.model.dials import usual_swim, with_faults
from norvik.model.film import Take, film

#: Raised when the model swimmer looks or moves differently: older films are made again.
EDITION = 1
#: Cycles that are filmed: a whole one of each arm lies in the middle.
_CYCLES = 3.6


@dataclass(frozen=True, slots=True)
class ModelWish:
    """fault: of the dials, or empty. cycles_per_min: whole number. fps: of RATES."""

    stroke: StrokeName
    view: str
    fault: str
    cycles_per_min: int
    fps: int

    @property
    def key(self) -> str:
        return f"model:{self.fault}" if self.fault else "model"

    @property
    def name(self) -> str:
        """Of its file, without an ending."""
        how = self.fault or "well"
        return f"{self.stroke}-{self.view}-{how}-{self.cycles_per_min}-{self.fps}-{EDITION}"

    def take(self) -> Take:
        swim = replace(usual_swim(self.stroke, self.cycles_per_min), variation=0.0)
        take = Take(swim, seconds=_CYCLES * swim.cycle_s, fps=self.fps, view=self.view)
        return with_faults(take, {self.fault: 1.0}) if self.fault else take


def film_wish(wish: ModelWish, out: Path, painted: Callable[[int, int], None]) -> None:
    """Film the model for a wish. painted: told how many frames of how many."""
    take = wish.take()
    frames = len(take.frame_times())
    film(take, out, lambda done: painted(done, frames))
    # What lies beside a film serves tests and trials of the model alone.
    for ending in (".events.csv", ".truth.json"):
        out.with_suffix(ending).unlink(missing_ok=True)
