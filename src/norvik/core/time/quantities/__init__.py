"""Timing quantities that are judged. One file for each part of swimming that they belong to."""

from norvik.core.time.quantities.breaststroke import BREASTSTROKE
from norvik.core.time.quantities.butterfly import BUTTERFLY
from norvik.core.time.quantities.crawl import CRAWL
from norvik.core.time.quantities.quantity import Occurrence, Quantity, Reading
from norvik.core.time.quantities.walls import WALLS

QUANTITIES: dict[str, Quantity] = {q.id: q for q in (*CRAWL, *BREASTSTROKE, *BUTTERFLY, *WALLS)}

__all__ = ["QUANTITIES", "Occurrence", "Quantity", "Reading"]
