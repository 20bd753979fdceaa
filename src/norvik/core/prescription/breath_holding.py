"""Refuses what asks a swimmer to hold the breath: it can kill (common practice).

Read clause by clause. A negation covers its own verb and what is joined to that by "or": "do not
rush, hold your breath" asks for it, "do not rush or hold your breath" does not. What can be meant
either way is not decided here: the coach is asked.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass

#: Own choice: no more than this far under water in one go (metres); the rules of racing end there.
MOST_UNDER_WATER_M = 15
#: Own choice: breathing every so many strokes or more is a restriction of air.
RESTRICTED_FROM = 5

_NUMBERS = {
    "zero": 0, "no": 0, "one": 1, "single": 1, "two": 2, "three": 3, "four": 4, "five": 5,
    "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10, "eleven": 11, "twelve": 12,
    "fifteen": 15, "twenty": 20, "twenty-five": 25, "twenty five": 25, "thirty": 30, "forty": 40,
    "fifty": 50, "third": 3, "fourth": 4, "fifth": 5, "sixth": 6, "seventh": 7, "eighth": 8,
    "ninth": 9, "tenth": 10, "a": 1, "an": 1,
}  # fmt: skip
_NUMBER = r"(?P<n>\d+(?:[.,]\d+)?|" + "|".join(sorted(_NUMBERS, key=len, reverse=True)) + r")"
_UNDER = r"(?:under[- ]?water|submerged|under\s+the\s+surface|beneath\s+the\s+surface|below\s+the\s+surface)"
_LENGTH = r"(?:lengths?|laps?|pools?|25s?|50s?|\d+\s*(?:m|yd|metres?|meters?|yards?)\b)"
_OF_LENGTH = rf"(?:a|per|each|every|for\s+(?:a|the|each|every)|for|in\s+(?:a|the|each)|over\s+(?:a|the)|on\s+(?:a|the|each))\s+(?:whole\s+|full\s+)?{_LENGTH}"

#: Words that ask for it by themselves; only a negation of their own makes them harmless.
_PLAIN = re.compile(
    r"(?P<verb>"
    r"\bhypoxi(?:c|a)\b|\bapn(?:o?ea|ée)\b|\blung[- ]?bust(?:er|ers|ing)\b"
    r"|\bhyper-?ventilat(?:e|es|ing|ion)\b|\bover-?breath(?:e|es|ing)\b"
    r"|\b(?:hold(?:s|ing)?|keep(?:s|ing)?|retain(?:s|ing)?|held)\s+(?:(?:on\s+to|in)\s+)?"
    r"(?:(?:your|the|their|his|her|a|that|one's)\s+)?(?:(?:deep|full|last|whole)\s+)?"
    r"(?:breath\b|air\b(?=\s*(?:$|[.,;!]|in\b|back\b|until\b|till\b|for\b|to\s+the\b)))"
    r"|\bbreath[- ]?hold(?:s|er|ers|ing)?\b"
    r"|\bbreath(?:ing)?[- ](?:control|restriction)\b"
    r"|\b(?:restrict(?:ed|ing)?|limit(?:ed|ing)?|reduc(?:ed|ing))\s+(?:your\s+|the\s+)?(?:breath(?:s|ing)?|air)\b"
    r"|\bcontrolled[- ]frequency\s+breathing\b"
    r"|\bco2\s+tolerance\b|\b(?:empty|packed)\s+lungs\b|\blungs?\s+(?:empty|packed)\b"
    r"|\b(?:luft|atem)\s+an(?:halten|gehalten)\b|\bohne\s+(?:luft|zu\s+atmen|atmung|atmen)\b"
    r"|\bstreckentauchen\b|\bretenir\s+(?:sa|son|la|le|ta|ton)\s+(?:souffle|respiration)\b"
    r"|\bsans\s+respirer\b|\b(?:aguanta\w*|conten\w*)\s+(?:la\s+respiraci[oó]n|el\s+aire)\b"
    r"|\bsin\s+respirar\b|\btratten\w+\s+il\s+(?:respiro|fiato)\b|\bsenza\s+respirare\b"
    r"|\bhold(?:e|er|t)?\s+(?:på\s+)?(?:pusten|vejret)\b|\bhålla\s+andan\b|\but(?:e|a)n\s+(?:å\s+puste|att\s+andas)\b"
    r"|\buden\s+at\s+(?:trække\s+vejret|ånde)\b|\badem\s+inhouden\b|\bzonder\s+(?:adem\w*|te\s+ademen)\b"
    r"|\bprender\s+a\s+respiraç[aã]o\b"
    r")",
    re.IGNORECASE,
)
#: Doing without air: the negation is the demand itself.
_WITHOUT = re.compile(
    r"\bno[- ]breath(?:s|er|ers|ing)?\b(?!-)|\bzero\s+breaths?\b|\bbreath(?:less(?:ly)?|[- ]free)\b"
    r"|\bwithout\s+(?:(?:a|any|one|taking|another|a\s+single|taking\s+a|taking\s+any)\s+)*(?:breath(?:s|ing)?|air)\b"
    r"|\b(?:no|skip(?:ping)?(?:\s+the)?)\s+air\b(?=\s*(?:for|until|till|to|the|all|$|[.,;!]))"
    r"|\b(?:on|in|with)\s+(?:only\s+)?(?:one|a\s+single|the\s+same|just\s+one)\s+breath\b"
    r"|\b(?:one|single)\s+breath\s+only\b|\bonly\s+one\s+breath\b"
    r"|\b(?:do\s+not|don't|don’t|never|not|no|avoid|stop)\s+(?:to\s+)?(?:breath(?:e|ing)|inhal(?:e|ing)|"
    r"tak(?:e|ing)\s+(?:a|any)\s+(?:breath|air))\b"
    r"(?=\s*(?:$|[.;!,:]|at\s+all|for\b|until\b|till\b|before\s+the\s+(?:wall|flags|end|turn)|the\s+(?:whole|entire|full)|all\s+(?:the|length)|over\b|"
    r"during\b|from\b|while\b|in\s+the\s+(?:whole|last)|on\s+the\s+(?:way|last)|to\s+the\s+(?:wall|end|flags)|"
    r"inside\b|between\s+the\s+flags|\d))"
    r"|\bbreath(?:e|ing)\s+(?:only\s+)?(?:just\s+)?(?:once|twice|one\s+time|two\s+times|three\s+times)\s+" + _OF_LENGTH +
    r"|\b(?:stay|remain|keep)(?:s|ing)?\s+(?:down|under(?:\s?water)?|below|submerged)\s+(?:for\s+)?as\s+long\s+as\b"
    r"|\bas\s+(?:far|long|many\s+\w+)\s+as\s+(?:you\s+can|possible)\s+(?:" + _UNDER + r"|on\s+one|without\s+(?:air|breath\w*))"
    r"|" + _UNDER + r"\s+(?:for\s+)?as\s+(?:far|long)\s+as\b"
    r"|\b(?:max(?:imum|imal)?|longest|farthest)\s+(?:distance\s+|time\s+)?" + _UNDER,
    re.IGNORECASE,
)  # fmt: skip
_EVERY = re.compile(
    r"\b(?:breath(?:e|es|ing|s)?|air|inhale)\b[^.;!?]{0,25}?\b(?:every|each)\s+" + _NUMBER
    + r"(?:st|nd|rd|th)?\b(?!\s*(?:lengths?|laps?|m\b|metres?|minutes?|min\b|seconds?|s\b|days?|weeks?|sessions?))",
    re.IGNORECASE,
)  # fmt: skip
_EVERY_FIRST = re.compile(
    r"\bevery\s+" + _NUMBER + r"(?:st|nd|rd|th)?\s+(?:strokes?|arm\s*strokes?|pulls?|cycles?)\b[^.;!?]{0,15}?\b(?:breath(?:e|es|ing|s)?|air)\b",
    re.IGNORECASE,
)  # fmt: skip
#: 3-5-7 and the like beside a word of breathing.
_LADDER = re.compile(
    r"\bbreath\w*\b[^.;!?]{0,30}?(?P<rungs>\d+(?:\s*[-/–,]\s*\d+){1,5})"
    r"|(?P<rungs2>\d+(?:\s*[-/–]\s*\d+){1,5})\s+(?:\w+\s+)?breath\w*",
    re.IGNORECASE,
)
_FEW = re.compile(r"\b" + _NUMBER + r"\s+breaths?\s+" + _OF_LENGTH, re.IGNORECASE)
_FAR = re.compile(
    r"\b" + _NUMBER + r"\s*(?P<unit>m|metres?|meters?|yd|yards?)?s?\s+(?:(?:all|entirely|fully|completely|swim|swum|kick|dolphin|dolphins|fly|kicking|streamline|of)\s+){0,2}" + _UNDER,
    re.IGNORECASE,
)  # fmt: skip
_FAR_AFTER = re.compile(
    _UNDER + r"\s+(?:(?:for|over|swims?|kicks?|dolphins?|distance|of|a|the|length|through|up\s+to|to)\s+){0,3}" + _NUMBER + r"\s*(?P<unit>m|metres?|meters?|yd|yards?)\b",
    re.IGNORECASE,
)  # fmt: skip
_LENGTH_UNDER = re.compile(
    r"\b(?:(?:a|the|one|two|whole|full|entire|each|every|complete|\d+)\s+){1,3}(?:lengths?|laps?|pools?)\s+(?:all\s+|entirely\s+)?" + _UNDER
    + r"|" + _UNDER + r"\s+(?:for\s+|over\s+)?(?:a|the|one|two)\s+(?:whole\s+|full\s+|entire\s+)?(?:lengths?|laps?|pools?)\b"
    + r"|" + _UNDER + r"\s+to\s+the\s+(?:other\s+side|far\s+wall|end)\b",
    re.IGNORECASE,
)  # fmt: skip

#: A negation right before its verb, with nothing between that could be another verb's object.
_NEGATED = re.compile(
    r"\b(?:never|not|don't|don’t|doesn't|mustn't|no|without|avoid(?:s|ing)?|instead\s+of|rather\s+than|"
    r"stop(?:s|ping)?|nothing\s+to\s+do\s+with|prevent(?:s|ing)?|forbidden|refuse(?:s|d)?|neither|nor|against|free\s+of|than|"
    r"nie|nicht|keine?|jamais|nunca|mai|aldri|aldrig|nooit)\s+"
    r"(?:(?:a|an|any|the|as|for|of|into|in|to|be|by|ever|your|this|that|it|you|do|use|try|turn|make|"
    r"contests?|tests?|kind|form|sort|games?|race|racing|practi[sc]e|about|sets?|drills?|swimmers?|let|them|anybody|anyone|or|and)\s+){0,6}$",
    re.IGNORECASE,
)
#: The verb of a distance: its own negation stands before it.
_MOVES = re.compile(
    r"\b(?:swim|go|kick|dolphin|glide|stay|travel|cover|push)(?:s|es|ming|ing)?\s+$", re.IGNORECASE
)
#: "do not rush or hold": the negation reaches over "or".
_NEGATED_OR = re.compile(
    r"\b(?:never|not|don't|don’t|without|no|avoid(?:ing)?)\s+[^,;:.!?–—]{1,40}?\b(?:or|nor)\s+(?:\w+\s+)?$",
    re.IGNORECASE,
)
#: What is said to be wrong, said after it.
_SAID_WRONG = re.compile(
    r"^[^.;!?]{0,40}?\b(?:is|are|was|can|will|does|do|has|have)\s+(?:\w+\s+)?(?:not|never|no\b|dangerous|forbidden|banned|wrong|kill|kills|unsafe|risky|"
    r"a\s+(?:fault|mistake|danger|risk)|bad)|^[^.;!?]{0,25}?\b(?:kills?|makes?\s+you\s+sink|sinks?\s+the\s+legs)\b",
    re.IGNORECASE,
)
#: Somebody is described, or a case is put: neither a demand nor a warning.
_DESCRIBED = re.compile(
    r"\b(?:if|when|whenever|who|that|because|while|notice|feel|feels|catch(?:es)?|tend(?:s)?\s+to|often|used\s+to)\s+(?:\w+\s+){0,4}$",
    re.IGNORECASE,
)


@dataclass(frozen=True, slots=True)
class Asked:
    """Words that ask for breath-holding, or may. sure: there is no other way to read them."""

    words: str
    sure: bool


def breath_holding(texts: Iterable[str]) -> Asked | None:
    """What asks for holding the breath, the surest first; None when nothing does."""
    unsure: Asked | None = None
    for text in texts:
        for asked in _asked(text.replace("’", "'")):
            if asked.sure:
                return asked
            unsure = unsure or asked
    return unsure


def asks_for_breath_holding(texts: Iterable[str]) -> str:
    """The words that surely ask for it, from the first text that does; empty when none does."""
    asked = breath_holding(texts)
    return asked.words if asked and asked.sure else ""


def says_under_water(texts: Iterable[str]) -> bool:
    """Is something done under water? Then the caution and full rest belong to it."""
    work = re.compile(
        rf"{_UNDER}|\bdolphins?\s+(?:off|after|from)\s+(?:the|each|every)\s+wall|\bpull-?outs?\b",
        re.IGNORECASE,
    )
    return any(work.search(text) for text in texts)


def _asked(text: str) -> list[Asked]:
    found: list[Asked] = []
    for match in _PLAIN.finditer(text):
        before, after = text[: match.start()], text[match.end() :]
        if _NEGATED.search(before) or _NEGATED_OR.search(before) or _SAID_WRONG.search(after):
            continue
        sure = not _DESCRIBED.search(before)
        found.append(Asked(match.group(0), sure))
    found += [Asked(m.group(0), True) for m in _WITHOUT.finditer(text) if not _allowed(text, m)]
    for pattern in (_EVERY, _EVERY_FIRST):
        found += [
            Asked(m.group(0), True)
            for m in pattern.finditer(text)
            if _number(m["n"]) >= RESTRICTED_FROM
        ]
    for m in _LADDER.finditer(text):
        rungs = [int(n) for n in re.findall(r"\d+", m["rungs"] or m["rungs2"])]
        if len(rungs) > 1 and max(rungs) >= RESTRICTED_FROM and max(rungs) <= 15:
            found.append(Asked(m.group(0), len(rungs) > 2))
    found += [Asked(m.group(0), True) for m in _FEW.finditer(text) if _number(m["n"]) <= 3]
    for pattern in (_FAR, _FAR_AFTER):
        for m in pattern.finditer(text):
            # Without a unit only the lengths that are swum mean metres.
            metres = m["unit"] or _number(m["n"]) in (20, 25, 33, 50, 75, 100)
            far = _number(m["n"]) > MOST_UNDER_WATER_M
            if metres and far and not _refused(text[: m.start()]):
                found.append(Asked(m.group(0), True))
    found += [
        Asked(m.group(0), True)
        for m in _LENGTH_UNDER.finditer(text)
        if not _refused(text[: m.start()])
    ]
    return found


def _refused(before: str) -> bool:
    """Is the distance that follows refused: "no 25 m", "never swim 25 m"?"""
    before = _MOVES.sub("", before)
    return bool(_NEGATED.search(before) or _NEGATED_OR.search(before))


def _allowed(text: str, match: re.Match[str]) -> bool:
    """ "Never swim without air", "no breathless sets", "this is no no-breath drill" forbid it."""
    before = text[: match.start()]
    forbids = re.compile(
        r"\b(?:never|not|no|don't|avoid|nobody|nothing|neither)\b[^,;:.!?–—]{0,30}$", re.IGNORECASE
    )
    # One stroke without a breath is butterfly as it is swum every day.
    if re.search(
        r"\b(?:a|one|each|the|that|first|flat|second)\s+stroke\s+(?:\w+\s+)?$", before, re.I
    ):
        return True
    # "Do not breathe ..." carries its own negation; it needs another one before it.
    after = text[match.end() :]
    return bool(forbids.search(before)) or bool(
        re.match(
            r"\s*(?:sets?\s+|drills?\s+)?(?:is|are)\s+(?:not|never|dangerous|forbidden)", after
        )
    )


def _number(said: str) -> float:
    known = _NUMBERS.get(said.lower())
    return float(known) if known is not None else float(said.replace(",", "."))
