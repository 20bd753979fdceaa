"""What each route does, so that `access.may` can decide about it.

A route that is not named here is refused to everybody: a new one has to say what it does.
"""

from __future__ import annotations

from collections.abc import Mapping

from norvik.core.errors import ForbiddenError
from norvik.workflow.access import Deed

#: Open to nobody in particular: signing in, what a link's token opens, files of the program.
OPEN = frozenset(
    ("auth.sign_in", "auth.second", "account_links.choose", "account_links.choose_strength",
     "account_links.forgotten", "static", "health.alive", "health.ready", "health.metrics")
)  # fmt: skip
OPEN_BLUEPRINTS = frozenset(("link",))

#: Blueprint: what its routes do when they are looked at, and when something is sent to them.
_AREAS: Mapping[str, tuple[Deed, Deed]] = {
    "auth": ("self", "self"),
    "second_factor": ("self", "self"),
    "where": ("self", "self"),
    "mine": ("own", "own"),
    "people": ("lead", "lead"),
    "squads": ("lead", "lead"),
    "trail": ("lead", "lead"),
    "keeping": ("lead", "lead"),
    "club": ("lead", "lead"),
    "storage": ("lead", "lead"),
    "consent": ("see", "judge"),
    "today": ("see", "see"),
    "cut": ("see", "film"),
    "intake": ("film", "film"),
    "library": ("see", "film"),
    "media": ("see", "film"),
    "recordings": ("see", "film"),
    "uploads": ("film", "film"),
    "trash": ("remove", "remove"),
    "about_numbers": ("see", "mark"),
    "again": ("see", "mark"),
    "bench": ("see", "mark"),
    "change": ("see", "mark"),
    "clip_files": ("see", "mark"),
    "dial": ("see", "mark"),
    "drawings": ("see", "mark"),
    "reading": ("see", "mark"),
    "stills": ("see", "mark"),
    "timebase": ("see", "mark"),
    "tracks": ("see", "mark"),
    "beside_drawn": ("see", "mark"),
    "kept_pairs": ("see", "judge"),
    "model_films": ("see", "see"),
    "side_by_side": ("see", "mark"),
    "strip": ("see", "mark"),
    "tie": ("see", "mark"),
    "mend": ("see", "judge"),
    "talk_path": ("see", "judge"),
    "recording_talk": ("judge", "judge"),
    "making_film": ("see", "judge"),
    "send": ("send", "send"),
    "send_mail": ("send", "send"),
    "causes": ("see", "judge"),
    "gathered": ("see", "judge"),
    "judge": ("see", "judge"),
    "remarks": ("see", "judge"),
    "review": ("see", "judge"),
    "short": ("see", "judge"),
    "squad_sheet": ("see", "judge"),
    "lengths": ("see", "train"),
    "over_time": ("see", "judge"),
    "plans": ("see", "judge"),
    "pool_tests": ("see", "train"),
    "progress": ("see", "judge"),
    "rhythm": ("see", "judge"),
    "speed_steps": ("see", "judge"),
    "swimmers": ("see", "judge"),
    "drills": ("see", "teach"),
    "strokes": ("see", "see"),
    "undo": ("mark", "mark"),
}

#: Routes that do something else than their neighbours.
_ROUTES: Mapping[str, Deed] = {
    "library.contents": "remove",
    "library.throw_away": "remove",
    "judge.seen": "mark",
    "short.seen": "mark",
    "short.tap": "mark",
    "short.undo": "mark",
    "squad_sheet.tick": "mark",
    "plans.log": "train",
    "send.seen": "judge",
    "swimmers.new": "judge",
    "swimmers.edit": "judge",
    "swimmers.remove": "remove",
    "swimmers.restore": "remove",
    "swimmers.delete": "lead",
    "swimmers.erase_now": "lead",
    "swimmers.export": "send",
    "review.download": "send",
    "review.paper": "send",
    "recordings.original": "send",
    "lengths.edit": "train",
    "drills.new": "teach",
    "drills.edit": "teach",
    "drills.cues": "teach",
    "plans.new": "judge",
}


def is_open(endpoint: str | None, blueprint: str | None) -> bool:
    """Does it open without an account?"""
    return endpoint in OPEN or blueprint in OPEN_BLUEPRINTS


def deed_of(endpoint: str, method: str) -> Deed:
    """What a route does. Raises ForbiddenError for one of which that is not said."""
    if endpoint in _ROUTES:
        return _ROUTES[endpoint]
    area = _AREAS.get(endpoint.partition(".")[0])
    if area is None:
        raise ForbiddenError("This page may not be opened by anybody. Tell your administrator.")
    return area[0] if method in ("GET", "HEAD", "OPTIONS") else area[1]
