"""Templates can be read beside the code, and the built stylesheet knows what they ask for."""

from __future__ import annotations

import re
from pathlib import Path

import norvik

MOST = 120
PACKAGE = Path(norvik.__file__).parent
#: What the names of the utility classes begin with; other names are hooks for scripts and tests.
UTILITY = re.compile(
    r"(?:[a-z]+:)*-?(?:[pm][xytrbl]?|[wh]|size|gap|grid|col|row|flex|items|justify|self|text|bg|"
    r"border|rounded|font|leading|tracking|min|max|top|left|right|bottom|inset|z|order|space|"
    r"divide|overflow|object|opacity|shadow|ring|list|whitespace|underline)-[\w./\[\]%-]+"
)


def test_no_line_of_a_template_is_longer_than_a_window() -> None:
    templates = sorted(PACKAGE.rglob("templates/**/*.html"))
    assert len(templates) > 50
    long = [
        f"{path.name}:{number}"
        for path in templates
        for number, line in enumerate(path.read_text("utf-8").splitlines(), 1)
        if len(line) > MOST
    ]
    assert not long


def test_the_stylesheet_is_built_from_the_templates_as_they_are() -> None:
    sheet = (PACKAGE / "web" / "static" / "css" / "norvik.css").read_text("utf-8").replace("\\", "")
    asked = set()
    for path in PACKAGE.rglob("templates/**/*.html"):
        for classes in re.findall(r'class="([^"]*)"', path.read_text("utf-8")):
            plain = re.sub(r"\{[{%#].*?[}%#]\}", " ", classes, flags=re.S)
            asked |= {name for name in plain.split() if UTILITY.fullmatch(name)}
    assert len(asked) > 200
    missing = {n for n in asked if not re.search(rf"\.{re.escape(n)}(?![\w./%-])", sheet)}
    assert not missing, "run `make styles`"
