"""Mail with links: as files for any mail program, one or all of an evening, or sent at once."""

from __future__ import annotations

import io
import os
import zipfile
from datetime import UTC, datetime
from email.message import EmailMessage

from flask import Blueprint, flash, redirect, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user

from norvik.core.errors import LinkError
from norvik.store import review_links, users
from norvik.store.review_links import ReviewLink
from norvik.store.swimmers import Swimmer
from norvik.web.send.links import evening_rows, text_of
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.downloads import attachment
from norvik.web.shared.language import day, times
from norvik.workflow import trail
from norvik.workflow.send.links import receiver_of
from norvik.workflow.send.mail import Sender, message, send

blueprint = Blueprint("send_mail", __name__)


def _mail(link: ReviewLink, swimmer: Swimmer, filmed_on: str) -> EmailMessage:
    receiver = receiver_of(swimmer)
    if receiver.why_not:
        raise LinkError(receiver.why_not)
    user = users.by_id(database(), current_user.id)
    subject = f"Stroke review of {swimmer.name}, {day(filmed_on)}"
    return message(
        Sender(user.name, user.email), receiver, subject, text_of(link, swimmer), datetime.now(UTC)
    )


@blueprint.get("/reviews/<int:review_id>/links/<int:link_id>/mail.eml")
def file(review_id: int, link_id: int) -> ResponseReturnValue:
    """The mail as a file (RFC 5322) that any mail program opens and sends."""
    judged = asked.judged_review(review_id)
    link = review_links.by_id(database(), review_id, link_id)
    made = _mail(link, judged.swimmer, judged.review.filmed_on)
    return attachment(bytes(made), f"review {judged.swimmer.name}.eml", "message/rfc822")


@blueprint.post("/reviews/<int:review_id>/links/<int:link_id>/mail")
def deliver(review_id: int, link_id: int) -> ResponseReturnValue:
    judged = asked.judged_review(review_id)
    link = review_links.by_id(database(), review_id, link_id)
    _deliver(link, judged.swimmer, judged.review.filmed_on)
    return redirect(url_for("send.show", review_id=review_id))


def _deliver(link: ReviewLink, swimmer: Swimmer, filmed_on: str) -> None:
    server = os.environ.get("NORVIK_SMTP", "")
    if not server:
        raise LinkError("No mail server is set. Download the mail and send it yourself.")
    made = _mail(link, swimmer, filmed_on)
    send(made, server)
    review_links.set_sent(database(), link.id, receiver_of(swimmer).address)
    trail.note(database(), current_user.id, "sent", "review", link.review_id, swimmer.id)


@blueprint.get("/send/mails.zip")
def files() -> ResponseReturnValue:
    """A mail for each link of the evening."""
    data = io.BytesIO()
    with zipfile.ZipFile(data, "w", zipfile.ZIP_DEFLATED) as packed:
        for row in evening_rows():
            if row.shown is not None and not row.receiver.why_not:
                made = _mail(row.shown.link, row.swimmer, row.filmed_on)
                packed.writestr(f"{row.swimmer.name} {row.filmed_on}.eml", bytes(made))
    return attachment(data.getvalue(), "reviews to send.zip", "application/zip")


@blueprint.post("/send/mails")
def deliver_all() -> ResponseReturnValue:
    """Send every link of the evening that has an address and was not sent yet."""
    sent, failed = 0, []
    for row in evening_rows():
        ready = row.shown is not None and row.receiver.address and not row.receiver.why_not
        if row.shown is None or not ready or row.shown.link.sent_at:
            continue
        try:
            _deliver(row.shown.link, row.swimmer, row.filmed_on)
            sent += 1
        except LinkError as error:
            failed.append(f"{row.swimmer.name}: {error.sentence}")
    flash(" ".join([f"{times(sent, 'mail')} sent.", *failed[:3]]), "sent")
    return redirect(url_for("send.evening"))
