"""Freestyle: an arm lane for each side, cycle from entry to next entry.

entry: fingertips touch the water. catch: the reach ends, fingers tip down and the elbow begins
to bend. press: hand and forearm face back and begin to move back against the water. shoulder:
the hand passes under the shoulder (optional). exit: the hand leaves the water.
"""

from norvik.core.strokes.rules import CRAWL_EVENTS, CRAWL_PHASES, CRAWL_PHASES4, StrokeRules

FREESTYLE = StrokeRules(
    name="freestyle",
    arms=("left", "right"),
    arm_events=CRAWL_EVENTS,
    phases=CRAWL_PHASES,
    phases4=CRAWL_PHASES4,
    release="exit",
    reach="entry",
)
