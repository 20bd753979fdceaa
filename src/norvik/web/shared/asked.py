"""What the address of a request names, loaded for the person who asks (`workflow/access.py`)."""

from __future__ import annotations

from dataclasses import dataclass

from flask import request
from flask_login import current_user

from norvik.core.errors import NotReadyError
from norvik.store.clips import Clip
from norvik.store.made_films import MadeFilm
from norvik.store.plans import StoredPlan
from norvik.store.pool_tests import SwumTest
from norvik.store.recordings import Recording
from norvik.store.reviews import Review
from norvik.store.swimmers import Swimmer
from norvik.store.swims import Swim
from norvik.store.talks import Talk
from norvik.web.shared.database import database
from norvik.workflow import access
from norvik.workflow.access import Deed, Person
from norvik.workflow.clip_judgement import ClipJudgement
from norvik.workflow.review_judgement import (
    ReviewJudgement,
    StrokeJudgement,
    judge_review,
    judge_with,
)


def person() -> Person:
    return Person(current_user.id, current_user.role)


def deed() -> Deed:
    """Reading is seeing; every other request changes something."""
    return "see" if request.method in ("GET", "HEAD") else "change"


def clip(clip_id: int) -> Clip:
    return access.clip(database(), person(), clip_id, deed())


def ready_clip(clip_id: int) -> Clip:
    """A clip of which something can be seen. Raises NotReadyError while it is being prepared."""
    found = clip(clip_id)
    if not found.watchable:
        raise NotReadyError("This clip is still being prepared. Wait until it is ready.")
    return found


def review(review_id: int) -> Review:
    return access.review(database(), person(), review_id, deed())


def judged_review(review_id: int) -> ReviewJudgement:
    """A review with all that its clips say."""
    return judge_review(database(), review(review_id))


@dataclass(frozen=True, slots=True)
class ClipInReview:
    """A clip, the review that it is judged in, and what all its clips of that stroke say."""

    clip: Clip
    own: ClipJudgement
    section: StrokeJudgement
    review: ReviewJudgement


def clip_in_review(clip_id: int) -> ClipInReview:
    """A clip with its review judged. Raises NotReadyError while it is being prepared."""
    found = ready_clip(clip_id)
    judged = judge_with(database(), found)
    section = judged.stroke(found.stroke)
    return ClipInReview(found, section.of_clip(clip_id), section, judged)


def recording(recording_id: int) -> Recording:
    return access.recording(database(), person(), recording_id, deed())


def swimmer(swimmer_id: int) -> Swimmer:
    return access.swimmer(database(), person(), swimmer_id, deed())


def plan(plan_id: int) -> StoredPlan:
    return access.plan(database(), person(), plan_id, deed())


def swim(swim_id: int) -> Swim:
    return access.swim(database(), person(), swim_id, deed())


def pool_test(test_id: int) -> SwumTest:
    return access.pool_test(database(), person(), test_id, deed())


def talk(talk_id: int) -> Talk:
    return access.talk(database(), person(), talk_id, deed())


def made_film(film_id: int) -> MadeFilm:
    return access.made_film(database(), person(), film_id, deed())
