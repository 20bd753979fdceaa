"""How far reading was off, as tables: one event, or one measure, in one view a row."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Mapping, Sequence

from norvik.core.frame.measures import MEASURES
from norvik.core.reading.trust import Trust

COLUMNS = (
    "view", "event", "corrections", "bias_s", "spread_s", "within_0.08_s", "outside_u95",
    "proposed",
)  # fmt: skip
#: What each column means, for the second sheet of a workbook.
ABOUT = {
    "corrections": "marks that were corrected or confirmed one by one",
    "bias_s": "median of mark minus proposal, in seconds",
    "spread_s": "standard deviation about zero, in seconds",
    "within_0.08_s": "share of corrections within 0.08 s",
    "outside_u95": "share outside of the plus-minus that was shown",
    "proposed": "no: proposals of this event are switched off in this view",
}


MEASURE_COLUMNS = (
    "view", "measure", "unit", "corrections", "bias", "spread", "outside_u95", "proposed",
)  # fmt: skip
ABOUT_MEASURES = {
    "corrections": "proposed measures that a coach confirmed, or moved and confirmed",
    "bias": "median of the coach's value minus the proposed one, in the unit",
    "spread": "standard deviation about zero, in the unit",
    "outside_u95": "share outside of the plus-minus that was shown",
    "proposed": "no: this measure is no longer proposed in this view",
}


def write_measure_trust(trust: Mapping[tuple[str, str], Trust]) -> str:
    """trust: by view and the measure's id."""
    return _table(MEASURE_COLUMNS, (
        (view, measure, MEASURES[measure].unit, t.count, f"{t.bias:.4f}", f"{t.spread:.4f}",
         *_standing(t))
        for (view, measure), t in trust.items()
    ))  # fmt: skip


def write_trust(trust: Mapping[tuple[str, str], Trust]) -> str:
    """trust: by view and event."""
    return _table(COLUMNS, (
        (view, event, t.count, f"{t.bias:.4f}", f"{t.spread:.4f}", f"{t.close:.3f}", *_standing(t))
        for (view, event), t in trust.items()
    ))  # fmt: skip


def _standing(t: Trust) -> tuple[str, str]:
    """The last two columns: how often the plus-minus did not hold, and whether it is proposed."""
    return f"{t.outside:.3f}", "no" if t.off else "yes"


def _table(columns: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    text = io.StringIO(newline="")
    writer = csv.writer(text)
    writer.writerow(columns)
    writer.writerows(rows)
    return text.getvalue()
