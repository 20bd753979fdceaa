"""Words and phrases that no page, message, table or document shows (docs/words.md says why)."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[1]
SOURCE = ROOT / "src" / "norvik"

#: Pattern: what to write instead. Matched without regard to case.
REPLACED = {
    r"nobody (yet|named)": "unassigned",
    r"(^|[.:;!?“>] ?)say (who|what|it|its|first|how|that|when|from)\b": "assign, enter, choose",
    r"\bsay at least\b": "name, fill in",
    r"\b(take|takes|taken|taking)( \w+)? away\b": "remove, delete, clear",
    r"\btake (it|that|this) back\b": "undo, remove",
    r"\bleave (it )?as it was\b|\bleft as it was\b": "cancel",
    r"\bgive (it |them )?up\b|\bgiven up\b|\bgives up\b": "delete, cancel",
    r"^do (it )?again\b|^done again\b": "redo",
    r"\bgo on (marking|from|with|into|through)\b|\bcan go on\b": "continue, resume",
    r"\b(the|chosen) schools?\b|^\**schools?\b(?! = )": "coaching approach",
    r"as it (truly )?happened": "real time",
    r"time base unsure": "slow-motion setting may be wrong",
    r"\bstands? (here|there|beside|in it|in the trail|twice)\b": "is, appears",
    r"\blies in the trash\b|\blie in the trash\b": "is in the trash",
    r"\bgoes before\b": "overrides",
    r"\bis handed\b|\bare handed\b": "gets",
    r"\bis told\b|\bare told\b|\bnone told\b|\bwhat was told\b": "is said, reported",
    r"\bthere is none of\b|\bthat is none\b": "no",
    r"\bnot there any ?more\b|\(any ?more\)": "has been deleted",
    r"\bthrown? away\b|\bthrows away\b": "delete",
    r"\bbring (it |them |clips? |marks? )?in\b|\bbrought in\b": "import, add",
    r"load the page again": "reload the page",
    r"keep an eye on": "watch",
    r"really (better|worse|different|changed)\b": "better, worse, changed",
    r"\blong event\b": "race-day card",
    r"\bin no review\b": "not in a review",
    r"\bwhat (is|was) declared\b|\bdeclared is\b": "the setting",
    r"\bshall\b": "will, or the plain verb",
    r"^counts from\b": "smallest real change",
    r"chosen before what was proposed": "picked over the suggestion",
    r"\boff even\b": "left-right timing",
    r"\bhand-overs?\b": "arm coordination",
    r"\bair to face\b": "breath time",
    r"\bface in before\b": "face back in before",
    r"breathing out under water": "exhaling under water",
    r"metres until the hold": "distance before the catch",
    r"\bbeats? (a|per) (cycle|minute)\b|\bbeats of the legs\b": "kicks per cycle, kicks per minute",
    r"spread of the cycles": "consistency, spread of cycle times",
    r"\ba (minute|cycle|100)\b(?= *(,|\.|$|<|\())": "per minute, per cycle, per 100",
    r"\bswim golf\b": "SWOLF score",
    r"best rhythm": "best stroke rate",
    r"\blay (it )?over\b|\blaid over\b": "compare with",
    r"\bwhat feeds what\b|\bthe current\b(?! (setting|state|frame|password|clip))": "causes",
    r"\bupstream\b": "the cause",
    r"\bknots?\b": "loop",
    r"\bthe ladder\b": "progress",
    r"\bthe stage\b|^the rope\b|\bon the rope\b(?! at)": "the video, the timeline",
    r"\bclear up\b|\bcleared up\b": "enhance",
    r"\bfor the eye alone\b": "the stored film is unchanged",
    r"\bagain, blind\b": "re-measure blind",
    r"\blooked and went\b": "swam best",
    r"\bpass(es)? over\b": "skip",
    r"\bunder age\b": "under 18",
    r"\bmeanwhile\b": "in the meantime",
    r"\bset aside\b.{0,3}\bas you said\b": "set aside",
}
#: Places where a word of the list is the trade's own.
ALLOWED = (
    "the rope of the lane", "lane rope", "Do it again if", "swim it again", "again blind",
)  # fmt: skip


def found_in(text: str) -> Iterator[tuple[str, str]]:
    """(what was found, what to write) of every word of the list in a text."""
    for allowed in ALLOWED:
        text = text.replace(allowed, "")
    for pattern, better in REPLACED.items():
        for hit in re.finditer(pattern, text, re.IGNORECASE | re.MULTILINE):
            yield text[max(0, hit.start() - 30) : hit.end() + 20].strip(), better


def plain_text(template: str) -> str:
    """What a template shows: without its tags' names, its statements and its comments."""
    text = re.sub(r"\{#.*?#\}|\{%.*?%\}|<script.*?</script>|<style.*?</style>", " ", template,
                  flags=re.DOTALL)  # fmt: skip
    shown = re.findall(r'(?:title|aria-label|placeholder|alt|hx-confirm)="([^"]*)"', text)
    spoken = re.findall(r"\{\{.*?\}\}", text, re.DOTALL)
    words = [w for s in spoken for w in re.findall(r"(?:^|[\s(,~])'([^']* [^']*)'", s)]
    bare = re.sub(r"<[^>]*>", " ", re.sub(r"\{\{.*?\}\}", " ", text, flags=re.DOTALL))
    return "\n".join([*shown, *words, *bare.splitlines()])


def sentences_of(path: Path) -> Iterator[str]:
    """The strings of a module that a person may read: those with a space, docstrings left out."""
    tree = ast.parse(path.read_text("utf-8"))
    documented = (ast.Module, ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef)
    docstrings = {
        id(n.body[0].value)
        for n in ast.walk(tree)
        if isinstance(n, documented) and n.body and isinstance(n.body[0], ast.Expr)
    }
    for node in ast.walk(tree):
        if not isinstance(node, ast.Constant) or not isinstance(node.value, str):
            continue
        if " " in node.value.strip() and id(node) not in docstrings:
            yield node.value


def script_strings(text: str) -> Iterator[str]:
    """The strings of a script that hold a space."""
    bare = re.sub(r"/\*.*?\*/|^\s*//.*$", "", text, flags=re.DOTALL | re.MULTILINE)
    for plain, template in re.findall(r'"((?:[^"\\\n]|\\.)*)"|`((?:[^`\\]|\\.)*)`', bare):
        if " " in plain + template:
            yield plain or template
