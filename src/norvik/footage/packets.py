"""Where each frame lies in a review copy, so that a browser can decode any of them alone."""

from __future__ import annotations

import base64
from functools import lru_cache
from pathlib import Path
from typing import Any

from norvik.core.errors import FootageError
from norvik.footage.opening import open_footage


def packet_list(film: Path) -> dict[str, Any]:
    """Codec string, decoder configuration (base64), and for each frame where its bytes lie.

    `position` and `size` in bytes, `keys` the numbers of the key frames, in display order.
    Raises FootageError for a film that is not H.264 with a decoder configuration.
    """
    return _packet_list(film, film.stat().st_mtime_ns)


@lru_cache(maxsize=16)
def _packet_list(film: Path, written_ns: int) -> dict[str, Any]:
    """written_ns: a film that was made again under its name is another film."""
    with open_footage(film) as source:
        entries = source.stream.index_entries
        packets = [(e.timestamp, e.pos, e.size, e.is_keyframe) for e in entries]
        extradata = source.stream.codec_context.extradata
        if source.codec != "h264" or not extradata or extradata[0] != 1:
            raise FootageError("This film cannot be taken apart into frames.")
    packets.sort()
    return {
        "codec": f"avc1.{extradata[1:4].hex()}",
        "description": base64.b64encode(extradata).decode("ascii"),
        "position": [p[1] for p in packets],
        "size": [p[2] for p in packets],
        "keys": [n for n, p in enumerate(packets) if p[3]],
    }
