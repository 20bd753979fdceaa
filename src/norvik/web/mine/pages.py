"""The pages of a swimmer's own account: every finished review, the plan, and what to answer."""

from __future__ import annotations

from datetime import date
from functools import wraps
from typing import Any

from flask import Blueprint, make_response, render_template
from flask.typing import ResponseReturnValue

from norvik.web.link.page import View, add_views, private
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.workflow.own_pages import own_pages, own_review

blueprint = Blueprint("mine", __name__, url_prefix="/mine")


@blueprint.get("/")
def index() -> ResponseReturnValue:
    return render_template(
        "mine/index.html", pages=own_pages(database(), asked.person()), today=date.today()
    )


def _by_account(view: View) -> View:
    """Hands a review of the signed-in person's swimmer to a view."""

    @wraps(view)
    def found(swimmer_id: int, review_id: int, **named: Any) -> ResponseReturnValue:
        link = own_review(database(), asked.person(), swimmer_id, review_id)
        return private(make_response(view(link, **named)))

    return found


add_views(blueprint, _by_account, "/<int:swimmer_id>/reviews/<int:review_id>")
