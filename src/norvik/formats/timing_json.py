"""The object that `norvik timing --json` prints. Unrounded; null is unknown and has a reason."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable, Iterator
from typing import Any

from norvik.core.time.plus_minus import k95
from norvik.core.time.quantities import QUANTITIES
from norvik.core.time.timing import Timing
from norvik.formats.events_csv import BadRow

#: Grows when a field changes its meaning.
VERSION = 1
#: Fields of the timing that are no value of their own, or are written in another form.
NOT_WRITTEN = (
    "resolved", "pool_m", "problems", "reasons", "uncertainty", "certainty", "marking", "readings",
)  # fmt: skip


def timing_object(timing: Timing, bad_rows: Iterable[BadRow] = ()) -> dict[str, Any]:
    """Timing as plain dicts and lists. problems: rows that cannot be read and marks left out."""
    plain: dict[str, Any] = {}
    for field in dataclasses.fields(timing):
        if field.name not in NOT_WRITTEN:
            plain[field.name] = _plain(getattr(timing, field.name))
    problems = [{"row": b.row, "reason": b.reason} for b in bad_rows]
    problems += [{"row": p.mark.key, "reason": p.reason} for p in timing.problems]
    plain["quantities"] = _quantities(timing)
    reasons = dict(timing.reasons)
    for path in _nulls(plain):
        if not _explained(path, reasons):
            reasons[path] = (
                "needs two values"
                if path.endswith(".sd_s")
                else f"not a quantity of {timing.stroke} marked this way"
            )
    plain["problems"] = sorted(problems, key=lambda p: p["row"] or 0)
    plain["reasons"] = reasons
    plain["uncertainty"] = plain["u_clip"] = dict(timing.uncertainty)
    own = {path: c.swimmer for path, c in timing.certainty.items()}
    plain["u_swimmer"] = {path: o.u for path, o in own.items() if o is not None}
    plain["dof"] = {path: o.dof for path, o in own.items() if o is not None}
    plain["k95"] = {path: k95(o) if o is not None else 2.0 for path, o in own.items()}
    plain["version"] = VERSION
    return plain


def _quantities(timing: Timing) -> dict[str, Any]:
    """Every declared quantity of the stroke that the marks tell, by its id."""
    found = {}
    for q in QUANTITIES.values():
        reading = q.read(timing) if timing.stroke in q.strokes else None
        if reading is not None:
            found[q.id] = {
                "name": q.name, "unit": q.unit, "value": reading.value,
                "u": None if q.counted else reading.u, "n": len(reading.occurrences),
            }  # fmt: skip
    return found


def _plain(value: Any) -> Any:
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        return {f.name: _plain(getattr(value, f.name)) for f in dataclasses.fields(value)}
    if isinstance(value, dict):
        return {key: _plain(item) for key, item in value.items()}
    if isinstance(value, (list, tuple)):
        return [_plain(item) for item in value]
    return value


def _nulls(value: Any, path: str = "") -> Iterator[str]:
    """Dotted paths of everything that is null."""
    if value is None:
        yield path
    elif isinstance(value, dict):
        for key, item in value.items():
            yield from _nulls(item, f"{path}.{key}" if path else key)
    elif isinstance(value, list):
        for n, item in enumerate(value):
            yield from _nulls(item, f"{path}.{n}")


def _explained(path: str, reasons: dict[str, str]) -> bool:
    parts = path.split(".")
    return any(".".join(parts[:n]) in reasons for n in range(1, len(parts) + 1))
