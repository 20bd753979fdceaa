"""Prepare a recording: frame table, review copy, filmstrip, sound. Whole or not at all.

It goes in two steps. Opening it makes a first stretch that can be watched within seconds, and
often the whole of a short clip; preparing it makes the rest.
"""

from __future__ import annotations

from dataclasses import dataclass

from norvik.core.errors import DiskFullError
from norvik.core.frame.filmstrip import Strip
from norvik.core.frame.levels import Levels
from norvik.core.time.decoded import Decoded
from norvik.files import names
from norvik.files.footage import COPIES
from norvik.footage.probe import is_constant
from norvik.footage.review_copy import ReviewCopy, make_review_copy
from norvik.footage.sound import extract_sound
from norvik.footage.stills import frame_image, jpeg
from norvik.footage.strip import StripMaker
from norvik.work.place import Place
from norvik.work.report import Report

POSTER_WIDTH = 480


@dataclass(frozen=True, slots=True)
class Prepare:
    """original: name of the file as it was brought. opening: the first stretch is enough."""

    recording_id: int
    original: str
    opening: bool


@dataclass(frozen=True, slots=True)
class Prepared:
    """What can be watched from now on. film: its name. whole: every frame is in it. strip, levels:
    of the filmstrip, where there is one yet. sound: there is some in a file of its own.
    """

    decoded: Decoded
    film: str
    whole: bool
    strip: Strip | None
    levels: Levels | None
    sound: bool


def prepare(order: Prepare, place: Place, report: Report) -> Prepared:
    """Hands over longer and longer beginnings as parts. Raises FootageError."""
    number, footage = order.recording_id, place.footage
    source = footage.at_hand(order.original)
    strip = StripMaker()

    with place.scratch(f"recording-{number}") as folder:
        sheet, sound_file = folder / "strip.jpg", folder / "sound.m4a"

        def keep(made: ReviewCopy) -> Prepared:
            saved = strip.save(sheet)
            if saved:
                footage.put(sheet, names.strip(number))
            middle = int(made.media_s.size) // 2
            # Each in a file of its own: one that was put is not written to again.
            poster = folder / f"poster-{made.media_s.size}.jpg"
            poster.write_bytes(jpeg(frame_image(made.path, made.rate, middle), POSTER_WIDTH))
            footage.put(poster, names.poster(number))
            film = order.original
            if made.copied:
                film = f"{COPIES}/{made.path.name}"
                footage.put(made.path, film)
            sound = made.whole and extract_sound(source, sound_file, made.first_s)
            if sound:
                footage.put(sound_file, names.sound(number))
            pictures, levels = saved or (None, None)
            return Prepared(_decoded(made), film, made.whole, pictures, levels, sound)

        def progress(done: int, of: int | None) -> None:
            strip.expect(of)
            report("Making the review copy", done, of)

        try:
            made = make_review_copy(
                source, folder / f"{number}.mp4", progress, first_only=order.opening,
                on_stretch=lambda stretch: report.part(keep(stretch)), look=strip,
            )  # fmt: skip
            return keep(made)
        except OSError as error:
            if error.errno != 28:
                raise
            raise DiskFullError(
                "The disk is full, so the review copy could not be written. "
                "Make room and try again; the clip itself is safe."
            ) from error


def _decoded(made: ReviewCopy) -> Decoded:
    return Decoded(
        rate=made.rate,
        width=made.width,
        height=made.height,
        source_width=made.source.width,
        source_height=made.source.height,
        codec=made.codec,
        media_s=made.media_s,
        constant=is_constant(made.media_s, made.tick_s),
        copied=made.copied,
        warning=made.losses.sentence(),
        times_estimated=made.losses.times_estimated > 0,
    )
