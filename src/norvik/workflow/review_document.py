"""The review as a document: what the swimmer gets, with nothing of how it is shown."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from norvik.core.followup.refilm import Shot, refilm
from norvik.core.judging.coaching_model import Caution, Drill
from norvik.core.judging.judged import Finding, Judged
from norvik.core.judging.ranking import Ranked
from norvik.core.prescription.overcorrect import Aim
from norvik.core.prescription.prescribe import topics_of
from norvik.workflow.clip_judgement import LEAST_STRENGTHS, Judgement

#: One point gets two to three weeks in training (common practice); film again after them.
WEEKS_A_FOCUS = 3
#: Strengths in a review, at most: more would bury the point.
_MOST_STRENGTHS = 4
_MOST_STILLS = 2


@dataclass(frozen=True)
class FocusPage:
    """One point to work on. stills: frames to show, at most two. instead: what to do while pain

    leaves no drill; empty otherwise.
    """

    ranked: Ranked
    measured: tuple[Judged, ...]
    stills: tuple[int, ...]
    drills: tuple[Drill, ...]
    aims: tuple[Aim, ...]
    instead: str = ""


@dataclass(frozen=True)
class ReviewDocument:
    """complaints: what is missing before the review should go out, as sentences."""

    judgement: Judgement
    strengths: tuple[Finding, ...]
    focuses: tuple[FocusPage, ...]
    cautions: tuple[Caution, ...]
    film_again_on: date
    film: tuple[Shot, ...]
    questions: tuple[Finding, ...]
    complaints: tuple[str, ...]


def review_document(judgement: Judgement, today: date) -> ReviewDocument:
    """Gather the review of a clip. today: for the proposed date of filming again."""
    focuses = tuple(_focus_page(judgement, r) for r in judgement.focuses)
    strengths = tuple(judgement.of_kind("strength")[:_MOST_STRENGTHS])
    topics = {"review", "filming"}
    for focus in focuses:
        swimmer = judgement.swimmer
        topics |= topics_of(focus.ranked.fault, focus.drills, swimmer.level, swimmer.minor)
    questions = judgement.of_kind("open")
    faults = judgement.catalogue.faults
    shots = refilm(
        [f.ranked.fault for f in focuses],
        [faults[q.id] for q in questions if q.id in faults],
        judgement.clip.view,
        judgement.catalogue,
        judgement.swimmer.schools,
    )
    complaints = []
    if len(strengths) < LEAST_STRENGTHS:
        complaints.append("Say at least two good things first: tick what you saw.")
    if not focuses:
        complaints.append("Choose the one point to work on.")
    complaints += [
        f"“{f.ranked.fault.name}” has no drill." for f in focuses if not f.drills and not f.instead
    ]
    stored = judgement.review.film_again_on
    return ReviewDocument(
        judgement=judgement,
        strengths=strengths,
        focuses=focuses,
        cautions=tuple(judgement.catalogue.cautions_for(topics)),
        film_again_on=(
            date.fromisoformat(stored)
            if stored
            # When the first of them is over: the plan films then, too.
            else today + timedelta(weeks=WEEKS_A_FOCUS)
        ),
        film=tuple(shots),
        questions=tuple(questions),
        complaints=tuple(complaints),
    )


def _focus_page(judgement: Judgement, ranked: Ranked) -> FocusPage:
    stored = next(f for f in judgement.review.focuses if f.fault == ranked.fault.id)
    measured = tuple(j for f in ranked.findings for j in f.judged)
    if stored.still_frame is not None:
        stills: tuple[int, ...] = (stored.still_frame,)
    else:
        shown = [judgement.timed.frame_of(t) for f in ranked.findings for t in f.instants]
        stills = tuple(dict.fromkeys(shown))[:_MOST_STILLS]
    fault_id = ranked.fault.id
    drills, aims = judgement.drills(fault_id), judgement.aims(fault_id)
    instead = "" if drills else judgement.prescription(fault_id).instead
    return FocusPage(ranked, measured, stills, tuple(drills), tuple(aims), instead)
