"""Passwords of the people who sign in, hashed with Argon2id."""

from __future__ import annotations

from functools import cache

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError

from norvik.store.users import User

_hasher = PasswordHasher()
#: Characters; a rule that is said before anybody types.
LEAST_PASSWORD = 10


def hash_password(password: str) -> str:
    return _hasher.hash(password)


def check_password(user: User | None, password: str) -> bool:
    """Is this the person's password? Takes as long for an unknown person."""
    try:
        _hasher.verify(user.password_hash if user else _nobody(), password)
    except (VerifyMismatchError, InvalidHashError):
        return False
    return user is not None


@cache
def _nobody() -> str:
    return _hasher.hash("nobody has this password")
