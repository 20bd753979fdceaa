"""The one thing that the encoder's binding cannot write: how a phone was held."""

from __future__ import annotations

from pathlib import Path


def set_rotation(path: Path, degrees: int) -> None:
    """Write the display matrix of the first track: 90 or 270 degrees clockwise to stand upright.

    Source: ISO/IEC 14496-12, 8.3.2 (track header box).
    """
    data = bytearray(path.read_bytes())
    at = data.index(b"tkhd") + 4
    matrix = at + (52 if data[at] == 1 else 40)
    one = 1 << 16
    a, b, c, d = {90: (0, one, -one, 0), 270: (0, -one, one, 0)}[degrees]
    values = (a, b, 0, c, d, 0, 0, 0, 1 << 30)
    data[matrix : matrix + 36] = b"".join(v.to_bytes(4, "big", signed=True) for v in values)
    path.write_bytes(data)
