"""Two marked clips of one swimmer, one of another, for the tests of what stands side by side."""

from __future__ import annotations

from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import marks
from norvik.store.connection import connected

JSON = {"Accept": "application/json"}
#: The frame of each event of a cycle, at 30 and at 60 frames a second.
SLOW = {"entry": 0, "catch": 10, "press": 16, "exit": 28}
FAST = {"entry": 0, "catch": 8, "press": 20, "exit": 40}


def mark_cycles(settings: Settings, clip: int, events: dict[str, int], long: int) -> None:
    """Three hand entries from frame 5 on, so two whole cycles of the right arm."""
    with connected(settings.database) as connection:
        for begin in (5, 5 + long, 5 + 2 * long):
            for event, at in events.items():
                marks.place(connection, clip, None, begin + at, "arm", "right", event)


def frames_of(client: FlaskClient, one: int, **wish: object) -> dict[str, object]:
    """What is said of the first film, and of the second one in step with it."""
    answer = client.get(f"/clips/{one}/beside/frames.json", query_string=wish)
    assert answer.status_code == 200, answer.text
    state: dict[str, object] = answer.json
    found: dict[str, object] = state["others"][0]  # type: ignore[index]
    return {**state, **found}
