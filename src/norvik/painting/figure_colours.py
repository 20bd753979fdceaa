"""Colours of the drawn figure where the style sheet of the pages is not there."""

from __future__ import annotations

#: Of the figure, its kit and what stands around; those of the skin and suit as in the style sheet.
COLOURS = {
    "near": "#e0b08e", "head": "#e0b08e", "trunk": "#d3a07c", "far": "#b7a79b", "suit": "#14283c",
    "cap": "#176f97", "kit": "#f28c1e", "kit-pale": "#f7e3c4", "wall": "#98a3a3",
    "ground": "#b4b2a6", "bubble": "#ffffff", "mark": "#b3261e",
}  # fmt: skip
AIR, SEA, LINE = "#eef4f2", "#c4e0e2", "#176f97"


def figure_rules() -> str:
    """Rules for a figure in an SVG that stands by itself, where it lies in a group `stance`."""
    rules = [f".stance .{tone}{{fill:{colour}}}" for tone, colour in COLOURS.items()]
    rules += [f".stance .air-above{{fill:{AIR}}}", f".stance .sea{{fill:{SEA}}}",
              f".stance .line{{stroke:{LINE};stroke-width:2px}}"]  # fmt: skip
    return "".join(rules)
