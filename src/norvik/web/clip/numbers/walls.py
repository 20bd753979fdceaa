"""Turns, push-offs and finishes."""

from __future__ import annotations

from dataclasses import fields

from norvik.core.time.walls import Wall, wall_marks
from norvik.web.clip.numbers.parts import Number, Writer

#: Field of a wall: how it is called, its unit, digits, and whether it is a count.
_ROWS = {
    "glide_in_s": ("Glide to the wall", "s", 2, False),
    "turn_s": ("Touch to push-off", "s", 2, False),
    "under_water_s": ("Under water", "s", 2, False),
    "breakout_m": ("Breakout distance", "m", 1, False),
    "beats": ("Kicks under water", "", 0, True),
    "strokes_before_breath": ("Strokes before the first breath", "", 0, True),
    "five_m_in_out_s": ("5 m in to 5 m out", "s", 2, False),
}


def walls(w: Writer) -> list[Number]:
    found: list[Number] = []
    for n, (wall, marks) in enumerate(
        zip(w.timing.walls, wall_marks(w.resolved, w.timing.pool_m), strict=True)
    ):
        at = w.of_marks(marks.instants.values())
        found.append(Number(_kind(wall), f"wall {n + 1}", frames=at))
        for field in fields(Wall):
            if field.name not in _ROWS or getattr(wall, field.name) is None:
                continue
            name, unit, digits, counted = _ROWS[field.name]
            ends = marks.intervals.get(field.name)
            found.append(
                w.one(name, f"walls.{n}.{field.name}", getattr(wall, field.name), unit, digits,
                      frames=w.of_marks(ends) if ends else at, counted=counted)
            )  # fmt: skip
    return found


def _kind(wall: Wall) -> str:
    if wall.touch_s is None:
        return "Push-off"
    return "Turn" if wall.push_s is not None else "Finish"
