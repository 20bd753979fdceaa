"""What to do where pain leaves no drill for a focus (common practice, worded here)."""

from __future__ import annotations

from collections.abc import Collection

_INSTEAD = {
    "shoulder": "Rest the arms: kick on your front or back with the arms at your sides, no board.",
    "elbow": "Rest the arms: kick with the arms at your sides, and leave paddles and cords out.",
    "neck": "Swim with a snorkel and a still head, or on your back with the head supported.",
    "back": "Leave dolphin kick and arching out: easy freestyle or backstroke with a buoy, if that "
    "is free of pain.",
    "hip": "Leave the breaststroke kick out: swim with a buoy between the thighs.",
    "knee": "Leave the breaststroke kick out: arms alone with a buoy, or a light flutter kick.",
    "ankle": "Leave fins and hard kicking out: swim with a buoy.",
}


def instead_of_drills(parts: Collection[str]) -> str:
    """Sentences for the painful parts that leave no drill; empty for none."""
    said = [sentence for part, sentence in _INSTEAD.items() if part in parts]
    if not said:
        return ""
    named = " and ".join(part for part in _INSTEAD if part in parts)
    return (
        f"No drill for this with a painful {named}. {' '.join(said)} Come back to this focus when "
        "a doctor or physiotherapist has cleared it."
    )
