"""The form of a new plan."""

from __future__ import annotations

from datetime import date, time

from flask_wtf import FlaskForm
from wtforms import SelectChoice

from norvik.core.errors import PlanError
from norvik.core.pool import Pool
from norvik.core.prescription.plan import FocusRequest, PlanRequest
from norvik.web.shared.checks import Checks
from norvik.web.shared.read_field import ReadField, one_of
from norvik.web.swimmer.pool import UNITS, pool_length
from norvik.workflow.review_judgement import ReviewJudgement

#: Own choice: nobody plans further ahead.
MOST_YEARS = 5
WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
#: By what the size of a session is said.
SIZES = (("metres", "metres or yards"), ("minutes", "minutes"))
_LONGEST_SIZE = 6


def day_of(text: str) -> date:
    """Raises PlanError."""
    try:
        day = date.fromisoformat(text)
    except ValueError as error:
        raise PlanError("A day must look like 2027-03-14.") from error
    if abs(day.year - date.today().year) > MOST_YEARS:
        raise PlanError(f"{day.isoformat()} lies too far from today. Check the year.")
    return day


def _day_or_none(text: str) -> date | None:
    return day_of(text) if text else None


def _size(text: str) -> int:
    if not text.isdecimal() or len(text) > _LONGEST_SIZE:
        raise PlanError("The size of a session must be a whole number of metres or minutes.")
    return int(text)


def _time_of_day(text: str) -> str:
    try:
        return time.fromisoformat(text).strftime("%H:%M") if text else ""
    except ValueError as error:
        raise PlanError("The time of day must look like 18:30.") from error


class PlanForm(FlaskForm):
    weekday = Checks(
        "Swims on", choices=[SelectChoice(str(n), day) for n, day in enumerate(WEEKDAYS)],
        default=["1", "3"], validate_choice=False,
    )  # fmt: skip
    size = ReadField("One session", _size, default="2000")
    by = ReadField("Metres or minutes", one_of(tuple(s for s, _ in SIZES), PlanError, "size"),
                   default="metres")  # fmt: skip
    pool = ReadField("Pool length", pool_length)
    unit = ReadField("Unit", one_of(tuple(u for u, _ in UNITS), PlanError, "unit"), default="m")
    starts_on = ReadField("From", day_of, default=lambda: date.today().isoformat())
    aim_on = ReadField("Target date (optional)", _day_or_none)
    begins_at = ReadField("Start time (optional)", _time_of_day)

    def wish(self, judgement: ReviewJudgement) -> PlanRequest:
        """What a form that is right asks for. Raises PlanError for what cannot be planned."""
        by_metres = self.by.value == "metres"
        known = {str(n) for n in range(len(WEEKDAYS))}
        return PlanRequest(
            starts_on=self.starts_on.value,
            weekdays=tuple(int(d) for d in self.weekday.data or () if d in known),
            pool=Pool(self.pool.value, self.unit.value),
            focuses=tuple(
                FocusRequest(f) for f in dict.fromkeys(r.fault.id for _, r in judgement.focuses)
            ),
            metres=self.size.value if by_metres else None,
            minutes=None if by_metres else self.size.value,
            level=judgement.swimmer.level,
            aim_on=self.aim_on.value,
        )
