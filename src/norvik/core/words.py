"""Words compared as people read them: without capitals and accents."""

from __future__ import annotations

import unicodedata


def plain(text: str) -> str:
    """Small letters without accents."""
    decomposed = unicodedata.normalize("NFKD", text.replace("ø", "o").replace("Ø", "o"))
    return "".join(c for c in decomposed if not unicodedata.combining(c)).lower()
