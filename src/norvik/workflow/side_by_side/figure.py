"""The drawn figure of how it should look, at the phase of each frame of a film."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from norvik.core.errors import MarkError
from norvik.core.strokes.names import Side, StrokeName
from norvik.core.time.in_step import CycleEvents, by_phase, laid_end_to_end
from norvik.model.stance import STEPS, events_of, stance, trunk
from norvik.workflow.side_by_side.film import Film

#: A round-ended line in trunk lengths, hip at (0, 0) and shoulder at (1, 0); and is it far?
Line = tuple[float, float, float, float, bool]


@dataclass(frozen=True)
class BesideFigure:
    """The figure in step with a film.

    stances: for each frame of the film, from its first on, which of STEPS stances belongs to it.
    cycles: of the arm that is gone by.
    """

    one: Film
    side: Side
    stances: tuple[int, ...]
    cycles: tuple[CycleEvents, ...]
    cannot: str = ""


def beside_figure(one: Film, wanted: str) -> BesideFigure:
    """A film beside the drawn figure of how it should look, by phase.

    The figure swims the right arm's cycle; the film goes by the arm that is asked for.
    """
    side = one.side(wanted)
    cycles = one.cycles(side)
    shares = events_of(one.stroke)
    model = CycleEvents(side, tuple(shares.items()), 1.0)
    frames = one.last - one.first + 1
    try:
        step = by_phase(cycles, laid_end_to_end(model, len(cycles)))
    except MarkError as error:
        return BesideFigure(one, side, (0,) * frames, cycles, error.sentence)
    first, last = step.anchors[0], step.anchors[-1]
    times = one.real_s[one.first : one.last + 1]
    # Outside of the marked cycles the figure waits: there is no phase to show.
    at = [step.other(min(max(float(t), first.one_s), last.one_s)) % 1.0 for t in times]
    return BesideFigure(one, side, tuple(round(STEPS * a) % STEPS for a in at), cycles)


@lru_cache(maxsize=12)
def figure_in_trunks(stroke: StrokeName, view: str) -> list[list[Line]]:
    """The lines of every stance, measured in trunks: so they fit on any swimmer's trunk.

    view: of the figure. Below the trunk is y above 0. Empty where it is seen end on.
    """
    found = []
    for n in range(STEPS):
        (sx, sy), (hx, hy) = trunk(stroke, n / STEPS, view)
        along = complex(sx - hx, sy - hy)
        lines: list[Line] = []
        for p in stance(stroke, n / STEPS, view).bones if abs(along) > 1 else ():
            a, b = ((complex(x - hx, y - hy) / along) for x, y in ((p.x1, p.y1), (p.x2, p.y2)))
            if a != b:
                lines.append((*(round(v, 3) for v in (a.real, a.imag, b.real, b.imag)),  # type: ignore[arg-type]
                              p.far))  # fmt: skip
        found.append(lines)
    return found
