"""Paper: what belongs together stays on one page, and every letter is there."""

from __future__ import annotations

import re
import zlib
from pathlib import Path

from norvik.formats.pdf import Sheet

FONTS = Path(__file__).parents[2] / "src/norvik/web/static/fonts"


def pages_of(data: bytes) -> int:
    return len(re.findall(rb"/Type /Page\b", data))


def test_a_block_that_does_not_fit_goes_to_the_next_page_whole() -> None:
    sheet = Sheet(FONTS, "Title", "Norvik")
    for _ in range(36):
        sheet.text("A line of text that fills a little of the page.")
    before = sheet.pages
    places: list[int] = []

    def block() -> None:
        places.append(sheet.pages)
        sheet.heading("Stays together")
        sheet.bullets([f"point {n}" for n in range(20)])
        places.append(sheet.pages)

    sheet.keep(block)
    # Tried once, written once: it begins and ends on one page.
    assert before == 1
    assert places[-2] == places[-1] == 2
    data = sheet.data()
    assert data.startswith(b"%PDF-")
    assert pages_of(data) == 2


def test_letters_of_europe_are_there() -> None:
    sheet = Sheet(FONTS, "Łukasz Håkonsen", "Norvik")
    sheet.text("Łukasz, Håkonsen-Ærø, Žiga, ± 0.5, 4 × 25 m, −3 %")
    sheet.cue("“Let go late.”")
    sheet.table([("Rate", "55.9 strokes/min"), ("Time", "2.1 s")], (0.5, 0.5))
    data = sheet.data()
    assert b"Hyperlegible" in data or any(
        b"Hyperlegible" in zlib.decompress(m) for m in _streams(data)
    )
    assert pages_of(data) == 1


def _streams(data: bytes) -> list[bytes]:
    found = []
    for m in re.finditer(rb"stream\n(.*?)\nendstream", data, re.DOTALL):
        try:
            zlib.decompress(m[1])
        except zlib.error:
            continue
        found.append(m[1])
    return found
