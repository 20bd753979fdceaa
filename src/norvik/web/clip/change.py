"""What really changed between two clips of a swimmer."""

from __future__ import annotations

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue

from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.workflow.clip_change import beside, change_between, counterpart_of, mates_of, others_of

blueprint = Blueprint("change", __name__, url_prefix="/clips/<int:clip_id>/change")


@blueprint.get("/")
def show(clip_id: int) -> ResponseReturnValue:
    """Against the clip that is asked for, else against its counterpart of the day before."""
    clip = asked.ready_clip(clip_id)
    others = others_of(database(), clip)
    wanted = request.args.get("with", type=int)
    other = asked.clip(wanted) if wanted is not None else counterpart_of(clip, others)
    found = change_between(database(), clip, other) if other is not None else None
    return render_template(
        "change/page.html", clip=clip, others=others, other=other, change=found,
        beside=beside(database(), clip), mates=mates_of(database(), clip),
    )  # fmt: skip
