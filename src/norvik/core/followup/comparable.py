"""What of a clip can be compared with another: quantities of time, measures on its frames."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from dataclasses import replace

from norvik.core.followup.change import ComparableValue
from norvik.core.judging.coaching_model import Band, Catalogue, Fault
from norvik.core.judging.on_frame import OnFrame, Rule
from norvik.core.time.quantities import QUANTITIES, Reading
from norvik.core.time.quantities.rate import rate_unit, stroke_rate
from norvik.core.time.timing import Timing


def shown_by(fault: Fault, catalogue: Catalogue, schools: dict[str, str]) -> set[str]:
    """Ids of the quantities, measures and choices that show a fault; empty for the eye alone."""
    found = {catalogue.band(b, schools).quantity for b in fault.bands}
    return found | {Rule.read(text).what for text in fault.shown_by}


def values_in_time(
    timing: Timing,
    catalogue: Catalogue,
    schools: dict[str, str],
    worked_on: Iterable[Fault] = (),
    only: Collection[str] | None = None,
) -> list[ComparableValue]:
    """What of the marks of two clips can be compared.

    worked_on: faults whose own limits say what is better; a quantity may have several, for too much
    and for too little. only: of these ids alone, if given.
    """
    own = {catalogue.band(b, schools).quantity: b for f in worked_on for b in f.bands}
    found = []
    rate = stroke_rate(timing) if only is None or "rate" in only else None
    if rate is not None:
        found.append(_value("rate", "Stroke rate", rate_unit(timing), 1, rate))
    for q in QUANTITIES.values():
        if (
            not q.compared
            or timing.stroke not in q.strokes
            or (only is not None and q.id not in only)
        ):
            continue
        reading = q.of(timing)
        if reading is not None:
            band = _band_of(q.id, catalogue, schools, own.get(q.id))
            found.append(_value(q.id, q.name, q.unit, q.digits, reading, band))
    return found


def values_on_frame(
    on_frame: Iterable[OnFrame], only: Collection[str] | None = None
) -> list[ComparableValue]:
    """Of what was measured on the frames, each side by itself; of these ids alone, if given."""
    return [
        replace(_value(t.what, t.name, t.unit, t.digits, t.reading, t.band), side=t.side)
        for t in on_frame
        if not t.chosen and (only is None or t.what in only)
    ]


def _value(
    what: str, name: str, unit: str, digits: int, reading: Reading, band: Band | None = None
) -> ComparableValue:
    singles = tuple(o.value for o in reading.occurrences)
    certainty = reading.certainty
    between = certainty.between_clips if certainty else None
    return ComparableValue(
        what, "", name, unit, digits, reading.value, between, reading.hits, singles, band,
        reading.own,
    )  # fmt: skip


def _band_of(
    quantity: str, catalogue: Catalogue, schools: dict[str, str], own: str | None
) -> Band | None:
    """The band of the fault that was worked on, else of all that the quantity has.

    What is good by each of them is good.
    """
    ids = list(dict.fromkeys(b.id for b in catalogue.bands if b.quantity == quantity))
    if not ids:
        return None
    if own is not None:
        return catalogue.band(own, schools)
    bands = [catalogue.band(i, schools) for i in ids]
    return bands[0] if len(bands) == 1 else _both(bands)


def _both(bands: Sequence[Band]) -> Band:
    """One band with the narrowest good range of several."""
    lows = [b.good_from for b in bands if b.good_from is not None]
    highs = [b.good_to for b in bands if b.good_to is not None]
    return replace(bands[0], good_from=max(lows, default=None), good_to=min(highs, default=None))
