"""Arms that many drills share: whole strokes in turn, one arm alone, a hand held or sculling."""

from __future__ import annotations

from norvik.model.drills.motion import At, Turn


def stroke(
    entry: float, cycle_s: float, press: float = 0.34, out: float = 0.68, wait_s: float = 0.0
) -> Turn:
    """A whole stroke. press, out: shares of the cycle. wait_s: rest where it leaves the pull."""
    leave = entry + out * cycle_s + wait_s if wait_s else None
    return Turn(entry, entry + press * cycle_s, entry + out * cycle_s, entry + cycle_s + wait_s,
                leave)  # fmt: skip


def strokes(
    first: float, cycle_s: float, count: int, press: float = 0.34, out: float = 0.68
) -> list[Turn]:
    """Strokes one after the other."""
    return [stroke(first + n * cycle_s, cycle_s, press, out) for n in range(count)]


def hold(place: str, start: float, end: float) -> list[At]:
    """A hand that stays where it is."""
    return [At(start, place), At(end, place)]


def to_and_fro(a: str, b: str, start: float, end: float, times: int) -> list[At]:
    """A hand that goes from a to b and back, so many times."""
    step = (end - start) / (2 * times)
    return [At(start + n * step, b if n % 2 else a) for n in range(2 * times + 1)]


def path(*places: tuple[float, str]) -> list[At]:
    """A hand from place to place."""
    return [At(time_s, place) for time_s, place in places]
