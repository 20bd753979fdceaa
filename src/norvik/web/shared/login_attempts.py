"""Wrong passwords: after so many in a row from one place a pause, so that nobody guesses on."""

from __future__ import annotations

from limits import RateLimitItemPerMinute
from limits.storage import MemoryStorage
from limits.strategies import MovingWindowRateLimiter

#: Own choice: wrong tries within MINUTES for one account from one address, and for all accounts
#: together from it (a whole club may sit behind one address).
PER_ACCOUNT, PER_ADDRESS, MINUTES = 8, 60, 10


class LoginAttempts:
    """Kept in memory: a restart of the server forgets them."""

    def __init__(self) -> None:
        self._limiter = MovingWindowRateLimiter(MemoryStorage())
        self._account = RateLimitItemPerMinute(PER_ACCOUNT, MINUTES)
        self._address = RateLimitItemPerMinute(PER_ADDRESS, MINUTES)

    def too_many(self, address: str, email: str) -> bool:
        return not (
            self._limiter.test(self._account, address, email.lower())
            and self._limiter.test(self._address, address)
        )

    def wrong(self, address: str, email: str) -> None:
        """Count a wrong try."""
        self._limiter.hit(self._account, address, email.lower())
        self._limiter.hit(self._address, address)

    def right(self, address: str, email: str) -> None:
        """Forget an account's wrong tries: it was the person after all."""
        self._limiter.clear(self._account, address, email.lower())
