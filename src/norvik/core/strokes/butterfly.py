"""Butterfly: one arm lane for both arms, cycle from entry to next entry.

catch: the hands stop spreading. shoulder: they pass under the shoulders. The legs beat twice a
cycle, first as the hands enter, again as they finish the push.
"""

from norvik.core.strokes.rules import CRAWL_EVENTS, CRAWL_PHASES, CRAWL_PHASES4, StrokeRules

BUTTERFLY = StrokeRules(
    name="butterfly",
    arms=("both",),
    arm_events=CRAWL_EVENTS,
    phases=CRAWL_PHASES,
    phases4=CRAWL_PHASES4,
    release="exit",
    reach="entry",
)
