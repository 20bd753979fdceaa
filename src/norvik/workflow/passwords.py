"""Passwords of the people who sign in, hashed with Argon2id, and the codes of a second factor."""

from __future__ import annotations

import sqlite3
import time
from dataclasses import dataclass
from functools import cache
from typing import Literal

import pyotp
from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError

from norvik.core.errors import AccountError
from norvik.store import club, users
from norvik.store.users import User

_hasher = PasswordHasher()
#: Characters; a rule that is said before anybody types. OWASP ASVS 4.0.3, 2.1.1 and 2.1.2.
LEAST_PASSWORD, MOST_PASSWORD = 12, 128
#: Of zxcvbn's 0 to 4: from 3 on it takes more than 100 million guesses. So much of it is read.
_LEAST_SCORE, _LOOKED_AT = 3, 72
#: The name under which an app lists the codes.
_ISSUER = "Norvik"
_STEP_S = 30
#: What a typed code turned out to be.
CodeCheck = Literal["right", "wrong", "used"]
#: Of whom the club asks for a second factor, by its rule of that name.
_ASKED_OF: tuple[tuple[str, ...], ...] = (
    (), ("head-coach",), ("head-coach", "coach", "assistant"),
)  # fmt: skip


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


@dataclass(frozen=True, slots=True)
class Strength:
    """How hard a password is to guess: 0 to 4, whether it may be used, and what to do."""

    score: int
    good: bool
    words: str


def strength(password: str, email: str, name: str) -> Strength:
    """Guessed as those who break in do it: common passwords, words, names, dates, rows of keys."""
    # Its lists of words take a moment to load: only where somebody chooses a password.
    from zxcvbn import zxcvbn

    own = ["norvik", *email.replace("@", " ").replace(".", " ").split(), *name.split()]
    score = int(zxcvbn(password[:_LOOKED_AT], user_inputs=own)["score"]) if password else 0
    if len(password) < LEAST_PASSWORD:
        missing = LEAST_PASSWORD - len(password)
        words = f"Too short: {missing} more {'character' if missing == 1 else 'characters'}."
    elif len(password) > MOST_PASSWORD:
        words = f"Too long: at most {MOST_PASSWORD} characters."
    elif score < _LEAST_SCORE:
        words = "Easy to guess. Add a word that has nothing to do with the others."
    else:
        words = "Hard to guess." if score == _LEAST_SCORE else "Very hard to guess."
    fits = LEAST_PASSWORD <= len(password) <= MOST_PASSWORD
    return Strength(score, fits and score >= _LEAST_SCORE, words)


def require_good(password: str, email: str, name: str) -> None:
    """Raises AccountError for a new password that is too short or that others would guess."""
    if len(password) < LEAST_PASSWORD:
        raise AccountError(f"A password needs at least {LEAST_PASSWORD} characters.")
    if len(password) > MOST_PASSWORD:
        raise AccountError(f"A password has at most {MOST_PASSWORD} characters.")
    if not strength(password, email, name).good:
        raise AccountError(
            "This password is easy to guess. Three or four words in a row are easier to remember "
            "and harder to guess; your own name and rows of keys are not."
        )


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
) -> CodeCheck:
    """Is this a code that the app shows now, one step earlier or later? Each serves only once."""
    now = time.time() if now is None else now
    typed = "".join(code.split())
    totp = pyotp.TOTP(secret, interval=_STEP_S)
    for step in (int(now // _STEP_S) + drift for drift in (0, -1, 1)):
        if pyotp.utils.strings_equal(typed, totp.generate_otp(step)):
            return "right" if users.use_second_factor(connection, user.id, step) else "used"
    return "wrong"


def needs_second_factor(connection: sqlite3.Connection, role: str) -> bool:
    """True where the club asks people of this role for one."""
    return role in _ASKED_OF[club.house(connection, "second-factor")]
