"""What the numbers of one topic of the bench mean."""

from __future__ import annotations

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue

from norvik.core.time.quantities import TOPICS
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.workflow.about_numbers import about_topic
from norvik.workflow.clip_timing import time_clip

blueprint = Blueprint("about_numbers", __name__, url_prefix="/clips/<int:clip_id>/about-numbers")


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    """Definition, unit, source and normal range of each number of a topic, for the dialog."""
    topic = next((t for t in TOPICS if t == request.args.get("topic")), next(iter(TOPICS)))
    timed = time_clip(database(), asked.ready_clip(clip_id))
    return render_template(
        "bench/_about_numbers.html", name=TOPICS[topic],
        numbers=about_topic(database(), timed, topic), topic=topic,
        rules=timed.timing.resolved.stroke,
    )  # fmt: skip
