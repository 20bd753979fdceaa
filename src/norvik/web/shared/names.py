"""Names of people in names of files: plain letters that every system keeps."""

from __future__ import annotations

import re
import unicodedata

_LETTERS = str.maketrans({
    "ø": "oe", "Ø": "Oe", "å": "aa", "Å": "Aa", "æ": "ae", "Æ": "Ae", "ä": "ae", "Ä": "Ae",
    "ö": "oe", "Ö": "Oe", "ü": "ue", "Ü": "Ue", "ß": "ss", "ł": "l", "Ł": "L", "đ": "d", "Đ": "D",
    "ð": "d", "Ð": "D", "þ": "th", "Þ": "Th", "ı": "i",
})  # fmt: skip


def file_name(name: str, otherwise: str = "swimmer") -> str:
    """Small ASCII letters, digits and hyphens: "Zoë Håkonsen-Ærø" is "zoe-haakonsen-aeroe".

    otherwise: where nothing of a name can be said in them.
    """
    plain = unicodedata.normalize("NFKD", name.translate(_LETTERS))
    ascii_only = plain.encode("ascii", "ignore").decode()
    return re.sub(r"[^a-z0-9]+", "-", ascii_only.lower()).strip("-") or otherwise
