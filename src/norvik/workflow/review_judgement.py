"""A review judged over all its clips: findings, their order and the prescription, by stroke."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from functools import cached_property

from norvik.core.errors import NotFoundError
from norvik.core.judging.coaching_model import Catalogue, Caution, Drill, School
from norvik.core.judging.joined import Joined, join
from norvik.core.judging.judged import Finding
from norvik.core.judging.ranking import Ranked, rank
from norvik.core.prescription.overcorrect import Aim, aim_of
from norvik.core.prescription.prescribe import Prescription, effort_of, prescribe, topics_of
from norvik.core.strokes.names import StrokeName
from norvik.store import clips, review_clips, reviews, swimmers
from norvik.store.clips import Clip
from norvik.store.reviews import Focus, Review
from norvik.store.swimmers import Swimmer
from norvik.workflow.clip_judgement import ClipJudgement, receiver_of, swimmer_tables
from norvik.workflow.kept_judgements import judged_clips

#: Points to work on at once, at most, over all strokes of a review.
MOST_FOCUSES = 3
#: For the day of a long event, whose hours are shared between them.
MOST_FOCUSES_LONG_EVENT = 4
#: Good things that are said before the first fault, at least.
LEAST_STRENGTHS = 2


@dataclass(frozen=True)
class StrokeJudgement:
    """What the clips of one stroke in a review say together.

    clips: may be none, where the clips from which something was chosen are gone.
    """

    review: Review
    stroke: StrokeName
    swimmer: Swimmer
    catalogue: Catalogue
    clips: tuple[ClipJudgement, ...]

    def of_clip(self, clip_id: int) -> ClipJudgement:
        """Raises NotFoundError for a clip that does not count in this review."""
        found = next((c for c in self.clips if c.clip.id == clip_id), None)
        if found is None:
            raise NotFoundError("This clip is no longer in the review. Reload the page.")
        return found

    @cached_property
    def findings(self) -> tuple[Joined, ...]:
        return tuple(join([c.for_review for c in self.clips], self.catalogue))

    @property
    def faults(self) -> list[Joined]:
        """Without the strengths."""
        return [f for f in self.findings if f.kind != "strength"]

    @cached_property
    def ranked(self) -> tuple[Ranked, ...]:
        """The faults in the order in which to work on them."""
        order = self.catalogue.questions["order"].chosen(self.swimmer.schools).id
        return tuple(rank(self.findings, self.catalogue, self.swimmer.pain, order))

    def of_kind(self, kind: str) -> list[Joined]:
        return [f for f in self.findings if f.kind == kind]

    @property
    def stored_focuses(self) -> list[Focus]:
        return self.review.of_stroke(self.stroke)

    @property
    def focuses(self) -> list[Ranked]:
        """The chosen points that the findings still show, in the coach's order."""
        by_id = {r.fault.id: r for r in self.ranked}
        return [by_id[f.fault] for f in self.stored_focuses if f.fault in by_id]

    def prescription(self, fault_id: str) -> Prescription:
        found = {r.fault.id for r in self.ranked}
        fault = self.catalogue.faults[fault_id]
        return prescribe(fault, self.catalogue, found, receiver_of(self.swimmer))

    def effort(self, drill: Drill) -> int:
        """Effort of a drill by the swimmer's school, 1 to 6."""
        return effort_of(drill, self.catalogue, self.swimmer.schools)

    def aims(self, fault_id: str) -> list[Aim]:
        """Where to aim, beyond the target, for what the swimmer changes without seeing it."""
        found = [
            aim_of(m.quantity.id, f.side or m.side, m.reading.value, m.band)
            for f in self.findings
            if f.id == fault_id and f.kind == "fault"
            for m in f.judged
        ]
        return [aim for aim in found if aim is not None]

    def cautions(self, fault_id: str) -> list[Caution]:
        """What has to be said beside a focus because of the parts that it or its drills load."""
        fault = self.catalogue.faults[fault_id]
        topics = topics_of(fault, self.drills(fault_id), self.swimmer.level)
        return self.catalogue.cautions_for(topics)

    def schools(self) -> dict[str, School]:
        """Question id to the school that was used, of what is asked for this stroke."""
        return {
            q.id: q.chosen(self.swimmer.schools)
            for q in self.catalogue.questions.values()
            if not q.strokes or self.stroke in q.strokes
        }

    def drills(self, fault_id: str) -> list[Drill]:
        """The drills of a focus: what the coach kept of the suitable ones, else as prescribed."""
        given = self.prescription(fault_id)
        kept = next((f.drills for f in self.stored_focuses if f.fault == fault_id), None)
        if kept is None:
            return list(given.drills)
        suitable = {d.id: d for d in (*given.drills, *given.others)}
        return [suitable[d] for d in kept if d in suitable]

    def frames_of(self, finding: Finding) -> list[tuple[Clip, int]]:
        """Where to look for a finding: (clip, frame) of each clip, the best evidence first."""
        if not isinstance(finding, Joined):
            return []
        found: list[tuple[Clip, int]] = []
        for evidence in finding.evidence:
            judged = self.of_clip(evidence.clip)
            found += [(judged.clip, judged.timed.frame_of(t)) for t in evidence.finding.instants]
        return list(dict.fromkeys(found))


