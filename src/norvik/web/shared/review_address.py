"""Where a link to a review leads, as an address and as a code for paper."""

from __future__ import annotations

import os
from urllib.parse import urljoin

import segno
from flask import request, url_for

from norvik.store.review_links import ReviewLink


def page_address(link: ReviewLink) -> str:
    """In full. NORVIK_ADDRESS: how Norvik is reached from outside."""
    path = url_for("link.show", token=link.token)
    return urljoin(os.environ.get("NORVIK_ADDRESS") or request.url_root, path)


def code_svg(link: ReviewLink) -> str:
    """The address as a QR code (ISO/IEC 18004), as an SVG document."""
    svg: str = segno.make(page_address(link), error="m").svg_inline(
        scale=4, border=2, dark="#062a31", light="#ffffff", omitsize=True
    )
    return svg.replace("<svg ", '<svg xmlns="http://www.w3.org/2000/svg" ', 1)
