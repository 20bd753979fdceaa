"""A drawn figure in a talk: kept as drawings, painted into the film as it stood."""

from __future__ import annotations

import re

import numpy as np
import pytest

from norvik.core.strokes.names import STROKE_NAMES, StrokeName
from norvik.core.talk.score import FilmShown, Score, Seen
from norvik.formats.ink_svg import LONGEST_INK, clean_ink
from norvik.model.stance import stance
from norvik.painting.figure_colours import COLOURS
from norvik.painting.scene import GROUND, SHAPES, ScenePainter

SIZE = (400, 260)


def ink_of(stroke: StrokeName, phase: float, view: str = "side") -> str:
    """A stance as a page writes it: its own shapes, moved to where source pixels begin."""
    shown = stance(stroke, phase, view)
    left, top, width, height = shown.box
    parts = [f'<rect x="{left}" y="{top}" width="{width}" height="{height}" class="air-above"/>']
    if shown.surface_y is not None:
        deep = top + height - shown.surface_y
        parts += [
            f'<rect x="{left}" y="{shown.surface_y}" width="{width}" height="{deep}" class="sea"/>',
            f'<line x1="{left}" y1="0" x2="{left + width}" y2="0" class="line"/>',
        ]
    parts += [
        f'<polygon class="{s.tone}" points="{" ".join(f"{x},{y}" for x, y in s.points)}"/>'
        for s in shown.shapes
    ]
    return f'<g class="stance" transform="translate({-left} {-top})">{"".join(parts)}</g>'


@pytest.mark.parametrize("view", ["side", "front", "above"])
@pytest.mark.parametrize("stroke", STROKE_NAMES)
def test_every_stance_is_let_in_whole(stroke: StrokeName, view: str) -> None:
    for phase in (0.0, 0.25, 0.5, 0.75):
        drawn = ink_of(stroke, phase, view)
        assert len(drawn) < LONGEST_INK / 3
        kept = clean_ink(drawn)
        assert re.findall("<polygon ", kept) == re.findall("<polygon ", drawn)
        assert clean_ink(kept) == kept


def test_a_stage_with_a_figure() -> None:
    films = [{"clip": 4, "size": [640, 360]}, {"figure": "figure:overglide", "size": list(SIZE)}]
    score = Score([[0, "stage", "beside", films], [5, "ink", 1, [3]], [5, "frame", 1, 11]])
    clip, figure = score.at(6).films
    assert (clip.clip, clip.figure) == (4, "")
    assert (figure.clip, figure.model, figure.figure) == (None, "", "figure:overglide")
    assert (figure.frame, figure.ink) == (11, (3,))


def test_it_is_painted_where_it_was_seen() -> None:
    """Skin, suit, water and air in their colours, beside a film; its own half alone."""
    figure = FilmShown(None, "", SIZE, "As it should look", 3, None, (1,), "figure")
    film = FilmShown(7, "", (640, 360), "", 0)
    grey = np.full((360, 640, 3), 90, np.uint8)
    painter = ScenePainter(
        SHAPES["wide"], lambda f: grey if f.clip else None, {1: ink_of("freestyle", 0.4)}
    )
    out = painter.paint(Seen(films=(film, figure)))
    left, right = out[:, :640], out[:, 640:]
    # Blue-green-red of the picture against the colours as they are written.
    for tone in ("trunk", "suit", "cap"):
        rgb = [int(COLOURS[tone][n : n + 2], 16) for n in (1, 3, 5)]
        assert (np.abs(right.astype(int) - rgb[::-1]).max(axis=2) < 6).sum() > 40, tone
        assert (np.abs(left.astype(int) - rgb[::-1]).max(axis=2) < 6).sum() == 0, tone
    # It is as wide as its half, and what is above and below is ground.
    assert tuple(right[60, 320]) == GROUND
    assert tuple(right[680, 320]) == GROUND
    air, sea = right[200, 20].tolist(), right[450, 20].tolist()
    assert air != sea
    assert GROUND not in (tuple(air), tuple(sea))
