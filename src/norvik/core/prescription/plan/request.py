"""What a plan is made from: when, how much, where, and which focuses in which order."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date, timedelta
from fractions import Fraction

from norvik.core.errors import PlanError
from norvik.core.pool import Pool

#: Weeks that one focus gets (common practice).
LEAST_WEEKS, MOST_WEEKS = 2, 3
#: Own choice: seconds for 100 m with all rests, by level, where a session is given in minutes.
SECONDS_A_100 = {"beginner": 210, "improver": 150, "advanced": 115}
#: Own choice: a shorter session has no room for a technique block of 200 m and a warm-up.
LEAST_METRES = 400
MOST_METRES = 12000
MOST_PLANNED_WEEKS = 52


@dataclass(frozen=True, slots=True)
class FocusRequest:
    """weeks: as the coach set them; None lets the plan share out what there is."""

    fault: str
    weeks: int | None = None


@dataclass(frozen=True)
class PlanRequest:
    """All inputs of a plan. Raises PlanError for what cannot be.

    weekdays: 0 is Monday. metres: of one session in the pool's unit, or None with `minutes`.
    aim_on: the day of the event, or None. moves: key of a session to its own day.
    repeats: key of a session to {place of a set: repeats} that the coach fixed. added: key of a
    session to (id of a drill, repeats) of the sets that the coach put in. from_first_session: week
    1 is the first one with a session; plans made earlier began with the calendar week.
    """

    starts_on: date
    weekdays: tuple[int, ...]
    pool: Pool
    focuses: tuple[FocusRequest, ...]
    metres: int | None = None
    minutes: int | None = None
    level: str = "improver"
    aim_on: date | None = None
    moves: dict[str, date] = field(default_factory=dict)
    repeats: dict[str, dict[int, int]] = field(default_factory=dict)
    added: dict[str, tuple[tuple[str, int], ...]] = field(default_factory=dict)
    from_first_session: bool = True

    def __post_init__(self) -> None:
        if not self.weekdays or not set(self.weekdays) <= set(range(7)):
            raise PlanError("Choose at least one day of the week to swim on.")
        if not self.focuses:
            raise PlanError("Choose at least one point to work on before planning.")
        if (self.metres is None) == (self.minutes is None):
            raise PlanError("Enter the session length in metres or minutes.")
        if self.session_metres < LEAST_METRES:
            raise PlanError(
                f"A session needs at least {LEAST_METRES} m: 200 m of technique and a warm-up."
            )
        if self.session_metres > MOST_METRES:
            raise PlanError(f"A session has at most {MOST_METRES} m.")
        if self.aim_on is not None and self.aim_on <= self.starts_on:
            raise PlanError("The aim lies before the start. Change one of the two days.")
        if (self.weeks_until_aim or 0) > MOST_PLANNED_WEEKS:
            raise PlanError(f"Plan at most {MOST_PLANNED_WEEKS} weeks at once.")
        for focus in self.focuses:
            if focus.weeks is not None and not 1 <= focus.weeks <= 12:
                raise PlanError("One point gets between 1 and 12 weeks.")

    @property
    def session_metres(self) -> float:
        """Metres of one session, by the level's pace where it was given in minutes."""
        if self.metres is not None:
            return float(self.metres * self.pool.metres / self.pool.length)
        assert self.minutes is not None  # one of the two is given
        return self.minutes * 60 * 100 / SECONDS_A_100[self.level]

    @property
    def session_lengths(self) -> int:
        """Whole lengths of one session; exact where it was given in the pool's own unit."""
        if self.metres is not None:
            return int(self.metres / self.pool.length)
        return int(Fraction(self.session_metres) / self.pool.metres)

    @property
    def monday(self) -> date:
        """The Monday of the first week."""
        monday = self.starts_on - timedelta(days=self.starts_on.weekday())
        late = self.starts_on.weekday() > max(self.weekdays)
        return monday + timedelta(weeks=1) if late and self.from_first_session else monday

    @property
    def weeks_until_aim(self) -> int | None:
        """Whole calendar weeks from the first to that of the aim; None without an aim."""
        if self.aim_on is None:
            return None
        return max(1, (self.aim_on - self.monday).days // 7 + 1)

    @property
    def weeks_to_train(self) -> int | None:
        """Of these, without a last one whose training days all lie on the aim or after it."""
        weeks = self.weeks_until_aim
        if weeks is None or self.aim_on is None:
            return None
        last_is_empty = min(self.weekdays, default=7) >= self.aim_on.weekday()
        return max(1, weeks - last_is_empty)
