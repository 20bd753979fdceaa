"""Writes docs/quantities.md: every declared quantity of time, from its declaration."""

from __future__ import annotations

from pathlib import Path

from norvik.core.time.quantities import QUANTITIES, TOPICS
from norvik.core.time.quantities.quantity import EVERY_STROKE, Quantity

OUT = Path(__file__).parent.parent / "docs" / "quantities.md"
HEAD = """# Quantities of time

Each is declared once, in `core/time/quantities/`; this page is written from the declarations by
`scripts/build-quantities.py`, and a test holds it to them. Plus-minus on screen is twice the
standard uncertainty (95 %); counts have none. `path` is the place of the same number in
`norvik timing --json`, which also lists all of them under `quantities`, by id.

"""


def line(q: Quantity) -> str:
    strokes = "all" if q.strokes == EVERY_STROKE else ", ".join(q.strokes)
    path = f"`{q.path}`" if q.path else "–"
    unit = q.unit or "–"
    return f"| `{q.id}` | {q.name} | {unit} | {strokes} | {q.definition} | {path} |"


def text() -> str:
    parts = [HEAD]
    for topic, name in [*TOPICS.items(), (None, "Held against limits only")]:
        rows = [line(q) for q in QUANTITIES.values() if q.topic == topic]
        parts.append(
            f"## {name}\n\n| id | on screen | unit | strokes | what is measured | path |\n"
            "|---|---|---|---|---|---|\n" + "\n".join(rows) + "\n\n"
        )
    return "".join(parts).rstrip() + "\n"


if __name__ == "__main__":
    OUT.write_text(text(), encoding="utf-8")
