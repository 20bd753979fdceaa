"""Backstroke: an arm lane for each side, cycle from entry to next entry.

entry: the little finger touches the water. catch: the hand begins to turn and sink into the hold.
press: hand and forearm begin to move toward the feet. shoulder: the hand is level with the
shoulder (optional). push-end: the hand has pushed down beside the thigh and stops driving
(optional; where it is marked the coordination index ends there, as published). exit: the hand
leaves the water, thumb first.
"""

from norvik.core.strokes.rules import CRAWL_EVENTS, CRAWL_PHASES, CRAWL_PHASES4, StrokeRules

BACKSTROKE = StrokeRules(
    name="backstroke",
    arms=("left", "right"),
    arm_events=(*CRAWL_EVENTS[:-1], "push-end", CRAWL_EVENTS[-1]),
    phases=CRAWL_PHASES,
    phases4=CRAWL_PHASES4,
    release="exit",
    reach="entry",
)
