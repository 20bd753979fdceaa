"""What is seen on a frame and chosen, not measured; and why a measure cannot be judged there."""

from __future__ import annotations

from dataclasses import dataclass

from norvik.core.strokes.names import StrokeName

#: Why a measure cannot be judged on this clip.
OBSTACLES = {
    "bubbles": "bubbles hide it",
    "other-lane": "another swimmer is in front",
    "too-far": "too far away",
    "wrong-view": "not seen from here",
}


@dataclass(frozen=True, slots=True)
class Option:
    """verdict: "good", "watch" or "fault"; because: what is said beside it."""

    id: str
    name: str
    verdict: str
    because: str = ""


@dataclass(frozen=True, slots=True)
class Choice:
    """Something that is told by looking. events: of the lane by which the tool finds the instant.

    Common practice of the trade, all of it.
    """

    id: str
    name: str
    strokes: tuple[str, ...]
    views: tuple[str, ...]
    instant: str
    events: tuple[str, ...]
    options: tuple[Option, ...]
    sided: bool = True

    def option(self, option_id: str) -> Option | None:
        return next((o for o in self.options if o.id == option_id), None)


_ABOVE = ("side-above", "front-above")
_ALL = ("freestyle", "backstroke", "breaststroke", "butterfly")
_THUMB = Option("thumb", "thumb", "fault", "it twists the shoulder inwards under load")
_SLAP = Option("elbow", "elbow or flat hand", "fault", "it slaps and brakes")

CHOICES: dict[str, Choice] = {
    c.id: c
    for c in (
        Choice("first-contact", "First into the water", ("freestyle",),
               (*_ABOVE, "side-under", "front-under"), "entry", ("entry",),
               (Option("fingertips", "fingertips", "good"), _THUMB, _SLAP,
                Option("little-finger", "little finger", "watch"))),
        Choice("first-contact-back", "First into the water", ("backstroke",),
               (*_ABOVE, "front-under"), "entry", ("entry",),
               (Option("little-finger", "little finger", "good"), _THUMB,
                Option("back-of-hand", "back of the hand", "fault", "it slaps and carries air"))),
        Choice("breath-height", "How high the breath is", ("freestyle",), _ABOVE,
               "breath", ("air",),
               (Option("one-goggle", "one goggle in", "good"),
                Option("both-out", "both out", "watch"),
                Option("chin", "chin lifted", "fault", "the hips sink"))),
        Choice("exit-hand", "Hand as it leaves", ("butterfly",), _ABOVE, "exit", ("exit",),
               (Option("little-finger", "little finger up", "good"),
                Option("palm-down", "palm down", "fault", "it lifts water and stops the arm"),
                Option("thumb-up", "thumb up", "fault", "it turns the shoulder"))),
        Choice("head-wall", "Head at walls and breakout", _ALL, (*_ABOVE, "side-under"),
               "breakout", ("breakout", "push"),
               (Option("down", "down", "good"),
                Option("lifted", "lifted", "fault", "it ends the glide")), sided=False),
        Choice("feet-cross", "Feet", ("freestyle", "backstroke"),
               ("overhead", "behind", "behind-under"), "", (),
               (Option("pass", "pass each other", "good"), Option("touch", "touch", "watch"),
                Option("cross", "cross", "fault", "look for a hand that crosses in front")),
               sided=False),
    )
}  # fmt: skip


def offered_choices(stroke: StrokeName, view: str) -> list[Choice]:
    """The choices of a stroke that a view can show."""
    return [c for c in CHOICES.values() if stroke in c.strokes and view in c.views]
