"""The review as a document: what the swimmer gets, with nothing of how it is shown."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from itertools import chain, zip_longest

from norvik.core.followup.refilm import Shot, refilm
from norvik.core.judging.coaching_model import Caution, Drill
from norvik.core.judging.joined import Joined
from norvik.core.judging.judged import Judged
from norvik.core.judging.ranking import Ranked
from norvik.core.judging.remarks import remark_of
from norvik.core.prescription.overcorrect import Aim
from norvik.core.prescription.prescribe import topics_of
from norvik.store.clips import Clip
from norvik.workflow.review_judgement import LEAST_STRENGTHS, ReviewJudgement, StrokeJudgement

#: One point gets two to three weeks in training (common practice); film again after them.
WEEKS_A_FOCUS = 3
#: Strengths in a review, at most: more would bury the point.
_MOST_STRENGTHS = 4
#: The complaint of a review without any focus.
NOTHING_CHOSEN = "Choose the one point to work on."
#: One picture says it; a second one of the same would only be longer.
_MOST_STILLS = 1


@dataclass(frozen=True, slots=True)
class Still:
    """A frame of a clip that shows something.

    chosen: by the coach. plain: without what is drawn on it.
    """

    clip: Clip
    frame: int
    time_s: float
    chosen: bool = False
    plain: bool = False


@dataclass(frozen=True)
class StrengthLine:
    """A good thing with the frame that shows it, if any does."""

    judgement: StrokeJudgement
    finding: Joined
    still: Still | None


@dataclass(frozen=True)
class FocusPage:
    """One point to work on. stills: frames to show, at most two, the coach's own first.

    instead: what to do while pain leaves no drill; empty otherwise.
    """

    judgement: StrokeJudgement
    ranked: Ranked
    measured: tuple[Judged, ...]
    stills: tuple[Still, ...]
    drills: tuple[Drill, ...]
    aims: tuple[Aim, ...]
    instead: str = ""


@dataclass(frozen=True)
class ReviewDocument:
    """complaints: what is missing before the review should go out, as sentences."""

    judgement: ReviewJudgement
    strengths: tuple[StrengthLine, ...]
    focuses: tuple[FocusPage, ...]
    cautions: tuple[Caution, ...]
    film_again_on: date
    film: tuple[Shot, ...]
    questions: tuple[Joined, ...]
    complaints: tuple[str, ...]


def review_document(judgement: ReviewJudgement, today: date) -> ReviewDocument:
    """Gather the review. today: for the proposed date of filming again."""
    focuses = tuple(_focus_page(section, r) for section, r in judgement.focuses)
    strengths = tuple(_strengths(judgement))
    topics = {"review", "filming"}
    swimmer = judgement.swimmer
    for focus in focuses:
        topics |= topics_of(focus.ranked.fault, focus.drills, swimmer.level, swimmer.minor)
    questions = [q for section in judgement.strokes for q in section.of_kind("open")]
    complaints = []
    if len(strengths) < LEAST_STRENGTHS:
        complaints.append("Name at least two good things first: tick what you saw.")
    if not focuses:
        complaints.append(NOTHING_CHOSEN)
    complaints += [
        f"“{f.ranked.fault.name}” has no drill." for f in focuses if not f.drills and not f.instead
    ]
    complaints += [
        f"“{section.catalogue.faults[fault].name}” is chosen, but no clip shows it any more."
        for section, fault in judgement.no_longer_found
    ]
    stored = judgement.review.film_again_on
    tables = judgement.strokes[0].catalogue if judgement.strokes else None
    return ReviewDocument(
        judgement=judgement,
        strengths=strengths,
        focuses=focuses,
        cautions=tuple(tables.cautions_for(topics)) if tables else (),
        film_again_on=(
            date.fromisoformat(stored)
            if stored
            # When the first of them is over: the plan films then, too.
            else today + timedelta(weeks=WEEKS_A_FOCUS)
        ),
        film=tuple(shot for section in judgement.strokes for shot in _shots(section)),
        questions=tuple(questions),
        complaints=tuple(complaints),
    )


def _strengths(judgement: ReviewJudgement) -> list[StrengthLine]:
    """The first of each stroke, then the second ones, so that none is passed over."""
    columns = [[(s, f) for f in s.of_kind("strength")] for s in judgement.strokes]
    mixed = chain.from_iterable(zip_longest(*columns))
    found = [pair for pair in mixed if pair is not None]
    return [
        StrengthLine(section, finding, next(iter(stills_of(section, finding)), None))
        for section, finding in found[:_MOST_STRENGTHS]
    ]


def _shots(section: StrokeJudgement) -> list[Shot]:
    faults = section.catalogue.faults
    return refilm(
        [r.fault for r in section.focuses],
        [faults[q.id] for q in section.of_kind("open") if q.id in faults],
        tuple(dict.fromkeys(c.clip.view for c in section.clips)),
        section.catalogue,
        section.swimmer.schools,
    )


def stills_of(section: StrokeJudgement, finding: Joined) -> list[Still]:
    """Frames that show a finding, of its best clip first."""
    found = []
    for clip, frame in section.frames_of(finding):
        judged = section.of_clip(clip.id)
        said = next((r for r in judged.remarks if r.id == remark_of(finding.id)), None)
        plain = said is not None and not said.drawn
        found.append(Still(clip, frame, judged.timed.time_base.time_of(frame), plain=plain))
    return found


def _focus_page(section: StrokeJudgement, ranked: Ranked) -> FocusPage:
    fault_id = ranked.fault.id
    stored = next(f for f in section.stored_focuses if f.fault == fault_id)
    measured = tuple({id(j): j for f in ranked.findings for j in f.judged}.values())
    here = {c.clip.id for c in section.clips}
    if stored.still_frame is not None and stored.still_clip in here:
        timed = section.of_clip(stored.still_clip).timed
        at = timed.time_base.time_of(stored.still_frame)
        stills: tuple[Still, ...] = (Still(timed.clip, stored.still_frame, at, chosen=True),)
    else:
        shown = [s for f in ranked.findings if isinstance(f, Joined) for s in stills_of(section, f)]
        stills = tuple(dict.fromkeys(shown))[:_MOST_STILLS]
    drills, aims = section.drills(fault_id), section.aims(fault_id)
    instead = "" if drills else section.prescription(fault_id).instead
    return FocusPage(section, ranked, measured, stills, tuple(drills), tuple(aims), instead)
