"""How far reading was off, as a table: one event in one view a row."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping

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


def write_trust(trust: Mapping[tuple[str, str], Trust]) -> str:
    text = io.StringIO(newline="")
    writer = csv.writer(text)
    writer.writerow(COLUMNS)
    for (view, event), t in trust.items():
        writer.writerow(
            (
                view, event, t.count, f"{t.bias_s:.4f}", f"{t.spread_s:.4f}", f"{t.close:.3f}",
                f"{t.outside:.3f}", "no" if t.off else "yes",
            )
        )  # fmt: skip
    return text.getvalue()
