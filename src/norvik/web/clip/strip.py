"""The strip of instants: the same events of two films in rows, with the time and frames between."""

from __future__ import annotations

from markupsafe import escape

from norvik.core.errors import MarkError
from norvik.core.strokes.definitions import event_name
from norvik.core.time.in_step import CycleEvents
from norvik.footage.stills import frame_image
from norvik.web.clip.picture_svg import image_in, picture_svg
from norvik.web.draw.overlay import fragments, stylesheet
from norvik.web.shared.clip_words import clip_words
from norvik.web.shared.database import database, settings
from norvik.web.shared.language import day
from norvik.workflow.clip_drawings import drawings_of, picture_size
from norvik.workflow.clip_timing import ClipTiming
from norvik.workflow.side_by_side import Pairing

#: Width of a picture, and heights of the words under it and of the head, in pixels.
_TILE, _BAR, _HEAD = 560, 34, 44


def strip_svg(pairing: Pairing) -> str:
    """Two columns, a row for each event that both cycles have, and their ends.

    Raises MarkError where one of the films has no whole cycle.
    """
    n, m = pairing.wish.n, pairing.wish.m
    mine, theirs = pairing.cycles
    if not (0 <= n < len(mine) and 0 <= m < len(theirs)):
        raise MarkError("A strip needs a whole cycle in both films: mark each from one hand entry "
                        "to the next.")  # fmt: skip
    columns = ((pairing.one, mine[n]), (pairing.other, theirs[m]))
    names = [e for e, _ in mine[n].events if e in dict(theirs[m].events)]
    parts = [_column(timed, cycle, names, x * _TILE) for x, (timed, cycle) in enumerate(columns)]
    tall = max(_tile_height(timed) for timed, _ in columns)
    size = 2 * _TILE, _HEAD + (len(names) + 1) * (tall + _BAR)
    return picture_svg(size, "".join(parts), stylesheet(1.28))


def _tile_height(timed: ClipTiming) -> int:
    width, height = picture_size(timed.clip.recording)
    return round(_TILE * height / width)


def _column(timed: ClipTiming, cycle: CycleEvents, names: list[str], x: int) -> str:
    clip, recording = timed.clip, timed.clip.recording
    drawn = drawings_of(database(), timed)
    width = picture_size(recording)[0]
    tall = _tile_height(timed)
    at = dict(cycle.events)
    rows = [(event_name(e), at[e]) for e in names]
    rows.append((f"next {event_name(names[0])}", cycle.end_s))
    head = f"{day(clip.filmed_on)}, {clip_words(clip)}, {cycle.side}"
    made = [_words(head, x, 29)]
    begin_s, before = cycle.begin_s, timed.frame_of(cycle.begin_s)
    for n, (name, time_s) in enumerate(rows):
        frame = timed.frame_of(time_s)
        y = _HEAD + n * (tall + _BAR)
        image = frame_image(settings().data / str(recording.review_path), recording.rate, frame)
        words = f"{name}: {time_s - begin_s:.2f} s"
        if n:
            words += f", {frame - before} frames after"
        made.append(
            f'<g transform="translate({x} {y})">{image_in(image, (_TILE, tall))}'
            f'<g transform="scale({_TILE / width:.5f})">{fragments(drawn.on_frame(frame), width)}'
            f'</g><rect y="{tall}" width="{_TILE}" height="{_BAR}" class="bar"/></g>'
            + _words(words, x, y + tall + 23)
        )
        before = frame
    return "".join(made)


def _words(text: str, x: int, y: int) -> str:
    return f'<text class="caption" x="{x + 10}" y="{y}" font-size="18">{escape(text)}</text>'
