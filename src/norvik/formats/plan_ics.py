"""A plan as a calendar file (RFC 5545), written with the icalendar library.

One event a session, one for each day to film and each pool test. Sessions with a time of day are
at that local time wherever the calendar is ("floating"); without one they last the day.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta

from icalendar import Calendar, Event


@dataclass(frozen=True, slots=True)
class Entry:
    """uid: the same for the same session, so that a calendar replaces it. lines: plain text.

    sequence: grows with each change. cancelled: it takes place no longer. changed_at: aware.
    """

    uid: str
    on: date
    title: str
    lines: tuple[str, ...]
    sequence: int = 0
    cancelled: bool = False
    changed_at: datetime | None = None


def write_calendar(
    entries: Iterable[Entry], name: str, made_at: datetime, begins: time | None, minutes: int
) -> bytes:
    """The calendar file. made_at: aware. begins: time of day of a session, or None."""
    calendar = Calendar()
    calendar.add("prodid", "-//Norvik//Training plan//EN")
    calendar.add("version", "2.0")
    calendar.add("method", "PUBLISH")
    calendar.add("x-wr-calname", name)
    for entry in entries:
        event = Event()
        event.add("uid", entry.uid)
        event.add("dtstamp", made_at.astimezone(UTC))
        if begins is None:
            event.add("dtstart", entry.on)
            event.add("dtend", entry.on + timedelta(days=1))
        else:
            start = datetime.combine(entry.on, begins)
            event.add("dtstart", start)
            event.add("dtend", start + timedelta(minutes=minutes))
        event.add("summary", entry.title)
        event.add("description", "\n".join(entry.lines))
        event.add("sequence", entry.sequence)
        event.add("status", "CANCELLED" if entry.cancelled else "CONFIRMED")
        if entry.changed_at is not None:
            event.add("last-modified", entry.changed_at.astimezone(UTC))
        calendar.add_component(event)
    return bytes(calendar.to_ical())
