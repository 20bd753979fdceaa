"""Noting who did what.

Words name things by their numbers and kinds, never by a swimmer's name: a swimmer who is erased
leaves a trail that says that somebody was, and not who.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping
from datetime import UTC, datetime, timedelta

from norvik.store import trail
from norvik.store.trail import Step

#: Deed: as it is read.
DEEDS: Mapping[str, str] = {
    "signed-in": "signed in",
    "sign-in-refused": "was refused at sign-in",
    "signed-out-everywhere": "was signed out everywhere",
    "password-changed": "changed a password",
    "second-factor-on": "turned the second factor on",
    "second-factor-off": "turned the second factor off",
    "invited": "invited",
    "account-changed": "changed an account",
    "account-removed": "removed an account",
    "squad-changed": "changed a squad",
    "settings-changed": "changed a setting",
    "saw": "saw",
    "brought-in": "added",
    "changed": "changed",
    "judged": "finished a review",
    "exported": "exported",
    "link-made": "made a link",
    "link-taken-back": "turned a link off",
    "sent": "sent",
    "link-opened": "opened a link",
    "answered": "answered",
    "consent-given": "noted consent",
    "consent-withdrawn": "noted a consent withdrawn",
    "removed": "removed",
    "restored": "restored",
    "deleted": "deleted permanently",
    "erased": "erased",
    "released": "released",
    "backed-up": "made a backup",
}
#: Own choice: being looked at again within the hour is the same looking.
_SAME_LOOK = timedelta(hours=1)


def note(
    connection: sqlite3.Connection, user_id: int | None, deed: str, kind: str = "",
    thing_id: int | None = None, swimmer_id: int | None = None, words: str = "", address: str = "",
) -> None:  # fmt: skip
    """Add a row. user_id: None where nobody is signed in, or the machine does it by itself."""
    assert deed in DEEDS, deed
    trail.add(connection, user_id, deed, kind, thing_id, swimmer_id, words, address)


def note_once(
    connection: sqlite3.Connection, user_id: int, deed: str, kind: str, thing_id: int,
    swimmer_id: int | None,
) -> None:  # fmt: skip
    """That somebody looked at something of a swimmer, or works on it; once an hour."""
    since = (datetime.now(UTC) - _SAME_LOOK).strftime("%Y-%m-%dT%H:%M:%SZ")
    if not trail.seen_since(connection, user_id, deed, kind, thing_id, since):
        trail.add(connection, user_id, deed, kind, thing_id, swimmer_id, "", "")


def said(step: Step) -> str:
    """A row as a sentence without its beginning."""
    what = DEEDS.get(step.deed, step.deed)
    thing = f" {step.kind} {step.thing_id or ''}".rstrip() if step.kind else ""
    return what + thing
