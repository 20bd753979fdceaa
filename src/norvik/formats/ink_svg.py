"""Drawings that come back from a page, as SVG: only what this program itself draws is let in.

A page keeps what it showed while the coach spoke. Such a drawing is shown to others and painted
into films, so everything that could fetch, run or style something else is refused.
"""

from __future__ import annotations

import re
from xml.etree import ElementTree

from norvik.core.errors import TalkError

#: Letters of one drawing, at most: a freehand line of a thousand points has some 20,000.
LONGEST_INK = 60_000
_NUMBERS = re.compile(r"[-+0-9eE., \t\n]*")
_TRANSFORM = re.compile(r"((matrix|translate|scale|rotate)\([-+0-9eE., ]*\)\s*)*")
_CLASSES = re.compile(r"[a-z0-9 -]{0,80}")
_WORD = re.compile(r"[a-z-]{0,20}")
#: Element to its attributes and what their values must look like.
_COMMON = {"class": _CLASSES, "transform": _TRANSFORM}
_ALLOWED: dict[str, dict[str, re.Pattern[str]]] = {
    "g": _COMMON,
    "polyline": {**_COMMON, "points": _NUMBERS},
    "polygon": {**_COMMON, "points": _NUMBERS},
    "rect": {**_COMMON, "x": _NUMBERS, "y": _NUMBERS, "width": _NUMBERS, "height": _NUMBERS},
    "line": {**_COMMON, "x1": _NUMBERS, "y1": _NUMBERS, "x2": _NUMBERS, "y2": _NUMBERS},
    "circle": {**_COMMON, "cx": _NUMBERS, "cy": _NUMBERS, "r": _NUMBERS},
    "text": {
        **_COMMON, "font-size": _NUMBERS, "text-anchor": _WORD, "dominant-baseline": _WORD,
        "x": _NUMBERS, "y": _NUMBERS,
    },
}  # fmt: skip
#: Left out without a word: they tell the page what is what.
_DROPPED = re.compile(r"data-[a-z]+")
_SVG = "{http://www.w3.org/2000/svg}"


def clean_ink(text: str) -> str:
    """A drawing as it may be kept: the same elements, written anew. Raises TalkError."""
    refused = TalkError("A drawing of this recording could not be kept: it is none of Norvik's.")
    if len(text) > LONGEST_INK or "<!" in text or "<?" in text:
        raise refused
    try:
        root = ElementTree.fromstring(f"<g>{text}</g>")
    except ElementTree.ParseError as error:
        raise refused from error
    for element in root.iter():
        name = element.tag = str(element.tag).removeprefix(_SVG)
        allowed = _ALLOWED.get(name)
        if allowed is None or ((element.text or "").strip() and name != "text"):
            raise refused
        if (element.tail or "").strip():
            raise refused
        for attribute, value in list(element.attrib.items()):
            if _DROPPED.fullmatch(attribute):
                del element.attrib[attribute]
            elif attribute not in allowed or not allowed[attribute].fullmatch(value):
                raise refused
    return "".join(ElementTree.tostring(child, encoding="unicode") for child in root)
