"""Quantities of time, each declared once. One file for each part of swimming they belong to."""

from norvik.core.time.quantities.breaststroke import BREASTSTROKE
from norvik.core.time.quantities.breathing import BREATHING
from norvik.core.time.quantities.butterfly import BUTTERFLY
from norvik.core.time.quantities.coordination import COORDINATION
from norvik.core.time.quantities.kick import KICK
from norvik.core.time.quantities.phases import PHASES
from norvik.core.time.quantities.quantity import TOPICS, Occurrence, Quantity, Reading, Topic
from norvik.core.time.quantities.rate import RATE
from norvik.core.time.quantities.speed import SPEED
from norvik.core.time.quantities.walls import WALLS

#: By id, in the order in which pages list them.
QUANTITIES: dict[str, Quantity] = {
    q.id: q
    for q in (
        *RATE, *PHASES, *COORDINATION, *BREASTSTROKE, *BUTTERFLY, *BREATHING, *KICK, *WALLS, *SPEED,
    )
}  # fmt: skip

__all__ = ["QUANTITIES", "TOPICS", "Occurrence", "Quantity", "Reading", "Topic"]
