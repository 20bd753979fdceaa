"""What a pool test says: its figure, a judgement in words, and whether it changed.

Times are taken by hand: each has a standard uncertainty of HAND_S, and a judgement counts only
beyond twice what follows from it.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from statistics import fmean, median

from norvik.core.errors import PoolTestError
from norvik.core.followup.change import ComparableValue, Comparison, compare_value
from norvik.core.judging.coaching_model import Band
from norvik.core.prescription.pool_tests.offered import Entry, PoolTest
from norvik.core.time.plus_minus import Own

#: Own choice: standard uncertainty of a time taken with a watch in the hand, in seconds.
HAND_S = 0.15
#: All-out times of one swimmer vary by 1 to 2 % from day to day (recalled): share of a time that is
#: added to its standard uncertainty before two days are called different.
DAY_SHARE = 0.012
#: Seconds for 100 with the arms over seconds for 50 kick: balanced in between (common practice).
BALANCED = (1.5, 1.7)
#: Single lengths count as one pace within so many seconds (common practice).
ONE_PACE_S = 1.0
#: Own choice: a last kick that is slower than the first by more than this share fades.
FADES = 0.03
#: Own choice: what is usual is known from so many days on, and from so many at most.
USUAL_FROM, USUAL_MOST = 3, 6
#: Own choice: so many strokes more than usual mean that something is off today.
OFF_BY = 1.0
#: No test goes on for longer, or takes more strokes in one length.
_MOST_S, _MOST_STROKES, _MOST_REPEATS = 1800.0, 200, 20

#: What was written down: values by the id of their entry.
Entries = Mapping[str, Sequence[float]]


@dataclass(frozen=True, slots=True)
class EarlierTest:
    """An earlier test of the same kind, stroke and pool."""

    entries: Entries
    rested: bool = True


@dataclass(frozen=True, slots=True)
class Outcome:
    """What a pool test came to.

    figure: what is followed from day to day, in `unit`, with standard uncertainty u (None: a
    count). day_u: what it varies by from day to day, which counts where two days are compared.
    good: its good range, or None. verdict: one word of VERDICTS. says: sentences, the most
    important one first. weaker: "arms" or "legs" where drills for them help. changed: against the
    test before, None without a comparable one.
    """

    figure: float
    unit: str
    digits: int
    u: float | None
    good: tuple[float, float] | None
    verdict: str
    says: tuple[str, ...]
    weaker: str = ""
    changed: Comparison | None = None
    day_u: float = 0.0


VERDICTS = (
    "balanced",
    "arms",
    "legs",
    "open",
    "fewer",
    "no fewer",
    "usual",
    "off",
    "even",
    "fades",
)


def read_entries(test: PoolTest, entries: Entries) -> dict[str, tuple[float, ...]]:
    """What was written down, checked. Raises PoolTestError with a sentence for the first fault."""
    made = {e.id: tuple(float(v) for v in entries.get(e.id, ())) for e in test.entries}
    for entry in test.entries:
        _check(entry, made[entry.id])
    counts = {len(made[e.id]) for e in test.entries if e.many}
    if len(counts) > 1:
        names = " and ".join(e.label.lower() for e in test.entries if e.many)
        raise PoolTestError(f"There must be as many {names}: one pair for each length.")
    return made


def _check(entry: Entry, values: Sequence[float]) -> None:
    label, least = entry.label, 0 if entry.optional else entry.least
    if len(values) < least:
        needed = "is missing" if least == 1 else f"needs at least {least} values"
        raise PoolTestError(f"{label}: {needed}.")
    if len(values) > (_MOST_REPEATS if entry.many else 1):
        most = f"at most {_MOST_REPEATS} values are" if entry.many else "one value is"
        raise PoolTestError(f"{label}: {most} taken.")
    for value in values:
        if entry.kind == "strokes":
            if not (value.is_integer() and 1 <= value <= _MOST_STROKES):
                raise PoolTestError(f"{label}: whole numbers from 1 to {_MOST_STROKES} are taken.")
        elif not (math.isfinite(value) and 1 <= value <= _MOST_S):
            raise PoolTestError(f"{label}: {value:g} s lies outside 1 to {_MOST_S:.0f} s.")


def evaluate(
    test: PoolTest, entries: Entries, earlier: Sequence[EarlierTest] = (), rested: bool = True
) -> Outcome:
    """Judge a test. earlier: oldest first. Raises PoolTestError for entries that cannot be."""
    read = read_entries(test, entries)
    made = _JUDGE[test.id](read, earlier)
    if test.rested and not rested:
        said = "Not rested: repeat it after an easy week before anything is built on it."
        return replace(made, says=(said, *made.says), weaker="")
    return made


def pull_kick(read: Entries, earlier: Sequence[EarlierTest]) -> Outcome:
    """Worked: 96.0 s over 60.0 s is 1.60, balanced; 108 over 60 is 1.80, the arms are weaker."""
    pull, kick = read["pull"][0], read["kick"][0]
    ratio = pull / kick
    u = ratio * math.hypot(HAND_S / pull, HAND_S / kick)
    low, high = BALANCED
    weaker, verdict = "", "balanced"
    if min(abs(ratio - low), abs(ratio - high)) <= 2 * u:
        verdict, says = "open", f"So near the limits of {low} and {high} that a watch can't tell."
    elif ratio > high:
        weaker = verdict = "arms"
        says = f"Above {high}: the arms are the weaker part. Work on the hold."
    elif ratio < low:
        weaker = verdict = "legs"
        says = f"Below {low}: the legs are the weaker part. Work on the kick."
    else:
        says = f"Balanced: arms and legs go together from {low} to {high}."
    made = Outcome(ratio, "", 2, u, BALANCED, verdict, (says,), weaker,
                   day_u=ratio * DAY_SHARE * math.sqrt(2))  # fmt: skip
    rested = [t for t in earlier if t.rested]
    if not rested:
        return made
    before = pull_kick(rested[-1].entries, ())
    parts = [
        _faster(name, rested[-1].entries[part][0], read[part][0])
        for part, name in (("pull", "The arms"), ("kick", "The legs"))
    ]
    changed = _change(before, made, Band("", "", "", good_from=low, good_to=high))
    return replace(made, says=(*made.says, *parts), changed=changed)


def stroke_count(read: Entries, earlier: Sequence[EarlierTest]) -> Outcome:
    """Fewest strokes of the lengths swum at the pace of the first one, within ONE_PACE_S.

    Worked: 21 strokes in 22.0 s, 18 in 22.6, 16 in 22.9, 15 in 24.1: from 21 to 16; the 15 were
    slower by 2.1 s and do not count.
    """
    rows = list(zip(read["strokes"], read["seconds"], strict=True))
    first = rows[0]
    at_pace = [r for r in rows if abs(r[1] - first[1]) <= ONE_PACE_S]
    best = min(at_pace)
    says = []
    if best[0] < first[0]:
        verdict = "fewer"
        says.append(
            f"From {first[0]:.0f} strokes in {first[1]:.1f} s to {best[0]:.0f} in {best[1]:.1f} s."
        )
    else:
        verdict = "no fewer"
        says.append(f"No length at this pace took fewer than {first[0]:.0f} strokes.")
    off = len(rows) - len(at_pace)
    if off:
        lengths = "1 length is" if off == 1 else f"{off} lengths are"
        says.append(
            f"{lengths} more than {ONE_PACE_S:.0f} s off the pace of the first; not counted."
        )
    made = Outcome(best[0], "strokes", 0, None, None, verdict, tuple(says))
    same_pace = [t for t in earlier if abs(t.entries["seconds"][0] - first[1]) <= ONE_PACE_S]
    if earlier and not same_pace:
        return replace(made, says=(*made.says, "No earlier test was swum at this pace."))
    if same_pace:
        before = stroke_count(same_pace[-1].entries, ())
        return replace(made, changed=_change(before, made, _FEWER))
    return made


def fly_count(read: Entries, earlier: Sequence[EarlierTest]) -> Outcome:
    """Mean count to the far wall against the median of the days before."""
    value = fmean(read["strokes"])
    kicks = tuple(read.get("kicks", ()))
    # Another number of kicks off the wall leaves another number of strokes: another thing.
    same = [t for t in earlier if tuple(t.entries.get("kicks", ())) == kicks]
    all_days = [fmean(t.entries["strokes"]) for t in same]
    days = all_days[-USUAL_MOST:]
    if len(days) < USUAL_FROM:
        left = USUAL_FROM - len(days)
        walls = f" with {kicks[0]:.0f} kicks off the wall" if kicks else ""
        says = f"What is usual{walls} is known after {left} more {'day' if left == 1 else 'days'}."
        return Outcome(value, "strokes", 1, None, None, "open", (says,))
    usual = median(days)
    good = (min(days), usual + OFF_BY)
    if value - usual >= OFF_BY:
        says = (
            f"{value - usual:.1f} more than the usual {usual:.1f}: something is off today. Ask how "
            "the swimmer feels before the hard part."
        )
        return Outcome(value, "strokes", 1, None, good, "off", (says,))
    fewer = " Fewer than ever so far." if value < min(all_days) else ""
    walls = f" with {kicks[0]:.0f} kicks off the wall" if kicks else ""
    says = f"As usual{walls}: {usual:.1f} in the middle of {len(days)} days.{fewer}"
    return Outcome(value, "strokes", 1, None, good, "usual", (says,))


def kick_set(read: Entries, earlier: Sequence[EarlierTest]) -> Outcome:
    """Mean of the repeats, and how much slower the last is than the first.

    Worked: 100, 102 and 106 s: mean 102.7 s; the last is 6.0 s (6.0 %) slower: it fades.
    """
    times = read["seconds"]
    fall = times[-1] - times[0]
    fades = fall > max(FADES * times[0], 2 * HAND_S * math.sqrt(2))
    share = 100 * fall / times[0]
    says = [
        f"The last 100 is {fall:.1f} s ({share:.1f} %) slower than the first: the kick fades."
        if fades
        else f"Even: the last 100 is {abs(fall):.1f} s off the first."
    ]
    if not fades and fall < -FADES * times[0]:
        says = [f"The last 100 is {-fall:.1f} s faster than the first: there was more in it."]
    send_off = read.get("send_off", ())
    if send_off:
        late = [n for n, t in enumerate(times, 1) if t > send_off[0]]
        rest = send_off[0] - fmean(times)
        says.append(
            f"Not inside the send-off: number {', '.join(map(str, late))}. Give more time."
            if late
            else f"{rest:.0f} s of rest on average on a send-off of {send_off[0]:.0f} s."
        )
    u = HAND_S / math.sqrt(len(times))
    made = Outcome(fmean(times), "s", 1, u, None, "fades" if fades else "even", tuple(says),
                   day_u=DAY_SHARE * fmean(times))  # fmt: skip
    same = [
        t for t in earlier
        if len(t.entries["seconds"]) == len(times)
        and tuple(t.entries.get("send_off", ())) == tuple(send_off)
    ]  # fmt: skip
    if earlier and not same:
        return replace(
            made, says=(*made.says, "No earlier set had as many repeats and this send-off.")
        )
    if same:
        return replace(made, changed=_change(kick_set(same[-1].entries, ()), made, _FEWER))
    return made


_JUDGE: dict[str, Callable[[Entries, Sequence[EarlierTest]], Outcome]] = {
    "pull-kick": pull_kick,
    "fly-333-count": fly_count,
    "stroke-count": stroke_count,
    "kick-set": kick_set,
}
#: Less is better, whatever the number is.
_FEWER = Band("", "", "", good_to=0.0)
#: Own choice: standard uncertainty of a count, so that one stroke more or less is no change.
_COUNT_U = 0.5


def _change(before: Outcome, after: Outcome, band: Band) -> Comparison:
    def known(o: Outcome) -> ComparableValue:
        u = math.hypot(_COUNT_U if o.u is None else o.u, o.day_u)
        # What a day makes of it is known from many swimmers, not from the spread of one test.
        return ComparableValue("", "", "", o.unit, o.digits, o.figure, Own(u, math.inf), band=band)

    return compare_value(known(before), known(after))


def _faster(name: str, before: float, after: float) -> str:
    """One part's time against the test before, in words."""
    least = 2 * math.hypot(math.hypot(HAND_S, HAND_S), DAY_SHARE * before, DAY_SHARE * after)
    if abs(after - before) <= least:
        return f"{name} are as fast as before, within what watch and day allow."
    word = "faster" if after < before else "slower"
    return f"{name} are {abs(after - before):.1f} s {word} than before."
