"""What a camera wrote into its file: never trusted for a number, good for a first guess."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from norvik.footage.opening import Source

#: Tags in which cameras give the rate at which slow motion was recorded (from memory).
_RATE_TAGS = ("com.android.capture.fps", "com.apple.quicktime.capture-fps", "capture_fps")
_DAY_TAGS = ("com.apple.quicktime.creationdate", "creation_time", "date")


#: Own choice: 960 frames a second stored at 24 are 40 times slower.
MOST_STRETCH = 64.0


@dataclass(frozen=True, slots=True)
class CameraMetadata:
    """rate_fps: frames a second while recording. day: day of filming as ISO 8601, or empty.

    stretch: the slow-motion factor that follows from rate_fps and the stored rate, or None.
    """

    rate_fps: float | None = None
    day: str = ""
    stretch: float | None = None


def camera_metadata(source: Source) -> CameraMetadata:
    tags = {**source.container.metadata, **source.stream.metadata}
    tags = {name.lower(): value for name, value in tags.items()}
    rate = next((r for name in _RATE_TAGS if (r := _number(tags.get(name))) is not None), None)
    stored = source.stream.average_rate
    stretch = None
    if rate and stored:
        ratio = rate / float(stored)
        stretch = round(ratio) if abs(ratio - round(ratio)) < 0.06 * ratio else round(ratio, 2)
        stretch = float(stretch) if ratio > 1.2 else 1.0
        if stretch > MOST_STRETCH:
            # No camera films that fast: the tag is wrong, and nothing is built on it.
            rate, stretch = None, None
    day = next((d for name in _DAY_TAGS if (d := _day(tags.get(name, "")))), "")
    return CameraMetadata(rate, day, stretch)


def _number(text: str | None) -> float | None:
    try:
        value = float(text or "")
    except ValueError:
        return None
    return value if 1 <= value <= 2000 else None


def _day(text: str) -> str:
    try:
        day = datetime.fromisoformat(text.replace("Z", "+00:00")).date()
    except ValueError:
        return ""
    # A camera whose clock was never set says 1970 or 1904.
    return day.isoformat() if day.year >= 2000 else ""
