"""What the address of a request names, loaded for the person who asks (`workflow/access.py`)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import cast

from flask import g, request
from flask_login import current_user

from norvik.core.errors import ApartError, NotReadyError
from norvik.store import reviews
from norvik.store.clips import Clip
from norvik.store.made_films import MadeFilm
from norvik.store.plans import StoredPlan
from norvik.store.pool_tests import SwumTest
from norvik.store.recordings import Recording
from norvik.store.reviews import Review
from norvik.store.scope import Within
from norvik.store.swimmers import Swimmer
from norvik.store.swims import Swim
from norvik.store.talks import Talk
from norvik.web.shared.database import database
from norvik.web.shared.route_deeds import deed_of
from norvik.workflow import access
from norvik.workflow.access import Deed, Person, person_of
from norvik.workflow.clip_judgement import ClipJudgement
from norvik.workflow.consent import require_consent
from norvik.workflow.review_judgement import (
    ReviewJudgement,
    StrokeJudgement,
    judge_review,
    review_of,
)


def person() -> Person:
    """Who asks, with the swimmers whose things they may touch; looked up once in a request."""
    if "person" not in g:
        g.person = person_of(
            database(), current_user.id, current_user.role, date.today().isoformat()
        )
    return cast(Person, g.person)


def deed() -> Deed:
    """What the route of this request does."""
    return deed_of(request.endpoint or "", request.method)


def within() -> Within:
    """Whose rows the lists of this request show."""
    return person().within


def may(wanted: Deed) -> bool:
    """May this person do that at all? For what a page offers."""
    return current_user.is_authenticated and access.may(person(), wanted)


def filmed_swimmer(swimmer_id: int) -> int:
    """The id of a swimmer to whom a clip is given. Raises ConsentError where none may be taken."""
    require_consent(swimmer(swimmer_id), "filming")
    return swimmer_id


def _remember(kind: str, key: int, swimmer_id: int | None) -> None:
    """The first thing that a request names is what it is about, for the trail."""
    if "asked_for" not in g:
        g.asked_for = (kind, key, swimmer_id)


def clip(clip_id: int) -> Clip:
    found = access.clip(database(), person(), clip_id, deed())
    _remember("clip", clip_id, found.swimmer_id)
    return found


def ready_clip(clip_id: int) -> Clip:
    """A clip of which something can be seen. Raises NotReadyError while it is being prepared."""
    found = clip(clip_id)
    if not found.watchable:
        raise NotReadyError("This clip is still being prepared. Wait until it is ready.")
    return found


def review(review_id: int) -> Review:
    found = access.review(database(), person(), review_id, deed())
    _remember("review", review_id, found.swimmer_id)
    return found


def judged_review(review_id: int) -> ReviewJudgement:
    """A review with all that its clips say."""
    return judge_review(database(), review(review_id))


def review_of_clip(found: Clip) -> Review:
    """The review in which a clip is judged. A deed begins one for a clip that stands apart.

    Looking changes nothing: then such a clip raises ApartError.
    """
    looks = request.method in ("GET", "HEAD")
    if looks and found.swimmer_id and reviews.id_of_clip(database(), found.id) is None:
        raise ApartError("This clip is not in a review yet.")
    return review_of(database(), found)


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
    judged = judge_review(database(), review_of_clip(found))
    section = judged.stroke(found.stroke)
    return ClipInReview(found, section.of_clip(clip_id), section, judged)


def recording(recording_id: int) -> Recording:
    found = access.recording(database(), person(), recording_id, deed())
    _remember("recording", recording_id, None)
    return found


def swimmer(swimmer_id: int) -> Swimmer:
    found = access.swimmer(database(), person(), swimmer_id, deed())
    _remember("swimmer", swimmer_id, found.id)
    return found


def plan(plan_id: int) -> StoredPlan:
    found = access.plan(database(), person(), plan_id, deed())
    _remember("plan", plan_id, found.swimmer_id)
    return found


def swim(swim_id: int) -> Swim:
    found = access.swim(database(), person(), swim_id, deed())
    _remember("swim", swim_id, found.swimmer_id)
    return found


def pool_test(test_id: int) -> SwumTest:
    found = access.pool_test(database(), person(), test_id, deed())
    _remember("pool test", test_id, found.swimmer_id)
    return found


def talk(talk_id: int) -> Talk:
    found = access.talk(database(), person(), talk_id, deed())
    _remember("talk", talk_id, None)
    return found


def made_film(film_id: int) -> MadeFilm:
    found = access.made_film(database(), person(), film_id, deed())
    _remember("film", film_id, None)
    return found
