"""Drawings that come back from a page, and captions as WebVTT."""

from __future__ import annotations

import io

import pytest
import webvtt

from norvik.core.errors import TalkError
from norvik.formats.captions_vtt import read_captions, write_captions
from norvik.formats.ink_svg import LONGEST_INK, clean_ink

DRAWN = (
    '<g class="drawing fault" data-drawing="7"><polyline class="casing" points="1.0,2.0 3,4"/>'
    '<circle class="ink" cx="4" cy="5" r="6"/><g class="word" transform="translate(3 4)">'
    '<text font-size="24" text-anchor="middle" transform="scale(-1 1)">104° &lt;b&gt;</text>'
    "</g></g>"
)


def test_what_norvik_draws_is_kept_as_it_is() -> None:
    kept = clean_ink(DRAWN)
    assert "data-drawing" not in kept
    assert 'points="1.0,2.0 3,4"' in kept
    assert "104° &lt;b&gt;" in kept
    assert clean_ink(kept) == kept


@pytest.mark.parametrize(
    "bad",
    [
        "<script>alert(1)</script>", '<g onclick="x()"/>', '<image href="file:///etc/passwd"/>',
        '<g><use href="#a"/></g>', '<text style="background:url(//x)">a</text>', "<foreignObject/>",
        '<polyline points="url(x)"/>', '<g transform="rotate(url(#a))"/>', "<g", "just words",
        "<!DOCTYPE x><g/>", "<?xml version='1.0'?><g/>", "<g>words</g>", '<g class="A{b:c}"/>',
        '<a xmlns="http://www.w3.org/1999/xhtml" href="//x"/>',
        '<g xmlns:x="http://www.w3.org/1999/xlink" x:href="//x"/>',
        "<g/>" * LONGEST_INK, "<style>*{}</style>", "<g/>tail",
    ],
)  # fmt: skip
def test_nothing_else_is_let_in(bad: str) -> None:
    with pytest.raises(TalkError):
        clean_ink(bad)


def test_captions_are_read_by_another_reader() -> None:
    text = write_captions(
        [(3000.0, 5000.0, "Hold the water"), (500.0, 3600.0, "Look <here> & now")]
    )
    cues = webvtt.from_buffer(io.StringIO(text)).captions
    # The first ends where the second begins.
    assert [(c.start, c.end) for c in cues] == [
        ("00:00:00.500", "00:00:03.000"), ("00:00:03.000", "00:00:05.000")]  # fmt: skip
    assert read_captions(text.encode()) == [
        (500.0, 3000.0, "Look <here> & now"), (3000.0, 5000.0, "Hold the water")]  # fmt: skip


def test_a_file_that_is_none_is_refused() -> None:
    for bad in (b"", b"1\n00:00 --> 00:01\nx", b"\xff\xfe\x00"):
        with pytest.raises(TalkError, match="WEBVTT"):
            read_captions(bad)
    assert read_captions(b"WEBVTT\n\nxx --> yy\nx") == []
