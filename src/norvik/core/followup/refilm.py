"""What to film next time: views and instants, at easy effort and near race pace."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from norvik.core.frame.choices import CHOICES
from norvik.core.frame.measures import MEASURES
from norvik.core.judging.coaching_model import Catalogue, Fault
from norvik.core.judging.on_frame import Rule
from norvik.core.time.quantities import QUANTITIES

#: A change is proven twice: old habits come back with speed (common practice).
EFFORTS = ("easy", "near race pace")
_WHOLE = "five whole cycles"


@dataclass(frozen=True, slots=True)
class Shot:
    """One view to film. instants: what has to be seen. shows: names of faults and questions."""

    view: str
    instants: tuple[str, ...]
    shows: tuple[str, ...]


def refilm(
    focuses: Iterable[Fault],
    questions: Iterable[Fault],
    views: Sequence[str],
    catalogue: Catalogue,
    schools: Mapping[str, str],
) -> list[Shot]:
    """The views that show the focuses again and answer open questions, as few as possible.

    views: of the clips that were judged; one that shows a focus is filmed again. A question is
    asked because these views left it open, so another view is taken for it where there is one.
    """
    wanted: dict[str, tuple[list[str], list[str]]] = {}

    def want(seen_from: str, fault: Fault) -> None:
        instants, shows = wanted.setdefault(seen_from, ([], []))
        instants += [i for i in instants_of(fault, catalogue, schools) if i not in instants]
        shows += [fault.name] if fault.name not in shows else []

    for fault in focuses:
        already = next((v for v in fault.views if v in wanted), fault.views[0])
        want(next((v for v in views if v in fault.views), already), fault)
    for fault in questions:
        others = [v for v in fault.views if v not in views] or list(fault.views)
        want(next((v for v in others if v in wanted), others[0]), fault)
    return [Shot(v, tuple(i), tuple(s)) for v, (i, s) in wanted.items()]


def instants_of(fault: Fault, catalogue: Catalogue, schools: Mapping[str, str]) -> list[str]:
    """What has to be seen of a fault: instants of its measures, marks of its quantities."""
    found: list[str] = []
    for text in fault.shown_by:
        rule = Rule.read(text)
        known = CHOICES.get(rule.what) or MEASURES.get(rule.what)
        if known is not None and known.instant:
            found.append(known.instant)
    for band_id in fault.bands:
        quantity = QUANTITIES[catalogue.band(band_id, dict(schools)).quantity]
        found.append(f"marks for “{quantity.name.lower()}”")
    return list(dict.fromkeys(found)) or [_WHOLE]
