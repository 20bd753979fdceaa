"""Does plus-minus hold? Simulates swimmers with both arms in one rhythm and people who mark them.

Prints what docs/measures.md states: how many of 100 values lie within plus-minus, for every
quantity at several frame rates; how many of 100 pages claim a change where nothing changed; how
many real changes are seen; and how many swimmers at a limit are called faulty.

Usage: check-plus-minus.py [SWIMS [coverage]]     swims for each figure, 400 when not given;
coverage: only how many values lie within plus-minus
"""

from __future__ import annotations

import random
import sys
from collections import Counter
from collections.abc import Iterable
from pathlib import Path

from norvik.core.strokes.names import StrokeName

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from tests.core.test_certainty import values  # noqa: E402
from tests.simulated import Swimmer, breaststroke, crawl, marked  # noqa: E402

from norvik.catalogue import load  # noqa: E402
from norvik.core.followup.change import compare  # noqa: E402
from norvik.core.followup.comparable import values_in_time  # noqa: E402
from norvik.core.followup.speed_steps import rows, step_of  # noqa: E402
from norvik.core.judging.findings import judge  # noqa: E402
from norvik.core.time.compute import compute_timing  # noqa: E402
from norvik.core.time.marker import DEFAULT_MARKER, Marker, MarkError  # noqa: E402
from norvik.core.time.plus_minus import k95  # noqa: E402

CHANGED = ("better", "worse", "changed")
#: Half of all marks are a frame off.
A_FRAME = Marker({family: MarkError(spread_frames=0.71) for family in DEFAULT_MARKER.errors})


def coverage(stroke: StrokeName, fps: float, swims: int, rng: random.Random) -> None:
    inside: Counter[str] = Counter()
    tried: Counter[str] = Counter()
    for _ in range(swims):
        if stroke == "breaststroke":
            swim = breaststroke(rng, rng.uniform(1.2, 2.0), rng.choice([4, 6, 9]))
        else:
            swim = crawl(Swimmer(cycle=rng.uniform(1.2, 2.2), cycles=rng.choice([4, 6, 9])), rng)
        exact = values(compute_timing(swim.marks, stroke))
        exact["cycles.time_s.own_sd"] = exact.get("cycles.time_s.sd", 0.0)
        exact["cycles.time_s.own_cv_pct"] = exact.get("cycles.time_s.cv_pct", 0.0)
        timing = compute_timing(marked(swim, DEFAULT_MARKER, fps, rng), stroke, 1 / fps)
        found = values(timing)
        for path, sure in timing.certainty.items():
            kind = path.split(".")[-1] if path.startswith("walls") else path
            if path in exact and path in found and path != "cycles.drift_pct_per_min":
                tried[f"clip {kind}"] += 1
                inside[f"clip {kind}"] += abs(found[path] - exact[path]) <= 2 * sure.clip
            own, true = sure.swimmer, swim.truth.get(path)
            if own is not None and true is not None and path in found:
                tried[f"swimmer {kind}"] += 1
                inside[f"swimmer {kind}"] += abs(found[path] - true) <= k95(own) * own.u
    shares = {k: 100 * inside[k] / n for k, n in tried.items() if n >= swims / 2}
    for which in ("clip", "swimmer"):
        mine = {k.split(" ")[1]: v for k, v in shares.items() if k.startswith(which)}
        most = max(mine, key=lambda k: mine[k])
        least = min(mine, key=lambda k: mine[k])
        mean = sum(mine.values()) / len(mine)
        outside = [f"{k} {v:.1f}" for k, v in sorted(mine.items()) if not 93 <= v <= 97]
        print(f"  {stroke}, {fps:>3.0f} frames/s, {which:<8} mean {mean:.1f}, "
              f"least {mine[least]:.1f} ({least}), "
              f"most {mine[most]:.1f} ({most}), {sum(93 <= v <= 97 for v in mine.values())} of "
              f"{len(mine)} within 93 to 97; outside: {', '.join(outside) or 'none'}",
              flush=True)  # fmt: skip


def pages(one: Swimmer, other: Swimmer, marker: Marker, fps: float, focus: Iterable[str],
          swims: int, rng: random.Random) -> tuple[float, Counter[str]]:  # fmt: skip
    """(pages of 100 that show a change, lines of 100 pages)."""
    tables, shown, lines = load("freestyle"), 0, Counter[str]()
    steady = Marker({k: e.without_habit for k, e in marker.errors.items()})
    for _ in range(swims):
        known = [
            values_in_time(
                compute_timing(marked(crawl(s, rng), steady, fps, rng), "freestyle", 1 / fps,
                               25.0, marker),
                tables, {},
            )
            for s in (one, other)
        ]  # fmt: skip
        found = [c for c in compare(known[0], known[1], set(focus)) if c.verdict in CHANGED]
        shown += bool(found)
        lines.update(c.after.what for c in found)
    return 100 * shown / swims, Counter({k: round(100 * n / swims) for k, n in lines.items()})


