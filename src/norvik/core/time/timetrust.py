"""Whether a clip's time base can be trusted, and if not, why."""

from __future__ import annotations

from collections.abc import Sequence

from norvik.core.strokes.names import StrokeName
from norvik.core.time.timecheck import TimeCheck

#: Cycle times in seconds that occur in a pool, with room on both sides. Common practice: from
#: about 20 (distance breaststroke with a long glide) to 70 cycles/min (sprint butterfly).
CYCLE_S = {
    "freestyle": (0.7, 3.5),
    "backstroke": (0.7, 3.5),
    "butterfly": (0.7, 3.5),
    "breaststroke": (0.7, 4.5),
}


def doubts(
    *,
    told_rate_fps: float | None,
    stored_rate_fps: float | None,
    factors: Sequence[float],
    check: TimeCheck | None,
    times_estimated: bool,
    stroke: StrokeName,
    mean_cycle_s: float | None,
) -> tuple[str, ...]:
    """Sentences that say why the time base is unsure; empty when nothing speaks against it.

    told_rate_fps: capture rate that the camera wrote into the file. stored_rate_fps: frames a
    second of media time. factors: the declared slow-motion factors. times_estimated: frames
    without a time of their own were spread evenly. mean_cycle_s: mean cycle of the marked arms.
    A time check that agrees settles everything but estimated frame times.
    """
    found = []
    if times_estimated:
        found.append("Some frames carry no time of their own; theirs is estimated.")
    if check is not None:
        if not check.agrees:
            found.append(
                f"The time check says × {check.factor:.2f}, which is {abs(check.off_pct):.0f} % "
                "off the setting."
            )
        return tuple(found)
    if told_rate_fps and stored_rate_fps and len(factors) == 1:
        by_camera = told_rate_fps / stored_rate_fps
        if abs(by_camera / factors[0] - 1) > 0.1:
            found.append(
                f"The camera says that it recorded {told_rate_fps:.0f} frames/s, which would be "
                f"× {by_camera:.3g}; the setting is × {factors[0]:.3g}."
            )
    least, most = CYCLE_S[stroke]
    if mean_cycle_s is not None and not least <= mean_cycle_s <= most:
        found.append(
            f"A cycle would last {mean_cycle_s:.1f} s, which nobody swims: the slow-motion factor "
            "is probably wrong."
        )
    return tuple(found)
