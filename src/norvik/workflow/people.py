"""Accounts: invited, changed, disabled, removed; and the squads that say who works with whom."""

from __future__ import annotations

import sqlite3
import time
from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date

from norvik.core.errors import AccountError
from norvik.store import account_links, sessions, squads, users
from norvik.store.squads import Squad
from norvik.store.users import ROLES, STAFF, Role, User
from norvik.workflow import trail
from norvik.workflow.passwords import hash_password, require_good

#: Role: as it is read, and what it is for.
ROLE_WORDS: dict[Role, tuple[str, str]] = {
    "head-coach": ("Head coach", "sees and does everything, people and settings too"),
    "coach": ("Coach", "everything with the swimmers of their own squads"),
    "assistant": ("Assistant", "films, cuts, marks and ticks in given squads; sends nothing"),
    "swimmer": ("Swimmer", "own reviews, plan and log"),
    "guardian": ("Guardian", "reviews, plan and log of their child"),
}
_MOST_NAME, _MOST_EMAIL = 80, 120


@dataclass(frozen=True, slots=True)
class Invited:
    """Who is to have an account. squads: ids, for staff; swimmers: ids, for the others."""

    email: str
    name: str
    role: str
    squads: tuple[int, ...] = ()
    swimmers: tuple[int, ...] = ()


def invite(connection: sqlite3.Connection, by: int, wish: Invited) -> tuple[int, str]:
    """Make an account without a password; gives its id and the token of the link to it.

    Call inside a transaction. Raises AccountError.
    """
    name, email = " ".join(wish.name.split()), wish.email.strip()
    if not 1 <= len(name) <= _MOST_NAME:
        raise AccountError(f"A name has 1 to {_MOST_NAME} letters.")
    if not ("@" in email[1:-1] and 3 <= len(email) <= _MOST_EMAIL and len(email.split()) == 1):
        raise AccountError("An e-mail address looks like name@club.example.")
    if wish.role not in ROLES:
        raise AccountError("Choose what this person does.")
    if users.by_email(connection, email):
        raise AccountError(f"There is an account for {email} already.")
    if wish.role not in STAFF and not wish.swimmers:
        raise AccountError("Choose the swimmer whose pages this account opens.")
    user_id = users.add(connection, email, name, wish.role, "")
    set_people(connection, user_id, wish.role, wish.squads, wish.swimmers)
    trail.note(connection, by, "invited", "account", user_id, words=wish.role)
    return user_id, account_links.make(connection, user_id, "invitation", time.time())


def set_people(
    connection: sqlite3.Connection, user_id: int, role: str, squad_ids: Iterable[int],
    swimmer_ids: Iterable[int],
) -> None:  # fmt: skip
    """Which squads somebody works with, or whose own pages they open; by their role."""
    wanted = set(squad_ids) if role in STAFF else set()
    today = date.today().isoformat()
    for squad in squads.every(connection):
        staff = squad.staff | {user_id} if squad.id in wanted else squad.staff - {user_id}
        if staff != squad.staff and not squad.over(today):
            squads.put(connection, replace(squad, staff=staff))
    squads.set_own_swimmers(connection, user_id, () if role in STAFF else swimmer_ids)


def change_role(
    connection: sqlite3.Connection, by: int, user: User, role: str, squad_ids: Iterable[int],
    swimmer_ids: Iterable[int],
) -> None:  # fmt: skip
    """Give somebody another role, or other squads. Raises AccountError."""
    if role not in ROLES:
        raise AccountError("Choose what this person does.")
    own = list(swimmer_ids)
    if role not in STAFF and not own:
        raise AccountError("Choose the swimmer whose pages this account opens.")
    if role != "head-coach":
        _keep_a_head_coach(connection, user)
    users.set_role(connection, user.id, role)
    set_people(connection, user.id, role, squad_ids, own)
    trail.note(connection, by, "account-changed", "account", user.id, words=role)


def set_disabled(connection: sqlite3.Connection, by: int, user: User, disabled: bool) -> None:
    """Let somebody sign in no more, and sign them out; or let them again."""
    if disabled:
        _keep_a_head_coach(connection, user)
        sessions.end_all(connection, user.id)
    users.set_disabled(connection, user.id, disabled)
    trail.note(connection, by, "account-changed", "account", user.id,
               words="disabled" if disabled else "enabled")  # fmt: skip


def remove(connection: sqlite3.Connection, by: int | None, user: User) -> None:
    """Delete an account. What the person made stays, without a name."""
    _keep_a_head_coach(connection, user)
    trail.note(connection, by, "account-removed", "account", user.id, words=user.role)
    users.remove(connection, user.id)


def sign_out_everywhere(
    connection: sqlite3.Connection, by: int | None, user_id: int, but: int | None = None
) -> int:
    """End all sessions of somebody, but for one. How many."""
    ended = sessions.end_all(connection, user_id, but)
    trail.note(connection, by, "signed-out-everywhere", "account", user_id)
    return ended


def choose_password(connection: sqlite3.Connection, token: str, user: User, password: str) -> None:
    """Set the password that somebody chose by a link, which serves once. Raises AccountError.

    Whoever was signed in with the old one is not any more.
    """
    require_good(password, user.email, user.name)
    if not account_links.use(connection, token, time.time()):
        raise AccountError("This link was used already. Ask for a new one.")
    users.set_password(connection, user.id, hash_password(password))
    sessions.end_all(connection, user.id)
    trail.note(connection, user.id, "password-changed", "account", user.id)


def _keep_a_head_coach(connection: sqlite3.Connection, user: User) -> None:
    others = [u for u in users.head_coaches(connection) if u.id != user.id]
    if user.role == "head-coach" and not others:
        raise AccountError("Somebody has to be head coach: give that to another account first.")


def put_squad(connection: sqlite3.Connection, by: int, squad: Squad) -> int:
    """Store a squad. Raises AccountError for one that cannot be."""
    name, season = " ".join(squad.name.split()), " ".join(squad.season.split())
    if not 1 <= len(name) <= 60 or len(season) > 20:
        raise AccountError("A squad has a name of 1 to 60 letters, a season one of up to 20.")
    for day in (squad.starts_on, squad.ends_on):
        if day and not _is_day(day):
            raise AccountError("The days of a season look like 2027-08-31.")
    if squad.starts_on and squad.ends_on and squad.ends_on <= squad.starts_on:
        raise AccountError("A season ends after it starts.")
    same = [
        q for q in squads.every(connection)
        if (q.name.casefold(), q.season) == (name.casefold(), season) and q.id != squad.id
    ]  # fmt: skip
    if same:
        raise AccountError(f"There is a squad “{name}” in this season already.")
    made = squads.put(connection, replace(squad, name=name, season=season))
    trail.note(connection, by, "squad-changed", "squad", made)
    return made


def next_season(
    connection: sqlite3.Connection, by: int, season: str, starts_on: str, ends_on: str
) -> int:
    """Make every running squad anew for another season, with its people. How many.

    The squads of the season before stay as they are until their last day.
    """
    if not season.strip() or not _is_day(starts_on) or not _is_day(ends_on):
        raise AccountError("A season needs a name and two days, like 2027-09-01 and 2028-08-31.")
    today, made = date.today().isoformat(), 0
    for squad in squads.every(connection):
        if not squad.over(today) and squad.season != season.strip():
            new = replace(squad, id=0, season=season, starts_on=starts_on, ends_on=ends_on)
            put_squad(connection, by, new)
            made += 1
    return made


def _is_day(text: str) -> bool:
    try:
        date.fromisoformat(text)
    except ValueError:
        return False
    return len(text) == 10
