"""The review on paper: a PDF that nobody has to print from a page first."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from norvik.core.judging.coaching_model import Drill, Fault
from norvik.core.prescription.prescribe import dose, mistakes_of
from norvik.formats.pdf import Sheet
from norvik.web.shared.clip_words import clip_words, look_at
from norvik.web.shared.filters import clock, number
from norvik.web.shared.language import day
from norvik.web.shared.paper import fonts
from norvik.workflow.review_document import FocusPage, ReviewDocument, Still, StrengthLine
from norvik.workflow.review_judgement import StrokeJudgement

#: A frame's picture as JPEG, with the measures of a fault drawn on it.
Picture = Callable[[Still, Fault | None], bytes]


def review_pdf(
    document: ReviewDocument, picture: Picture, pairs: Sequence[tuple[bytes, str]] = (),
    code: str = "",
) -> bytes:  # fmt: skip
    """What the swimmer needs, in the order of the page; the numbers stay on the page.

    pairs: films beside each other as JPEG, with their captions. code: the link that opens the
    review on a phone, as an SVG; empty without one.
    """
    j = document.judgement
    sheet = Sheet(fonts(), f"Stroke review, {j.swimmer.name}", "Norvik")

    def head() -> None:
        sheet.text(f"Stroke review · filmed {day(j.review.filmed_on)}", 9.5, muted=True)
        sheet.text(j.swimmer.name, 22, bold=True)
        if j.swimmer.aim:
            sheet.text(f"Aim: {j.swimmer.aim}", 12, muted=True)
        if j.review.words:
            sheet.text(j.review.words, 12.5)

    sheet.keep(head)
    if document.strengths:

        def good() -> None:
            sheet.heading("What you do well")
            sheet.bullets([_praise(document, s) for s in document.strengths])

        sheet.keep(good)
    if len([s for s in j.strokes if s.clips]) > 1:

        def strokes() -> None:
            sheet.heading("Stroke by stroke")
            sheet.bullets([_of_stroke(s) for s in j.strokes if s.clips])

        sheet.keep(strokes)
    for n, focus in enumerate(document.focuses):
        _focus(sheet, document, focus, n == 0, picture)

    for jpeg, caption in pairs:

        def side_by_side(jpeg: bytes = jpeg, caption: str = caption) -> None:
            sheet.heading("Side by side")
            sheet.pictures([(jpeg, caption)])

        sheet.keep(side_by_side)

    def after() -> None:
        sheet.heading("What we look at next time")
        sheet.text(
            f"We film again on {day(document.film_again_on.isoformat())}, once at easy effort and "
            "once near race pace: old habits come back with speed."
        )

    sheet.keep(after)

    def care() -> None:
        sheet.heading("Take care", 12)
        sheet.bullets([c.text for c in document.cautions], 9)

    sheet.keep(care)
    if code:

        def link() -> None:
            sheet.heading("On your phone", 12)
            sheet.text("This code opens the film, the drills and this week's sessions.", 9)
            sheet.drawing(code, 34)

        sheet.keep(link)
    return sheet.data()


def _of_stroke(section: StrokeJudgement) -> str:
    good = " ".join(f.says for f in section.of_kind("strength")[:2])
    points = ", ".join(r.fault.name.lower() for r in section.focuses)
    todo = f"To work on: {points}." if points else "Nothing to change for now: keep it as it is."
    return f"{section.stroke.capitalize()}: {good} {todo}"


def _praise(document: ReviewDocument, line: StrengthLine) -> str:
    side = f" ({line.finding.side})" if line.finding.side else ""
    stroke = f" ({line.judgement.stroke})" if len(document.judgement.strokes) > 1 else ""
    return f"{line.finding.says}{side}{stroke}"


def _focus(
    sheet: Sheet, document: ReviewDocument, focus: FocusPage, first: bool, picture: Picture
) -> None:
    fault = focus.ranked.fault

    def head() -> None:
        begin = "The one thing" if first else "Next, once that works"
        stroke = f", {focus.judgement.stroke}" if len(document.judgement.strokes) > 1 else ""
        sheet.heading(f"{begin}: {fault.name.lower()}{stroke}")
        sheet.cue(f"“{fault.cue}”")
        sheet.text(f"{fault.shows} {fault.why}")
        for m in focus.measured:
            if not m.quantity.unit:
                continue
            aim = f", aim for {m.aim}" if m.aim else ""
            sheet.text(
                f"{m.quantity.name}: {number(m.reading.value, m.quantity.digits)} "
                f"{m.quantity.unit}{aim}"
            )
        sheet.pictures([
            (picture(s, fault), f"{look_at(fault)} {clip_words(s.clip)}, {clock(s.time_s)} s")
            for s in focus.stills
        ])  # fmt: skip

    sheet.keep(head)
    if focus.instead:
        sheet.text(focus.instead, bold=True)
    for drill in focus.drills:
        effort = focus.judgement.effort(drill)
        sheet.keep(lambda drill=drill, effort=effort: _drill(sheet, drill, effort))  # type: ignore[misc]


def _drill(sheet: Sheet, drill: Drill, effort: int) -> None:
    sheet.text(f"{drill.name}: {dose(drill)}", 12, bold=True, gap=0.5)
    where = {"land": "On land", "water": "In the water"}[drill.place]
    kit = f" · with {', '.join(drill.kit)}" if drill.kit else ""
    sheet.text(f"{where} · effort {effort} of 6{kit}", 9.5, muted=True, gap=0.5)
    sheet.bullets(drill.how, 10.5, numbered=True)
    last = f"Think: {drill.cue}."
    if drill.mistakes:
        last += f" Common mistakes: {mistakes_of(drill)}"
    sheet.text(last.replace("..", "."), gap=3)