def trends(swims: int, rng: random.Random) -> float:
    """Tables of 100 that show a trend, of a swimmer who swims alike at both steps."""
    steady, shown = Marker({k: e.without_habit for k, e in DEFAULT_MARKER.errors.items()}), 0
    for _ in range(swims):
        steps = [
            step_of(n, compute_timing(
                marked(crawl(Swimmer(walls=False, cycles=4), rng), steady, 60, rng),
                "freestyle", 1 / 60, None, DEFAULT_MARKER), 80.0)
            for n in range(2)
        ]  # fmt: skip
        table = rows([s for s in steps if s is not None])
        shown += any(row.trend in ("rises", "falls") for row in table)
    return 100 * shown / swims


def at_limit(band: str, swimmer: Swimmer, marker: Marker, swims: int, rng: random.Random) -> str:
    limits = load("freestyle").for_level("improver").band(band, {}, swimmer.cycle)
    said: Counter[str] = Counter()
    for _ in range(swims):
        swim = marked(crawl(swimmer, rng), marker, 60, rng)
        judged = judge(limits, compute_timing(swim, "freestyle", 1 / 60, 25.0, marker))
        if judged is not None:
            said[judged.verdict] += 1
    return ", ".join(f"{v} {100 * n / swims:.0f}" for v, n in said.most_common())


def main() -> None:
    swims, rng = int(sys.argv[1]) if len(sys.argv) > 1 else 400, random.Random(1)
    print("Of 100 values within plus-minus, the shipped marker:")
    for stroke in ("freestyle", "breaststroke"):
        for fps in (25.0, 60.0, 120.0, 240.0):
            coverage(stroke, fps, swims, rng)
    if sys.argv[2:] == ["coverage"]:
        return
    print("Of 100 pages that show a change where nothing changed:")
    for fps in (60.0, 240.0):
        for name, s in (("no walls, 6 cycles an arm", Swimmer(walls=False, cycles=3)),
                        ("no walls, 12 cycles an arm", Swimmer(walls=False)),
                        ("two lengths of 3", Swimmer(cycles=3)), ("two lengths of 6", Swimmer()),
                        ("front quadrant near 0", Swimmer(shares=(0.2, 0.1, 0.4)))):  # fmt: skip
            share, lines = pages(s, s, A_FRAME, fps, (), swims, rng)
            print(f"  {stroke}, {fps:>3.0f} frames/s, {name}: {share:.1f}  {dict(lines)}")
    print(f"Of 100 tables of speed steps that show a trend where there is none: "
          f"{trends(swims, rng):.1f}")  # fmt: skip
    print("Of 100 real changes seen, 60 frames/s, two lengths of 6 cycles an arm:")
    usual = Swimmer()
    for name, changed, what, focus in (
        ("rate +2 %", Swimmer(cycle=usual.cycle / 1.02), "rate", ()),
        ("rate +3 %", Swimmer(cycle=usual.cycle / 1.03), "rate", ()),
        ("entry share +2 points", Swimmer(shares=(0.22, 0.14, 0.38)), "entry-share", ()),
        ("the same, worked on", Swimmer(shares=(0.22, 0.14, 0.38)), "entry-share",
         ("entry-share", "hand-over")),
        ("head lead +0.05 s, worked on", Swimmer(head_lead=0.15), "head-lead", ("head-lead",)),
    ):  # fmt: skip
        _, lines = pages(usual, changed, A_FRAME, 60, focus, swims, rng)
        print(f"  {name}: {lines[what]}")
    print("Of 100 swimmers exactly at a limit, 60 frames/s:")
    for band, s in (("exhale-share", Swimmer(exhale=0.30, walls=False)),
                    ("breath-return", Swimmer(back_before=0.0)),
                    ("head-lead", Swimmer(head_lead=0.25)), ("hand-rhythm", Swimmer(lag=0.53)),
                    ("reach-share", Swimmer(shares=(0.07, 0.2, 0.45)))):  # fmt: skip
        print(f"  {band}: {at_limit(band, s, A_FRAME, swims, rng)}")


if __name__ == "__main__":
    main()
