"""One toast for all: what was just done, with a button that undoes it."""

from __future__ import annotations

import json

from flask import Blueprint, flash, jsonify, make_response
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.store import undo
from norvik.store.undo import Step
from norvik.web.shared.database import database

blueprint = Blueprint("undo", __name__)
#: Category of the messages that base.html shows as a toast.
TOAST = "undo"


@blueprint.post("/undo/<int:step_id>")
def back(step_id: int) -> ResponseReturnValue:
    """Undo a step of the person who is signed in."""
    text = undo.undo(database(), current_user.id, step_id)
    return jsonify(text=f"Undone: {text}")


def with_toast(answer: ResponseReturnValue, step: Step) -> ResponseReturnValue:
    """An answer to htmx that shows the toast of a step; unchanged where nothing was done."""
    if not step.id:
        return answer
    response = make_response(answer)
    # ASCII alone: browsers read headers as Latin-1.
    response.headers["HX-Trigger"] = json.dumps({"undoable": {"text": step.text, "id": step.id}})
    return response


def toast_on_next_page(step: Step) -> None:
    """Show the toast on the page that comes next."""
    if step.id:
        flash(json.dumps({"text": step.text, "id": step.id}), TOAST)
