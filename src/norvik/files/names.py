"""What files that belong to a recording are called."""

from __future__ import annotations

from norvik.files.footage import COPIES, MODEL_FILMS, PICTURES, Footage


def film(recording_id: int) -> str:
    """Its review copy, once that is whole."""
    return f"{COPIES}/{recording_id}.mp4"


def stretch(recording_id: int, frames: int) -> str:
    """The beginning of its review copy."""
    return f"{COPIES}/{recording_id}-{frames}.mp4"


def sound(recording_id: int) -> str:
    return f"{COPIES}/{recording_id}.m4a"


def strip(recording_id: int) -> str:
    return f"{PICTURES}/strip-{recording_id}.jpg"


def poster(recording_id: int) -> str:
    return f"{PICTURES}/poster-{recording_id}.jpg"


def frame(recording_id: int, frame_number: int, width: int) -> str:
    """One frame as a picture; width 0: as large as the review copy."""
    return f"{PICTURES}/frame-{frame_number}-{width}-{recording_id}.jpg"


def model_film(name: str) -> str:
    return f"{MODEL_FILMS}/{name}.mp4"


def made_of(footage: Footage, recording_id: int) -> list[str]:
    """All files there are that were made from a recording's original."""
    number = str(recording_id)
    films = [s.name for sign in ".-" for s in footage.listed(f"{COPIES}/{number}{sign}")]
    pictures = [
        s.name
        for kind in ("strip", "poster")
        for s in footage.listed(f"{PICTURES}/{kind}-{number}.")
    ]
    frames = [
        s.name for s in footage.listed(f"{PICTURES}/frame-")
        if s.name.split(".")[0].rsplit("-", 1)[-1] == number
    ]  # fmt: skip
    return films + pictures + frames
