"""The panel of measures and drawings beside the film, and what is said of one of them."""

from __future__ import annotations

from flask import render_template
from flask.typing import ResponseReturnValue

from norvik.core.frame.choices import CHOICES, OBSTACLES
from norvik.core.frame.drawings import KINDS, STYLES
from norvik.core.frame.lens import Straightness
from norvik.core.frame.measures import MEASURES, Measure, take
from norvik.core.judging.coaching_model import Band
from norvik.painting.overlay import fragment
from norvik.store import cameras, references
from norvik.store.clips import Clip
from norvik.store.drawings import StoredDrawing
from norvik.web.clip.read_measures import value_words
from norvik.web.clip.ways_to_show import MORE, PICTURED
from norvik.web.draw.shown_ways import shown_ways
from norvik.web.shared.database import database
from norvik.web.shared.filters import good_range, limit_source
from norvik.workflow.clip_drawings import ClipDrawings, drawings_of, picture_size, written
from norvik.workflow.clip_timing import ClipTiming, time_clip
from norvik.workflow.ghost import moments
from norvik.workflow.lens_check import straightness
from norvik.workflow.read_measures import ProposedMeasure, proposed_measures


def context(timed: ClipTiming) -> dict[str, object]:
    """What the panel shows; the page of the bench begins with it."""
    found = drawings_of(database(), timed)
    width, height = picture_size(timed.clip.recording)
    known = [(r.measure.id, r.measure.events) for r in found.rows]
    known += [(r.choice.id, r.choice.events) for r in found.choices]
    frames = {
        name: [e.frame for e in timed.events if e.event in events and e.frame is not None]
        for name, events in known
    }
    return {
        "drawings": found,
        "alternating": timed.timing.resolved.stroke.alternating,
        "event_frames": frames,
        "drawn": _drawn(found, width),
        "picture": (width, height),
        "drawing_kinds": KINDS,
        "pictured_ways": PICTURED,
        "more_ways": MORE,
        "shown_ways": shown_ways(timed.clip.stroke, timed.clip.view),
        "drawing_styles": STYLES,
        "obstacles": OBSTACLES,
        "band_words": _band_words,
        "value_words": value_words,
        "read_measures": _read(timed),
        "moments": moments(timed.clip.stroke),
        **_lens(timed.clip),
    }


def _read(timed: ClipTiming) -> dict[str, list[ProposedMeasure]]:
    """What the film proposes, by the measure."""
    found: dict[str, list[ProposedMeasure]] = {}
    for one in proposed_measures(database(), timed):
        found.setdefault(one.measure.id, []).append(one)
    return found


def _lens(clip: Clip) -> dict[str, object]:
    """The camera of a clip, those there are, and what its lines say of its lens."""
    camera = cameras.of_recording(database(), clip.recording.id)
    lens = cameras.lens_of_clip(database(), clip.id)
    found = straightness(database(), camera, lens) if camera and lens else None
    return {
        "camera": camera,
        "cameras": cameras.every(database()),
        "lens_said": lens_words(found) if found else "",
    }


def lens_words(found: Straightness) -> str:
    """What the check of a lens says, in a sentence or two."""
    if not found.bends:
        return (
            f"Straight within what the clicks can tell: the line is at most {found.bend_px:.0f} "
            "pixels from straight."
        )
    kind = "barrel" if found.lens.k < 0 else "cushion"
    return (
        f"The lens bends straight lines by up to {found.bend_px:.0f} pixels ({kind}). Measures are "
        f"corrected; {found.left_px:.0f} pixels are left. The picture stays as it is."
    )


def panel(clip: Clip, told: str, chosen: int | None = None) -> ResponseReturnValue:
    """The panel anew. told: what was just done. chosen: the drawing that is taken hold of."""
    timed = time_clip(database(), clip)
    return render_template(
        "bench/_drawings.html", clip=clip, told_drawing=told, chosen=chosen, **context(timed),
    )  # fmt: skip


def _drawn(found: ClipDrawings, width: int) -> list[dict[str, object]]:
    return [
        {
            "id": p.stored.id,
            "kind": p.stored.kind,
            "frame": p.stored.frame,
            "first": p.stored.first,
            "last": p.stored.last,
            "points": p.stored.points,
            "style": p.stored.style,
            "text": p.stored.text,
            "svg": fragment(p, width),
        }
        for p in found.painted
    ]  # fmt: skip


def _band_words(band: Band, measure: Measure) -> str:
    """Where the good range lies and comes from: " · good 90 to 130 (common practice)"."""
    good = good_range(band, measure.digits)
    return f" · good {good} ({limit_source(band)})" if good else ""


def name_of(drawing: StoredDrawing) -> str:
    """What a drawing is called in a sentence, with its side."""
    if drawing.kind == "measure":
        return f"{drawing.side} {MEASURES[drawing.name].name}".strip().capitalize()
    if drawing.kind == "choice":
        choice = CHOICES[drawing.name]
        option = choice.option(drawing.text)
        return f"{drawing.side} {choice.name}: {option.name if option else ''}".strip().capitalize()
    if drawing.kind == "obstacle":
        return f"Can't be judged here: {OBSTACLES[drawing.text]}"
    return KINDS[drawing.kind].name


def value_of(clip: Clip, drawing: StoredDrawing) -> str:
    """A measure's value behind a colon; empty for other drawings."""
    if drawing.kind != "measure":
        return ""
    to = references.of_clip(database(), clip.id)
    measure = MEASURES[drawing.name]
    return f": {written(measure, take(measure, drawing.points, to))}"
