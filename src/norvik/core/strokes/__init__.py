"""The four strokes: which lanes, events and phases each has. One file a stroke."""

from norvik.core.strokes.backstroke import BACKSTROKE
from norvik.core.strokes.breaststroke import BREASTSTROKE
from norvik.core.strokes.butterfly import BUTTERFLY
from norvik.core.strokes.freestyle import FREESTYLE
from norvik.core.strokes.names import StrokeName
from norvik.core.strokes.rules import Phase, StrokeRules

STROKES: dict[StrokeName, StrokeRules] = {
    rules.name: rules for rules in (FREESTYLE, BACKSTROKE, BREASTSTROKE, BUTTERFLY)
}

__all__ = ["STROKES", "Phase", "StrokeRules"]
