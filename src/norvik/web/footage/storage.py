"""Storage: what takes how much room, and originals that can be given up."""

from __future__ import annotations

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from norvik.core.errors import MarkError
from norvik.storage.release import release_original
from norvik.storage.report import storage_report
from norvik.store import recordings
from norvik.web.shared.database import database, settings

blueprint = Blueprint("storage", __name__, url_prefix="/storage")

_ROWS = 100


@blueprint.get("/")
def show() -> ResponseReturnValue:
    report = storage_report(database(), settings())
    largest = {kept.recording_id: kept for kept in report.recordings[:_ROWS]}
    rows = [(largest[r.id], r) for r in recordings.of_numbers(database(), list(largest))]
    return render_template("library/storage.html", report=report, rows=rows)


@blueprint.post("/release")
def release() -> ResponseReturnValue:
    """Give up the originals of the chosen recordings, whose review copies suffice."""
    ids = request.form.getlist("ids", type=int)
    if request.form.get("all"):
        report = storage_report(database(), settings())
        ids = [kept.recording_id for kept in report.recordings if kept.releasable]
    if not ids:
        raise MarkError("No recording is chosen.")
    for recording_id in ids:
        release_original(database(), settings(), recording_id)
    return redirect(url_for("storage.show"))
