"""The sheet of small pictures along a recording: how it is laid out."""

from __future__ import annotations

from dataclasses import asdict, dataclass


@dataclass(frozen=True, slots=True)
class Strip:
    """A sheet of `count` pictures of width x height pixels, `columns` in a row.

    Picture k shows frame k * every of the recording.
    """

    count: int
    every: int
    columns: int
    width: int
    height: int

    def as_dict(self) -> dict[str, int]:
        return asdict(self)
