"""`norvik user`: people who sign in, from the command line."""

from __future__ import annotations

import sqlite3
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager

import click

from norvik.core.errors import NorvikError
from norvik.settings import Settings
from norvik.store import sessions, squads, users
from norvik.store.connection import connected, migrate, transaction
from norvik.store.users import STAFF, Role, User
from norvik.workflow import people, trail
from norvik.workflow.passwords import LEAST_PASSWORD, hash_password, require_good

_PROMPT = f"Password, at least {LEAST_PASSWORD} characters"


@contextmanager
def _database() -> Iterator[sqlite3.Connection]:
    settings = Settings.from_environment()
    settings.prepare()
    migrate(settings.database)
    with connected(settings.database) as connection:
        try:
            yield connection
        except NorvikError as error:
            click.echo(error.sentence, err=True)
            sys.exit(1)


def _known(connection: sqlite3.Connection, email: str) -> User:
    found = users.by_email(connection, email)
    if found is None:
        raise click.ClickException(f"There is no account for {email}.")
    return found


@click.group()
def user() -> None:
    """People who sign in."""


@user.command("add")
@click.argument("email")
@click.option("--name", required=True)
@click.option("--role", type=click.Choice(STAFF), default=STAFF[0], show_default=True,
              help="Swimmers and guardians are invited under People.")  # fmt: skip
@click.password_option(prompt=_PROMPT)
def add(email: str, name: str, role: Role, password: str) -> None:
    """Add an account for EMAIL; asks for a password."""
    with _database() as connection:
        if users.by_email(connection, email):
            raise click.ClickException(f"There is an account for {email} already.")
        require_good(password, email, name)
        with transaction(connection):
            made = users.add(connection, email, name, role, hash_password(password))
            trail.note(connection, None, "invited", "account", made, words=role)
    click.echo(f"{name} can sign in as {email}")


@user.command("password")
@click.argument("email")
@click.password_option(prompt=_PROMPT)
def set_password(email: str, password: str) -> None:
    """Set a new password for EMAIL, who is signed out everywhere; asks for it."""
    with _database() as connection:
        known = _known(connection, email)
        require_good(password, known.email, known.name)
        with transaction(connection):
            users.set_password(connection, known.id, hash_password(password))
            sessions.end_all(connection, known.id)
            trail.note(connection, None, "password-changed", "account", known.id)
    click.echo(f"{known.name} has a new password")


@user.command("list")
def list_users() -> None:
    """Everybody who has an account."""
    with _database() as connection:
        for one in users.every(connection):
            open_ones = len(sessions.of_user(connection, one.id, time.time()))
            state = "disabled" if one.disabled_at else "invited" if one.invited else (
                f"signed in with {open_ones}" if open_ones else "not signed in")  # fmt: skip
            factor = ", second factor" if one.second_factor else ""
            teams = len(squads.of_staff(connection, one.id, time.strftime("%Y-%m-%d")))
            click.echo(f"{one.email}\t{one.name}\t{one.role}\t{teams} squads\t{state}{factor}")


@user.command("remove")
@click.argument("email")
def remove(email: str) -> None:
    """Delete the account of EMAIL; what the person made stays."""
    with _database() as connection:
        known = _known(connection, email)
        with transaction(connection):
            people.remove(connection, None, known)
    click.echo(f"{known.name} has no account any more")


@user.command("sign-out")
@click.argument("email")
def sign_out(email: str) -> None:
    """Sign EMAIL out everywhere."""
    with _database() as connection:
        known = _known(connection, email)
        ended = people.sign_out_everywhere(connection, None, known.id)
    click.echo(f"{known.name} is signed out; {ended} browsers were signed in")


@user.command("second-factor-off")
@click.argument("email")
def second_factor_off(email: str) -> None:
    """Let EMAIL sign in with the password alone, after a lost phone."""
    with _database() as connection:
        known = _known(connection, email)
        users.set_second_factor(connection, known.id, "")
        trail.note(connection, None, "second-factor-off", "account", known.id)
    click.echo(f"{known.name} signs in with the password alone")
