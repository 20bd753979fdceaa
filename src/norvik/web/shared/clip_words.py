"""A clip of a review in a few words, and what clips that contradict each other mean."""

from __future__ import annotations

from norvik.core.judging.coaching_model import Fault
from norvik.core.judging.joined import Evidence, Joined, Pace
from norvik.store.clips import Clip
from norvik.web.shared.language import listed

VIEW_NAMES = {
    "side-under": "side, under water",
    "side-above": "side, above water",
    "front-under": "front, under water",
    "front-above": "front, above water",
    "overhead": "overhead",
    "behind": "from behind",
    "behind-under": "from behind, under water",
}
_KIT = {"wetsuit": "in a wetsuit", "fins": "with fins", "buoy": "with a buoy",
        "paddles": "with paddles", "snorkel": "with a snorkel", "band": "with a band"}  # fmt: skip


def clip_words(of: Clip | Evidence) -> str:
    """ "side, under water · race · with fins": view, pace and what is worn."""
    if isinstance(of, Evidence):
        view, pace, kit = of.view, of.pace, of.kit
    else:
        view, pace, kit = of.view, of.facts.pace, of.facts.kit
    worn = listed([_KIT.get(k, k) for k in kit]) if kit else ""
    said = [VIEW_NAMES.get(view, view), pace_words(pace), worn]
    return " · ".join(word for word in said if word)


def pace_words(pace: Pace) -> str:
    """ "race, 1:12 a 100 m", or what is known of it; empty where nothing is."""
    if pace.pace_s is None:
        return pace.effort
    seconds = round(pace.pace_s)
    timed = f"{seconds // 60}:{seconds % 60:02d} per 100 m"
    return f"{pace.effort}, {timed}" if pace.effort else timed


_CONTRADICTION = {
    ("keep", "view"): "Two clips contradict each other. Trust the first one: it was filmed from "
    "where this shows best.",
    ("keep", "measured"): "Two clips contradict each other. Trust the first one: there it was "
    "measured.",
    ("drop", "view"): "Two clips contradict each other. It is probably not there: the clip filmed "
    "from where it shows best says so.",
    ("drop", "measured"): "Two clips contradict each other. It is probably not there: one clip "
    "measured it.",
    ("look", "eye"): "You ticked it, but the numbers say otherwise. Look once more, or remove the "
    "tick.",
    ("film", "alike"): "Two clips of the same pace contradict each other, and both are equally "
    "good. Film it once more.",
}


def contradiction(finding: Joined) -> str:
    """What to do where clips, or a tick and numbers, contradict each other; empty elsewhere."""
    return _CONTRADICTION.get((finding.proposal, finding.because), "")


_LOOK_AT = {
    "head": "Look at the head.", "breathing": "Look at the head and the mouth.",
    "body": "Look at the line from head to feet.", "legs": "Look at the knees and feet.",
    "rotation": "Look at the line of the shoulders.",
    "recovery": "Look at the elbow and the hand above the water.",
    "entry": "Look at the hand as it goes in.", "catch": "Look at the elbow and the hand in front.",
    "pull": "Look at the arm under water.", "timing": "Look at both hands at this moment.",
    "wall": "Look at the body at the wall.",
}  # fmt: skip


def look_at(fault: Fault) -> str:
    """Where to look in the picture that shows a fault."""
    return _LOOK_AT.get(fault.part, "Look at this moment.")
