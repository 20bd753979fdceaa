"""Film the model swimmer for a comparison."""

from __future__ import annotations

from norvik.files import names
from norvik.model.wish import ModelWish, film_wish
from norvik.work.place import Place
from norvik.work.report import Report


def film_model(order: ModelWish, place: Place, report: Report) -> None:
    """A film that is there already stays."""
    name = names.model_film(order.name)
    if place.footage.has(name):
        return
    with place.scratch(f"model-{order.name}") as folder:
        out = folder / "film.mp4"
        film_wish(order, out, lambda done, of: report("filming the model swimmer", done, of))
        place.footage.put(out, name)
