"""Times as they are read off a watch: seconds, or minutes:seconds."""

from __future__ import annotations

import re

TIME = re.compile(r"(?:(\d{1,3}):)?(\d{1,4}(?:[.,]\d{1,6})?)")


def read_seconds(text: str) -> float | None:
    """Seconds of "92.4" or "1:32.4" (a comma will do); None for anything else."""
    found = TIME.fullmatch(text)
    if not found:
        return None
    return 60 * int(found[1] or 0) + float(found[2].replace(",", "."))
