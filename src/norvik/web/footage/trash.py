"""The trash: bring clips back, or delete them for good."""

from __future__ import annotations

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from norvik.storage.release import delete_for_good
from norvik.store import swimmer_removal, trash
from norvik.store.connection import transaction
from norvik.web.footage.library import ids_from_request
from norvik.web.shared import asked
from norvik.web.shared.database import database, settings

blueprint = Blueprint("trash", __name__, url_prefix="/trash")


@blueprint.get("/")
def show() -> ResponseReturnValue:
    found = trash.all_of_it(database(), asked.within())
    each = {clip.id: trash.contents(database(), [clip.id]) for clip in found[:200]}
    return render_template(
        "library/trash.html",
        clips=found[:200],
        count=len(found),
        each=each,
        removed=swimmer_removal.removed(database(), asked.within()),
        kept_days=swimmer_removal.KEPT_DAYS,
        contents=trash.contents(database(), [c.id for c in found]) if found else None,
    )


@blueprint.post("/bring-back")
def bring_back() -> ResponseReturnValue:
    with transaction(database()):
        trash.bring_back(database(), ids_from_request())
    return redirect(url_for("trash.show"))


@blueprint.post("/delete")
def delete() -> ResponseReturnValue:
    """Delete permanently: the clips named, or all of the trash."""
    if request.form.get("all"):
        ids = [clip.id for clip in trash.all_of_it(database(), asked.within())]
    else:
        ids = ids_from_request()
    delete_for_good(database(), settings(), ids)
    return redirect(url_for("trash.show"))
