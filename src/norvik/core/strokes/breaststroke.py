"""Breaststroke: one arm lane and one leg lane, cycle from out to next out.

out: the hands part from the stretched position. in: at their widest they turn inward. shoot:
together under the chin they move forward. long: the arms are straight again.
heels: the heels begin to rise. set: feet turned out, the push begins. close: feet together.
"""

from norvik.core.strokes.rules import Phase, StrokeRules

BREASTSTROKE = StrokeRules(
    name="breaststroke",
    arms=("both",),
    arm_events=("out", "in", "shoot", "long"),
    phases=(
        Phase("catch", "out", "in"),
        Phase("pull", "in", "shoot"),
        Phase("recovery", "shoot", "long"),
        Phase("entry", "long", "out"),
    ),
    phases4=(),
    release="shoot",
    reach="long",
    leg_cycle=("heels", "set", "close"),
    leg_phases=(
        Phase("heels", "heels", "set"),
        Phase("kick", "set", "close"),
        Phase("glide", "close", "heels"),
    ),
)
