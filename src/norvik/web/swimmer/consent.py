"""Consent of one swimmer: what is allowed, by whom, until when; noting it and withdrawing it."""

from __future__ import annotations

import secrets
from datetime import date
from pathlib import Path

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import ConsentError, NotFoundError
from norvik.files.footage import PAPERS, scratch
from norvik.store import consents
from norvik.store.connection import transaction
from norvik.web.shared import asked
from norvik.web.shared.database import database, footage, settings
from norvik.web.shared.kept_file import kept_file
from norvik.workflow import consent, trail

blueprint = Blueprint("consent", __name__, url_prefix="/swimmers/<int:swimmer_id>/consent")

#: What a scan may be, by how its file begins; how large it may be.
_SCANS = {b"%PDF-": (".pdf", "application/pdf"), b"\xff\xd8\xff": (".jpg", "image/jpeg"),
          b"\x89PNG\r\n\x1a\n": (".png", "image/png")}  # fmt: skip
_MOST_BYTES = 10 << 20


@blueprint.get("/")
def show(swimmer_id: int) -> ResponseReturnValue:
    swimmer = asked.swimmer(swimmer_id)
    return render_template(
        "consent/page.html", swimmer=swimmer, allowed=consent.allowed(database(), swimmer),
        today=date.today().isoformat(),
    )  # fmt: skip


@blueprint.post("/")
def give(swimmer_id: int) -> ResponseReturnValue:
    swimmer, form = asked.swimmer(swimmer_id), request.form
    paper = _keep_scan()
    try:
        with transaction(database()):
            consent.give(
                database(), swimmer, form.getlist("kind"), form.get("given_by", ""),
                form.get("given_on", ""), form.get("until", ""), form.get("words", ""), paper,
                current_user.id,
            )  # fmt: skip
            trail.note(
                database(), current_user.id, "consent-given", "swimmer", swimmer_id, swimmer_id,
                words=", ".join(form.getlist("kind")),
            )  # fmt: skip
    except ConsentError:
        if paper:
            footage().remove(paper)
        raise
    return redirect(url_for("consent.show", swimmer_id=swimmer_id))


@blueprint.post("/withdraw")
def withdraw(swimmer_id: int) -> ResponseReturnValue:
    swimmer, kind = asked.swimmer(swimmer_id), request.form.get("kind", "")
    with transaction(database()):
        consent.withdraw(database(), swimmer, kind, request.form.get("by", ""))
        trail.note(
            database(), current_user.id, "consent-withdrawn", "swimmer", swimmer_id, swimmer_id,
            words=kind,
        )  # fmt: skip
    return redirect(url_for("consent.show", swimmer_id=swimmer_id))


@blueprint.get("/<int:consent_id>/paper")
def paper(swimmer_id: int, consent_id: int) -> ResponseReturnValue:
    """The scan of a signed paper."""
    asked.swimmer(swimmer_id)
    found = consents.by_id(database(), swimmer_id, consent_id)
    path = footage().at_hand(found.paper) if found.paper else None
    if path is None or not path.is_file():
        raise NotFoundError("There is no scan of this consent.")
    answer = kept_file(
        path, as_attachment=True, download_name=f"consent {found.given_on}{path.suffix}"
    )
    answer.headers["Cache-Control"] = "private, no-store"
    return answer


def _keep_scan() -> str:
    """The path of a scan that came with the form, relative to the data folder; empty for none."""
    file = request.files.get("paper")
    if file is None or not file.filename:
        return ""
    data = file.stream.read(_MOST_BYTES + 1)
    kind = next((k for begin, k in _SCANS.items() if data.startswith(begin)), None)
    if kind is None or len(data) > _MOST_BYTES:
        raise ConsentError("A scan is a PDF, a JPEG or a PNG of up to 10 MB.")
    name = f"{PAPERS}/{secrets.token_hex(12)}{kind[0]}"
    with scratch(settings().work, Path(name).stem) as folder:
        path = folder / "scan"
        path.write_bytes(data)
        footage().put(path, name)
    return name
