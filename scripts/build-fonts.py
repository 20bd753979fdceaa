"""Makes the two fonts for PDF files and stills out of the page's own.

Latin and extended Latin, in regular and bold, as one TrueType file each. Only for whoever changes
the font; the files are kept.
"""

from __future__ import annotations

import tempfile
from pathlib import Path

from fontTools.merge import Merger
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont

FONTS = Path(__file__).resolve().parent.parent / "src/norvik/web/static/fonts"
NAME = "atkinson-hyperlegible-next"


def main() -> None:
    for weight, name in ((400, "regular"), (700, "bold")):
        with tempfile.TemporaryDirectory() as folder:
            parts = []
            for part in ("latin", "latin-ext"):
                font = TTFont(FONTS / f"{NAME}-{part}-wght-normal.woff2")
                font.flavor = None
                parts.append(str(Path(folder) / f"{part}.ttf"))
                instantiateVariableFont(font, {"wght": weight}).save(parts[-1])
            Merger().merge(parts).save(FONTS / f"{NAME}-{name}.ttf")


if __name__ == "__main__":
    main()
