"""What each event is called, and in one line where its mark belongs. Common practice of the trade.

Words for the coach at the bench; the files of the strokes say the same for whoever computes.
"""

from __future__ import annotations

from norvik.core.strokes.names import StrokeName

#: Token in files and in the database: what a coach calls it.
_NAMES = {
    "entry": "hand entry",
    "catch": "catch",
    "press": "pull",
    "shoulder": "under the shoulder",
    "push-end": "end of the push",
    "exit": "hand exit",
    "out": "outsweep",
    "in": "insweep",
    "shoot": "recovery",
    "long": "full extension",
    "turn": "head turn",
    "air": "mouth out",
    "down": "face back in",
    "bubbles-on": "exhale starts",
    "bubbles-off": "exhale ends",
    "beat": "kick",
    "up": "foot at the top",
    "heels": "heels start up",
    "set": "feet turned out",
    "close": "feet together",
    "signal": "start signal",
    "block": "feet leave the block",
    "water": "hands reach the water",
    "head-down": "head down",
    "planted": "feet planted",
    "push": "push-off",
    "touch": "touch",
    "breakout": "breakout",
    "pass": "pass",
}
#: Where a button has less room than a sentence.
_SHORT = {
    "entry": "entry",
    "shoulder": "under shoulder",
    "push-end": "end of push",
    "exit": "exit",
    "long": "extension",
    "down": "face in",
    "heels": "heels up",
    "set": "feet out",
    "signal": "signal",
    "block": "off the block",
    "water": "hands in water",
}
_CRAWL = {
    "catch": "The reach ends: fingertips tip down and the elbow begins to bend.",
    "press": "The pull starts: hand and forearm face back, and the hand begins to move backward.",
    "shoulder": "The hand passes under the shoulder. F asks for it once one is marked.",
    "exit": "The hand leaves the water.",
}
_ARMS = {
    "freestyle": {
        "entry": "First touch: the lowest point of the hand meets the surface.",
        **_CRAWL,
    },
    "backstroke": {
        "entry": "First touch of the hand, little finger first.",
        **_CRAWL,
        "catch": "The hand turns and sinks into the hold.",
        "shoulder": "The hand is level with the shoulder. F asks for it once one is marked.",
        "push-end": "The push is over: the hand stops driving beside the thigh. Optional.",
        "exit": "The hand leaves the water, thumb side first.",
    },
    "butterfly": {
        "entry": "Both hands touch the water.",
        **_CRAWL,
        "catch": "The hands stop spreading and take hold.",
        "shoulder": "The hands pass under the shoulders. F asks for it once one is marked.",
        "exit": "The hands leave the water.",
    },
    "breaststroke": {
        "out": "Outsweep: the hands part from the stretched position.",
        "in": "Insweep: the hands are at their widest and turn in.",
        "shoot": "Recovery: the hands are together under the chin and go forward.",
        "long": "Full extension: the arms are straight again.",
    },
}
_OTHERS = {
    "turn": "The head starts to turn or lift.",
    "air": "The mouth is clear of the water.",
    "down": "The face is back in.",
    "bubbles-on": "Exhaling under water begins.",
    "bubbles-off": "Exhaling under water ends.",
    "beat": "The foot is at its lowest in a down-beat.",
    "up": "The foot is at its highest.",
    "heels": "The heels start up.",
    "set": "The feet are turned out: the kick starts.",
    "close": "The feet are together: the kick ends.",
    "signal": "The start signal.",
    "block": "The feet leave the block.",
    "water": "The hands reach the water after the start.",
    "head-down": "The head goes down into the tumble.",
    "touch": "Hands, or the feet of a tumble, reach the wall.",
    "planted": "After a hand touch the feet are on the wall.",
    "push": "The feet leave the wall.",
    "breakout": "The head breaks the surface.",
    "pass": "The head passes a known distance.",
}


def event_name(event: str) -> str:
    """What an event is called in a sentence; its own token where it has no name."""
    return _NAMES.get(event, event)


def button_name(event: str) -> str:
    """What an event is called on a button."""
    return _SHORT.get(event) or event_name(event)


def button_names() -> dict[str, str]:
    """What each event is called on a button, by its token."""
    return {event: button_name(event) for event in _NAMES}


def definitions(stroke: StrokeName) -> dict[str, str]:
    """Where a mark of each event belongs, by the name of the event: a stroke's and the wall's."""
    return {**_OTHERS, **_ARMS.get(stroke, {})}