@dataclass(frozen=True, slots=True)
class Lost:
    """A clip of the review that counts no more.

    why: "moved", "trashed", "deleted" or "stroke" (it counts, but shows another stroke than when it
    came in). was: what it showed, in words of the formats: stroke, view, day. clip: None once it
    was deleted.
    """

    why: str
    was: str
    clip: Clip | None = None


@dataclass(frozen=True)
class ReviewJudgement:
    """A review with all that its clips say.

    strokes: one judgement for each stroke, that of most clips first. lost: clips of which the
    review says what became of them. waiting: clips that are still being prepared.
    """

    review: Review
    swimmer: Swimmer
    strokes: tuple[StrokeJudgement, ...]
    lost: tuple[Lost, ...] = ()
    waiting: tuple[Clip, ...] = ()

    @property
    def clips(self) -> list[ClipJudgement]:
        return [c for s in self.strokes for c in s.clips]

    def stroke(self, stroke: StrokeName) -> StrokeJudgement:
        """Raises NotFoundError."""
        found = next((s for s in self.strokes if s.stroke == stroke), None)
        if found is None:
            raise NotFoundError(f"This review holds no {stroke}. Reload the page.")
        return found

    @property
    def focuses(self) -> list[tuple[StrokeJudgement, Ranked]]:
        """The chosen points that are still found, over all strokes, in the coach's order."""
        found = {(s.stroke, r.fault.id): (s, r) for s in self.strokes for r in s.focuses}
        places = [(f.stroke, f.fault) for f in self.review.focuses]
        return [found[place] for place in places if place in found]

    @property
    def no_longer_found(self) -> list[tuple[StrokeJudgement, str]]:
        """Chosen points that no clip shows any more: (judgement of the stroke, id of the fault)."""
        return [
            (s, f.fault)
            for s in self.strokes
            for f in s.stored_focuses
            if f.fault in s.catalogue.faults and f.fault not in {r.fault.id for r in s.ranked}
        ]


def judge_review(connection: sqlite3.Connection, review: Review) -> ReviewJudgement:
    """Judge a review from what is stored of its clips. Raises NotFoundError without a swimmer."""
    if review.swimmer_id is None:
        raise NotFoundError("This clip has no swimmer yet. Assign one first: Details on the bench.")
    swimmer = swimmers.by_id(connection, review.swimmer_id)
    judged: dict[StrokeName, list[ClipJudgement]] = {}
    lost: list[Lost] = []
    waiting: list[Clip] = []
    counting: list[Clip] = []
    stored = {c.id: c for c in clips.by_ids(connection, review.clip_ids)}
    for member in review.members:
        if member.clip_id is None or member.clip_id not in stored:
            lost.append(Lost("deleted", member.was))
            continue
        clip = stored[member.clip_id]
        was = f"{member.stroke or clip.stroke}, {clip.view}, {clip.filmed_on}"
        if clip.swimmer_id != review.swimmer_id:
            lost.append(Lost("moved", was, clip))
        elif clip.trashed_at:
            lost.append(Lost("trashed", was, clip))
        elif not clip.watchable:
            waiting.append(clip)
        else:
            if member.stroke and member.stroke != clip.stroke:
                lost.append(Lost("stroke", was, clip))
            counting.append(clip)
    for one in judged_clips(connection, counting):
        judged.setdefault(one.clip.stroke, []).append(one)
    for focus in review.focuses:
        judged.setdefault(focus.stroke, [])
    strokes = [
        StrokeJudgement(
            review, stroke, swimmer, swimmer_tables(connection, swimmer, stroke), tuple(of_stroke),
        )
        for stroke, of_stroke in judged.items()
    ]  # fmt: skip
    strokes.sort(key=lambda s: -len(s.clips))
    return ReviewJudgement(review, swimmer, tuple(strokes), tuple(lost), tuple(waiting))


def review_of(connection: sqlite3.Connection, clip: Clip) -> Review:
    """The review in which a clip is judged; one is begun for a clip that stands apart.

    Raises NotFoundError for a clip without a swimmer.
    """
    if clip.swimmer_id is None:
        raise NotFoundError("This clip has no swimmer yet. Assign one first: Details on the bench.")
    found = reviews.id_of_clip(connection, clip.id)
    if found is None:
        found = review_clips.begin(connection, clip.swimmer_id, clip.filmed_on)
        review_clips.put_in(connection, found, clip.id)
    return reviews.by_id(connection, found)


def judge_with(connection: sqlite3.Connection, clip: Clip) -> ReviewJudgement:
    """The review in which a clip is judged, judged."""
    return judge_review(connection, review_of(connection, clip))
