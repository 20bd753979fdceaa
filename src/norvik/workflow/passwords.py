"""Passwords of the people who sign in, hashed with Argon2id, and the codes of a second factor."""

from __future__ import annotations

import sqlite3
import time
from functools import cache

import pyotp
from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError

from norvik.core.errors import AccountError
from norvik.store import users
from norvik.store.users import User

_hasher = PasswordHasher()
#: Characters; a rule that is said before anybody types. OWASP ASVS 4.0.3, 2.1.1 and 2.1.2.
LEAST_PASSWORD, MOST_PASSWORD = 12, 128
#: The name under which an app lists the codes.
_ISSUER = "Norvik"
_STEP_S = 30


def hash_password(password: str) -> str:
    return _hasher.hash(password)


def check_password(user: User | None, password: str) -> bool:
    """Is this the person's password? Takes as long for an unknown person."""
    usable = user is not None and not user.invited and user.disabled_at is None
    try:
        _hasher.verify(user.password_hash if user and usable else _nobody(), password)
    except (VerifyMismatchError, InvalidHashError):
        return False
    return usable


@cache
def _nobody() -> str:
    return _hasher.hash("nobody has this password")


@cache
def _common() -> frozenset[str]:
    # Some 30,000 passwords from published leaks, in the package zxcvbn; read when first needed.
    from zxcvbn.frequency_lists import FREQUENCY_LISTS

    return frozenset(FREQUENCY_LISTS["passwords"])


def require_good(password: str, email: str, name: str) -> None:
    """Raises AccountError for a new password that is too short or that others would guess."""
    if len(password) < LEAST_PASSWORD:
        raise AccountError(f"A password needs at least {LEAST_PASSWORD} characters.")
    if len(password) > MOST_PASSWORD:
        raise AccountError(f"A password has at most {MOST_PASSWORD} characters.")
    plain = password.casefold()
    # A common one is still common with the same sign behind it until it is long enough.
    if plain in _common() or plain.rstrip("0123456789!?.* ") in _common() or len(set(plain)) < 4:
        raise AccountError(
            "This password is on the lists that are tried first. Three or four words in a row are "
            "easier to keep and harder to guess."
        )
    own = [part for part in (email.partition("@")[0], *name.split()) if len(part) > 3]
    if any(plain == p.casefold() * (len(plain) // len(p)) or
           plain.strip("0123456789!?.* ") == p.casefold() for p in own):  # fmt: skip
        raise AccountError("This password is made of your own name. Choose another.")


def new_secret() -> str:
    """A secret that an app and Norvik share, 160 random bits in base 32 (RFC 6238)."""
    return pyotp.random_base32()


def app_address(user: User, secret: str) -> str:
    """What the app reads from the QR code."""
    return pyotp.TOTP(secret, interval=_STEP_S).provisioning_uri(
        name=user.email, issuer_name=_ISSUER
    )


def check_code(
    connection: sqlite3.Connection, user: User, secret: str, code: str, now: float | None = None
) -> bool:
    """Is this a code that the app shows now, one step earlier or later? Each serves only once."""
    now = time.time() if now is None else now
    typed = "".join(code.split())
    totp = pyotp.TOTP(secret, interval=_STEP_S)
    for step in (int(now // _STEP_S) + drift for drift in (0, -1, 1)):
        if pyotp.utils.strings_equal(typed, totp.generate_otp(step)):
            return users.use_second_factor(connection, user.id, step)
    return False
