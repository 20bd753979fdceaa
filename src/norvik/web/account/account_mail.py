"""Mails about accounts. Without a mail server the head coach passes the link on by hand."""

from __future__ import annotations

import logging
import os
from dataclasses import dataclass
from datetime import UTC, datetime
from urllib.parse import urljoin

from flask import render_template, request, url_for
from flask.typing import ResponseReturnValue

from norvik.core.errors import LinkError
from norvik.store.users import User
from norvik.workflow.send.links import Receiver
from norvik.workflow.send.mail import Sender, message, send

log = logging.getLogger(__name__)


@dataclass(frozen=True, slots=True)
class AccountMail:
    """to: whom. address: of the link. words: the whole text."""

    to: User
    subject: str
    address: str
    words: str


def _address(token: str) -> str:
    path = url_for("account_links.choose", token=token)
    return urljoin(os.environ.get("NORVIK_ADDRESS") or request.url_root, path)


def invitation(user: User, token: str) -> AccountMail:
    """For somebody new, or a new link for somebody who has lost the password."""
    address = _address(token)
    days = "7 days" if user.invited else "an hour"
    what = (
        "you have an account in Norvik, where stroke reviews of the club are kept. "
        "Choose a password here"
        if user.invited
        else "choose a new password here"
    )
    return AccountMail(
        user, "Your account in Norvik", address,
        f"Hello {user.name},\n\n{what}:\n\n{address}\n\nThe link works once, within {days}. "
        "If you did not expect this mail, delete it.\n",
    )  # fmt: skip


_NEWS = {
    "password": "your password for Norvik was changed",
    "on": "a second factor was turned on for your account in Norvik",
    "used": "a code of your second factor was typed a second time, after your right password",
    "off": "the second factor of your account in Norvik was turned off",
}


def tell_of(user: User, what: str) -> None:
    """Tell somebody that a way into the account has changed or was tried, where a mail server is
    set.
    """
    words = (
        f"Hello {user.name},\n\n{_NEWS[what]}.\n\nIf that was not you, choose a new password on "
        "the sign-in page and tell the head coach.\n"
    )
    try:
        deliver(AccountMail(user, "Your account in Norvik", "", words))
    except LinkError as error:
        log.warning("the mail about a changed account was not sent: %s", error.sentence)


def deliver(mail: AccountMail) -> bool:
    """Send it where a mail server is set. False where there is none. Raises LinkError."""
    server = os.environ.get("NORVIK_SMTP", "")
    if not server:
        return False
    sender = os.environ.get("NORVIK_MAIL_FROM", "norvik@localhost")
    made = message(
        Sender("Norvik", sender), Receiver(mail.to.name, mail.to.email, False), mail.subject,
        mail.words, datetime.now(UTC),
    )  # fmt: skip
    send(made, server)
    return True


def send_or_show(mail: AccountMail) -> ResponseReturnValue:
    """What the head coach sees: sent, or the link to pass on."""
    wrong = ""
    try:
        sent = deliver(mail)
    except LinkError as error:
        sent, wrong = False, error.sentence
    return render_template("people/invited.html", mail=mail, sent=sent, wrong=wrong)
