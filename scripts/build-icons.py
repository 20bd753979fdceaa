"""Gathers the icons in use from lucide-static (ISC licence) into one sprite.

Run from a folder with node_modules: python3 scripts/build-icons.py NODE_MODULES
"""

import re
import sys
from pathlib import Path

NAMES = (
    "play",
    "pause",
    "chevron-left",
    "chevron-right",
    "chevrons-left",
    "chevrons-right",
    "undo-2",
    "redo-2",
    "repeat",
    "trash-2",
    "plus",
    "minus",
    "circle-question-mark",
    "x",
    "upload",
    "printer",
    "download",
    "zoom-in",
    "zoom-out",
    "log-out",
    "user",
    "check",
    "triangle-alert",
    "arrow-right",
    "eye",
    "maximize",
    "flip-vertical-2",
    "sun",
    "droplets",
    "volume-2",
    "list",
    "scissors",
    "timer",
    "ruler",
    "image",
    "mic",
    "film",
    "send",
)
OUT = Path(__file__).parent.parent / "src/norvik/web/static/icons/icons.svg"


def symbol(source: Path, name: str) -> str:
    inner = re.search(r"<svg[^>]*>(.*)</svg>", source.read_text(), re.DOTALL)
    assert inner, name
    shapes = " ".join(inner.group(1).split())
    return f'<symbol id="{name}" viewBox="0 0 24 24">{shapes}</symbol>'


folder = Path(sys.argv[1]) / "lucide-static/icons"
symbols = "\n".join(symbol(folder / f"{name}.svg", name) for name in NAMES)
OUT.write_text(
    "<!-- Icons: Lucide, ISC licence -->\n"
    '<svg xmlns="http://www.w3.org/2000/svg" fill="none" stroke="currentColor" '
    f'stroke-width="2" stroke-linecap="round" stroke-linejoin="round">\n{symbols}\n</svg>\n'
)
