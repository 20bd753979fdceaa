"""agreement.csv: how well two looks at one clip agree, a line for each thing compared."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable

from norvik.core.followup.agreement import Kappa, Limits, Reliability
from norvik.formats.cells import plain_text

COLUMNS = (
    "person", "compared", "of", "unit", "n", "bias", "bias_low", "bias_high", "sd",
    "limit_low", "limit_high", "icc_2_1", "icc_low", "icc_high", "kappa", "kappa_low",
    "kappa_high", "agreed_pct",
)  # fmt: skip


def limits_row(
    person: str, compared: str, of: str, unit: str, limits: Limits, icc: Reliability | None = None
) -> list[object]:
    correlation = (icc.value, *icc.interval) if icc else ("", "", "")
    return [
        plain_text(person), compared, of, unit, limits.n, limits.bias, *limits.bias_interval,
        limits.sd, limits.low, limits.high, *correlation, "", "", "", "",
    ]  # fmt: skip


def kappa_row(person: str, found: Kappa) -> list[object]:
    value = "" if found.value is None else found.value
    interval = found.interval or ("", "")
    return [
        plain_text(person), "ticks", "seen or not", "", found.n, *[""] * 9, value, *interval,
        100 * found.agreed,
    ]  # fmt: skip


def write_agreement(rows: Iterable[list[object]]) -> str:
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    for row in rows:
        writer.writerow([f"{v:.6g}" if isinstance(v, float) else v for v in row])
    return out.getvalue()
