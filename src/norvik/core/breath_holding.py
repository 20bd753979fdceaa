"""Refuses what asks a swimmer to hold the breath: it can kill (common practice)."""

from __future__ import annotations

import re
from collections.abc import Iterable

#: Ways of asking for it. A text that forbids it ("never hold", "no breath-holding") is fine.
_ASKS = re.compile(
    r"\bhypoxic\b|\bapn(?:ea|oea)\b"
    r"|\b(?:hold(?:s|ing)?|keep(?:s|ing)?)\s+(?:your|the|their)?\s*breath\b"
    r"|\bbreath[- ]?(?:hold(?:s|ing)?|control)\b"
    r"|\bwithout\s+(?:breathing|air)\b"
    r"|\b(?:no|zero)\s+breath(?:s|ing)?\b"
    r"|\bone\s+breath\s+(?:a|per|each)\s+length\b"
    r"|\bas\s+(?:far|long)\s+as\s+(?:you\s+can|possible)\s+under\s?water\b",
    re.IGNORECASE,
)
_FORBIDS = re.compile(r"\b(?:never|not|don't|do not|no)\b[^.;!?]*$", re.IGNORECASE)


def asks_for_breath_holding(texts: Iterable[str]) -> str:
    """The words that ask for it, from the first text that does; empty when none does."""
    for text in texts:
        for found in _ASKS.finditer(text):
            before = text[: found.start()]
            if not _FORBIDS.search(before):
                return found.group(0)
    return ""
