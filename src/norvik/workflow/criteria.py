"""By which schools and which level a clip is judged: those of its swimmer."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass, field

from norvik.catalogue.loader import frame_band, whose
from norvik.core.judging.coaching_model import Band
from norvik.core.strokes.names import StrokeName
from norvik.store import swimmers
from norvik.store.clips import Clip


@dataclass(frozen=True)
class Criteria:
    """schools: question to school. level: of LEVELS; empty where nobody is named yet."""

    stroke: StrokeName
    schools: dict[str, str] = field(default_factory=dict)
    level: str = ""

    def band(self, measure: str) -> Band | None:
        """The limits of a measure on the frame; None where there are none."""
        return frame_band(measure, self.stroke, self.schools, self.level)

    def whose(self, band: Band) -> str:
        """School and level that a band holds for, in words."""
        return whose(band, self.schools, self.level)


def criteria_of(connection: sqlite3.Connection, clip: Clip) -> Criteria:
    if clip.swimmer_id is None:
        return Criteria(clip.stroke)
    swimmer = swimmers.by_id(connection, clip.swimmer_id)
    return Criteria(clip.stroke, swimmer.schools, swimmer.level)
