"""The review on paper: a PDF that nobody has to print from a page first."""

from __future__ import annotations

from collections.abc import Callable

from norvik.core.judging.coaching_model import Drill, Fault
from norvik.core.prescription.prescribe import dose
from norvik.formats.pdf import Sheet
from norvik.web.clip.numbers import Panel
from norvik.web.clip.stills import KeptStill
from norvik.web.shared.filters import VIEW_NAMES, clock, number, plus_minus_of
from norvik.web.shared.language import day
from norvik.web.shared.paper import fonts
from norvik.workflow.review_document import FocusPage, ReviewDocument

#: A frame's picture as JPEG, with the measures of a fault drawn on it.
Picture = Callable[[int, Fault | None], bytes]


def review_pdf(
    document: ReviewDocument, panel: Panel, picture: Picture, kept: list[KeptStill]
) -> bytes:
    """The same content as the review's page, in the same order."""
    j = document.judgement
    clip = j.clip
    sheet = Sheet(fonts(), f"Stroke review, {j.swimmer.name}", "Norvik")

    def head() -> None:
        sheet.text(
            f"Stroke review · {clip.stroke}, {VIEW_NAMES[clip.view]} · filmed "
            f"{day(clip.filmed_on)}",
            9.5, muted=True,
        )  # fmt: skip
        sheet.text(j.swimmer.name, 22, bold=True)
        if j.swimmer.aim:
            sheet.text(f"Aim: {j.swimmer.aim}", 12, muted=True)
        if j.timed.doubts:
            sheet.text(
                "The slow-motion setting of this clip may be wrong, and every time and rate below "
                f"with it. {' '.join(j.timed.doubts)}", bold=True,
            )  # fmt: skip
        if j.review.words:
            sheet.text(j.review.words, 12.5)

    sheet.keep(head)
    if document.strengths:

        def good() -> None:
            sheet.heading("What is good")
            sheet.bullets([f.says + (f" ({f.side})" if f.side else "") for f in document.strengths])

        sheet.keep(good)
    pictured: set[int] = set()
    for n, focus in enumerate(document.focuses):
        _focus(sheet, document, focus, n == 0, picture)
        pictured |= set(focus.stills)
    others = [s for s in kept if s.frame not in pictured]
    for first in range(0, len(others), 2):
        pair = others[first : first + 2]
        sheet.keep(lambda pair=pair: sheet.pictures(  # type: ignore[misc]
            [(picture(s.frame, None), s.caption or f"Frame {s.frame}") for s in pair]
        ))  # fmt: skip

    def numbers() -> None:
        sheet.heading("The numbers")
        rows = [
            (n.name or "that is", f"{n.value} {n.unit} {n.swimmer or n.spread}".strip())
            for n in (*panel.rate, *panel.topic("coordination"), *panel.topic("breathing"))
            if n.value != "–"
        ]
        sheet.table(rows, (0.6, 0.4))
        sheet.text("± says how well these cycles tell how you swim: 95 of 100 lie within it.", 9,
                   muted=True)  # fmt: skip

    sheet.keep(numbers)

    def after() -> None:
        sheet.heading("Next")
        sheet.text(
            f"Film again on {day(document.film_again_on.isoformat())}, once at easy effort and "
            "once near race pace: old habits come back with speed."
        )
        sheet.bullets([f"{VIEW_NAMES[s.view].capitalize()}: {', '.join(s.instants)}"
                       for s in document.film])  # fmt: skip

    sheet.keep(after)

    def care() -> None:
        sheet.heading("Take care", 12)
        sheet.bullets([c.text for c in document.cautions], 9.5)

    sheet.keep(care)
    return sheet.data()


def _focus(
    sheet: Sheet, document: ReviewDocument, focus: FocusPage, first: bool, picture: Picture
) -> None:
    j, fault = document.judgement, focus.ranked.fault

    def head() -> None:
        begin = "Work on this first" if first else "Next, once that works"
        sheet.heading(f"{begin}: {fault.name.lower()}")
        sheet.cue(f"“{fault.cue}”")
        sheet.text(f"{fault.shows} {fault.why}")
        for m in focus.measured:
            sure = plus_minus_of(m.reading, m.quantity.digits)
            aim = f" · aim: {m.aim}" if m.aim else ""
            sheet.text(
                f"{m.quantity.name}: {number(m.reading.value, m.quantity.digits)} "
                f"{m.quantity.unit} {sure}{aim}"
            )
        sheet.pictures([
            (picture(frame, fault), f"Frame {frame}, {clock(j.timed.time_base.time_of(frame))} s")
            for frame in focus.stills
        ])  # fmt: skip

    sheet.keep(head)
    if focus.instead:
        sheet.text(focus.instead, bold=True)
    for drill in focus.drills:
        sheet.keep(lambda drill=drill: _drill(sheet, drill, j.effort(drill)))  # type: ignore[misc]


def _drill(sheet: Sheet, drill: Drill, effort: int) -> None:
    sheet.text(f"{drill.name}: {dose(drill)}", 12, bold=True, gap=0.5)
    where = {"land": "On land", "water": "In the water"}[drill.place]
    kit = f" · with {', '.join(drill.kit)}" if drill.kit else ""
    sheet.text(f"{where} · effort {effort} of 6{kit}", 9.5, muted=True, gap=0.5)
    sheet.bullets(drill.how, 10.5, numbered=True)
    sheet.text(f"Think: {drill.cue}. Next: {drill.progression}".replace("..", "."), gap=3)
