"""Timing quantities that are judged. One file for each part of swimming that they belong to."""

from norvik.core.quantities.breaststroke import BREASTSTROKE
from norvik.core.quantities.butterfly import BUTTERFLY
from norvik.core.quantities.crawl import CRAWL
from norvik.core.quantities.reading import Occurrence, Quantity, Reading
from norvik.core.quantities.walls import WALLS

QUANTITIES: dict[str, Quantity] = {q.id: q for q in (*CRAWL, *BREASTSTROKE, *BUTTERFLY, *WALLS)}

__all__ = ["QUANTITIES", "Occurrence", "Quantity", "Reading"]
