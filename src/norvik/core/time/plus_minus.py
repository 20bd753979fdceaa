"""Two plus-minus, by name: how well a clip was measured, and how well it tells the swimmer."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from norvik.core.distributions import t_factor

#: Own choice, by simulation: below so many degrees of freedom a sum has those of its worst part.
FEW_DOF = 3
#: As good as known.
MANY_DOF = 1e6


@dataclass(frozen=True, slots=True)
class Own:
    """u: standard uncertainty of the mean, in its unit. dof: degrees of freedom of u, above 0."""

    u: float
    dof: float

    def times(self, factor: float) -> Own:
        return Own(abs(factor) * self.u, self.dof)


@dataclass(frozen=True, slots=True)
class Certainty:
    """Standard uncertainties of one quantity, in its unit.

    spread: of grid and marker from mark to mark. habit: of what the marker does the same way every
    time, in every clip. scale: of the clip's slow-motion factor. own: of the mean, from the
    swimmer's cycles; None where one value stands alone.
    """

    spread: float
    habit: float = 0.0
    scale: float = 0.0
    own: Own | None = None

    @property
    def clip(self) -> float:
        """How well the clip was measured."""
        return math.hypot(self.spread, self.habit, self.scale)

    @property
    def between_clips(self) -> Own | None:
        """Of the swimmer's value against that of another clip, which the same person marked.

        None where one value stands alone. The cycles' spread holds that of marking, and a few
        cycles that happen to be alike do not make marking better than it is. A habit is in both
        clips alike and leaves out.
        """
        return self._with(self.scale)

    @property
    def swimmer(self) -> Own | None:
        """How well the clip tells the swimmer's own long-run value; None where it can't."""
        return self._with(math.hypot(self.habit, self.scale))

    def _with(self, surely_known: float) -> Own | None:
        if self.own is None:
            return None
        alone = self.own
        if self.spread > alone.u:
            # How well marking does is known: the more of it there is, the surer is the whole.
            more = (self.spread / alone.u) ** 2 if alone.u else MANY_DOF
            alone = Own(self.spread, min(MANY_DOF, alone.dof * more))
        u = math.hypot(alone.u, surely_known)
        return Own(u, joint_dof(u, [alone]))


def k95(own: Own) -> float:
    """value +- k95 times u covers 95 of 100."""
    return t_factor(round(own.dof, 3))


def joint(parts: Sequence[Own]) -> Own | None:
    """Of a sum of independent parts; None without any. Degrees of freedom: see `joint_dof`."""
    if not parts:
        return None
    u = math.hypot(*(p.u for p in parts))
    least = min(p.dof for p in parts)
    # Of two or three values nobody knows the spread: there the formula promises too much.
    return Own(u, least if least < FEW_DOF else joint_dof(u, parts))


def joint_dof(u: float, parts: Sequence[Own]) -> float:
    """Effective degrees of freedom of u, which `parts` make up with what is surely known.

    Source: Welch 1947, Biometrika 34:28-35, and Satterthwaite 1946, Biometrics 2:110-114; JCGM
    100:2008, G.4.1.
    """
    below = math.fsum(p.u**4 / p.dof for p in parts)
    if below <= 0:
        return min((p.dof for p in parts), default=MANY_DOF)
    return min(MANY_DOF, u**4 / below)
