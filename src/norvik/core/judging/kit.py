"""Kit that is worn while filmed: what it changes of a stroke, and so is not judged there."""

from __future__ import annotations

from collections.abc import Iterable

from norvik.core.judging.coaching_model import Catalogue, Fault
from norvik.core.judging.on_frame import Rule

#: Parts of the stroke that each piece of kit changes (common practice): a buoy or wetsuit carries
#: hips and legs, a buoy also steadies the roll; fins and a band change the kick and with it line
#: and rate; paddles change how the hand enters, holds and how fast it comes round; a snorkel takes
#: the breath out of the stroke.
CHANGES: dict[str, frozenset[str]] = {
    "buoy": frozenset(("legs", "body", "rotation")),
    "wetsuit": frozenset(("legs", "body")),
    "fins": frozenset(("legs", "body", "timing")),
    "band": frozenset(("legs", "body")),
    "paddles": frozenset(("entry", "catch", "pull", "timing")),
    "snorkel": frozenset(("head", "breathing")),
}
#: What kit changes at a wall: fins the kicks, a buoy and a band the push-off with them.
_AT_WALLS = frozenset(("fins", "buoy", "band"))


def changed_by(kit: Iterable[str]) -> frozenset[str]:
    """Parts of the stroke that are not judged by numbers while this is worn."""
    worn = set(kit)
    parts = frozenset[str]().union(*(CHANGES.get(k, frozenset()) for k in worn))
    return parts | {"wall"} if worn & _AT_WALLS else parts


def in_the_way(fault: Fault, kit: Iterable[str]) -> tuple[str, ...]:
    """The pieces of kit that keep a clip from telling of a fault, in the order given."""
    return tuple(k for k in kit if fault.part in changed_by((k,)))


def quantities_changed(catalogue: Catalogue, kit: Iterable[str]) -> frozenset[str]:
    """Quantities and measures that say nothing good or bad while this is worn.

    They are those that show faults of a part that the kit changes.
    """
    parts = changed_by(kit)
    if not parts:
        return frozenset()
    of_band = {b.id: b.quantity for b in catalogue.bands}
    found: set[str] = set()
    for fault in catalogue.faults.values():
        if fault.part in parts:
            found |= {of_band[b] for b in fault.bands}
            found |= {Rule.read(text).what for text in fault.shown_by}
    return frozenset(found)
