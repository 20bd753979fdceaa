"""Short notation for marks in tests."""

from __future__ import annotations

from norvik.core.strokes.events import Mark

LANES = {
    **dict.fromkeys(("entry", "catch", "press", "shoulder", "push-end", "exit"), "arm"),
    **dict.fromkeys(("out", "in", "shoot", "long"), "arm"),
    **dict.fromkeys(("beat", "up", "heels", "set", "close"), "leg"),
    **dict.fromkeys(("turn", "air", "down", "bubbles-on", "bubbles-off"), "breath"),
    **dict.fromkeys(
        ("signal", "block", "water", "head-down", "touch", "planted", "push", "breakout"), "wall"
    ),
    "pass": "course",
}
SIDES = {"L": "left", "R": "right", "B": "both", "F": "front"}


def marks(text: str) -> list[Mark]:
    """ "R entry 0; R exit 1.1; pass 5m 3.2" as marks; `key` is the place in the text."""
    found = []
    for key, part in enumerate(p.split() for p in text.replace("\n", ";").split(";") if p.strip()):
        words = list(part)
        side = SIDES[words.pop(0)] if words[0] in SIDES else ""
        event = words.pop(0)
        metres = float(words.pop(0).rstrip("m")) if event == "pass" else None
        found.append(Mark(float(words[0]), LANES[event], side, event, metres=metres, key=key))
    return found


def steady_arm(
    side: str,
    first: float,
    cycle: float,
    count: int,
    shares: tuple[float, float, float, float] = (0.25, 0.15, 0.35, 0.25),
    shoulder: bool = False,
) -> list[Mark]:
    """`count` whole cycles of one arm, each the same; one entry more than cycles."""
    found = []
    entry_share, catch_share, pull_share, _ = shares
    for n in range(count + 1):
        start = first + n * cycle
        found.append(Mark(start, "arm", side, "entry"))
        if n == count:
            break
        press = start + (entry_share + catch_share) * cycle
        found.append(Mark(start + entry_share * cycle, "arm", side, "catch"))
        found.append(Mark(press, "arm", side, "press"))
        if shoulder:
            found.append(Mark(press + pull_share * cycle / 2, "arm", side, "shoulder"))
        found.append(Mark(press + pull_share * cycle, "arm", side, "exit"))
    return found
