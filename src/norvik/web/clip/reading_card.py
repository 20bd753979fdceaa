"""The card of what a film told by itself, above the numbers of the bench."""

from __future__ import annotations

from dataclasses import dataclass

from norvik.core.strokes.definitions import event_name
from norvik.store import club, readings
from norvik.store.jobs import Job
from norvik.web.clip.numbers import ArmShares, panel
from norvik.web.clip.read_measures import for_script
from norvik.web.shared.database import database
from norvik.workflow.clip_timing import ClipTiming
from norvik.workflow.first_answer import FirstAnswer, first_answer
from norvik.workflow.reading import Proposed, job_of


@dataclass(frozen=True)
class ReadingCard:
    """job: that reads the clip now. rate, u95: cycles a minute as the film told, or None.
    arms: phases of the mean cycle as far as proposed. moved: sentences of what corrections moved.
    can_read: the review copy is there. other_stroke: that the arms clearly look like, where it is
    another one than the clip's. by_itself: the club has films read while the machine is idle.
    passed: proposed measures that were passed over.
    """

    job: Job | None
    answer: FirstAnswer | None
    rate: float | None = None
    u95: float | None = None
    arms: tuple[ArmShares, ...] = ()
    moved: tuple[str, ...] = ()
    can_read: bool = True
    other_stroke: str = ""
    by_itself: bool = False
    passed: int = 0

    @property
    def running(self) -> bool:
        return self.job is not None and self.job.state in ("queued", "running")

    @property
    def to_confirm(self) -> bool:
        """True while marks or measures of the film are still to be looked at."""
        answer = self.answer
        return answer is not None and bool(answer.open or answer.measures)

    @property
    def measures(self) -> list[dict[str, object]]:
        """The measures still to be looked at, as the script of the page works with them."""
        if self.answer is None:
            return []
        return [for_script(self.answer.timed.clip, one) for one in self.answer.measures]

    @property
    def expected(self) -> bool:
        """True while the film will be read by itself soon."""
        unread = self.can_read and self.answer is None and not self.failure
        return self.by_itself and unread and not self.running

    @property
    def failure(self) -> str:
        """Why the last try ended without a reading; empty where it did not."""
        if self.job is None or self.job.state in ("queued", "running", "done"):
            return ""
        return self.job.failure or "Reading was stopped."

    @property
    def offered(self) -> bool:
        """True where there is something to show or to ask for."""
        if self.running or (self.answer is not None and self.to_confirm):
            return True
        return self.can_read and self.answer is None


def reading_card(timed: ClipTiming, left: Proposed | None = None) -> ReadingCard:
    """left: what is still proposed, where it is at hand."""
    job = job_of(database(), timed.clip.id)
    can_read = timed.clip.state == "ready"
    answer = first_answer(database(), timed, left)
    other = _other_stroke(answer, timed)
    passed = len(readings.passed_over(database(), timed.clip.id)) if answer else 0
    rate, u95 = _rate(answer, timed)
    if answer is None or not (answer.open or answer.measures):
        by_itself = club.reads_films(database())
        return ReadingCard(job, answer, rate, u95, can_read=can_read, other_stroke=other,
                           by_itself=by_itself, passed=passed)  # fmt: skip
    shares = tuple(a for a in panel(answer.timed).arms if a.shares) if answer.open else ()
    return ReadingCard(job, answer, rate, u95, shares, _moved(answer), can_read, other,
                       passed=passed)  # fmt: skip


def _rate(answer: FirstAnswer | None, timed: ClipTiming) -> tuple[float | None, float | None]:
    """Cycles a minute and their plus-minus, while no mark has measured them better."""
    interval = timed.timing.frame_interval_s
    if answer is None or not interval or not (answer.open or not timed.marks):
        return None, None
    cycle = answer.reading.cycle
    if cycle is None:
        return None, None
    rate = 60 / (cycle.frames * interval)
    return rate, rate * cycle.u95 / cycle.frames


#: How clearly the arms have to look like another stroke before it is said.
_CLEARLY = 0.25


def _other_stroke(answer: FirstAnswer | None, timed: ClipTiming) -> str:
    seen = answer.reading.looks_like if answer is not None else None
    if seen is None or seen[0] == timed.clip.stroke or seen[1] < _CLEARLY:
        return ""
    return seen[0]


def _moved(answer: FirstAnswer) -> tuple[str, ...]:
    """What the coach's corrections moved, the largest first; less than a frame is not told."""
    least = answer.timed.timing.frame_interval_s or 0.0
    said = []
    for s in sorted(answer.proposed.shifts, key=lambda s: -abs(s.seconds)):
        if abs(s.seconds) >= least:
            way = "later" if s.seconds > 0 else "earlier"
            said.append(f"{s.side} {event_name(s.event)} {abs(s.seconds):.2f} s {way}".strip())
    return tuple(said[:4])
