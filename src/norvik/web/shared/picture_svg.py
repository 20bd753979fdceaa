"""Pictures with drawings and words in one SVG, and the same as PNG."""

from __future__ import annotations

import base64

import numpy as np
from flask import Response, request
from numpy.typing import NDArray

from norvik.footage.stills import jpeg

_KINDS = {"png": "image/png", "svg": "image/svg+xml", "jpg": "image/jpeg"}


def picture_svg(size: tuple[int, int], inside: str, styles: str) -> str:
    extra = (
        ".bar{fill:#061a1f}.ground{fill:#061a1f}"
        "text.caption{fill:#e6f1f0;stroke:none;font-weight:700}"
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{size[0]}" height="{size[1]}" '
        f'viewBox="0 0 {size[0]} {size[1]}"><style>{styles}{extra}</style>'
        f'<rect class="ground" width="{size[0]}" height="{size[1]}"/>{inside}</svg>'
    )


def image_in(image: NDArray[np.uint8], size: tuple[int, int]) -> str:
    data = base64.b64encode(jpeg(image)).decode("ascii")
    return (
        f'<image width="{size[0]}" height="{size[1]}" preserveAspectRatio="none" '
        f'href="data:image/jpeg;base64,{data}"/>'
    )


def picture_answer(data: bytes, kind: str, name: str | None) -> Response:
    headers = {"Cache-Control": "no-cache"}
    if name is not None and "save" in request.args:
        headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return Response(data, mimetype=_KINDS[kind], headers=headers)
