"""The words that forms and filters offer."""

from __future__ import annotations

from typing import Any

from norvik.core.strokes import STROKES
from norvik.store import swimmers
from norvik.store.clips import EFFORTS, KIT, ROLES, VIEWS
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.web.shared.facts import STRETCHES


def choices() -> dict[str, Any]:
    return {
        "swimmers": swimmers.names(database(), asked.within()),
        "strokes": tuple(STROKES),
        "views": VIEWS,
        "roles": ROLES,
        "efforts": EFFORTS,
        "kit": KIT,
        "stretches": STRETCHES,
    }
