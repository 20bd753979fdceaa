"""One judgement from several clips: the same finding once, with what each clip says of it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, fields

from norvik.core.judging.coaching_model import Catalogue
from norvik.core.judging.findings import in_order
from norvik.core.judging.judged import Finding

#: Own choice: paces that differ by more than this share of the faster one are different paces.
SAME_PACE = 0.05
#: How good evidence is, best first.
MEASURED_IN_VIEW, MEASURED, SEEN, CANNOT_TELL = range(4)


@dataclass(frozen=True, slots=True)
class Pace:
    """effort: in a word, or empty. pace_s: seconds a 100, or None."""

    effort: str = ""
    pace_s: float | None = None

    def surely_other(self, than: Pace) -> bool:
        """Were the two swum at a different pace, as far as is known?"""
        if self.pace_s is not None and than.pace_s is not None:
            fast = min(self.pace_s, than.pace_s)
            return abs(self.pace_s - than.pace_s) > SAME_PACE * fast
        return bool(self.effort and than.effort and self.effort != than.effort)


@dataclass(frozen=True, slots=True)
class ClipFindings:
    """What one clip shows. findings: with those that it rules out. kit: worn in it."""

    clip: int
    view: str
    findings: tuple[Finding, ...]
    pace: Pace = Pace()
    kit: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Evidence:
    """What one clip says of a finding. grade: of MEASURED_IN_VIEW to CANNOT_TELL."""

    clip: int
    view: str
    pace: Pace
    kit: tuple[str, ...]
    finding: Finding
    grade: int


@dataclass(frozen=True)
class Joined(Finding):
    """A finding of a review. What it says is that of its best evidence, which comes first.

    against: clips that say it is not so. other_pace: those of them that were swum at another pace:
    then both hold. proposal, where clips of one pace, or the numbers and a tick, contradict each
    other: "keep" the finding, "drop" it, "look" again or "film" again; because: "view" (one was
    filmed from where it shows best), "measured" (one measured it, one did not), "eye" (the coach
    saw what numbers deny) or "alike".
    """

    evidence: tuple[Evidence, ...] = ()
    against: tuple[Evidence, ...] = ()
    other_pace: bool = False
    proposal: str = ""
    because: str = ""

    @property
    def clip(self) -> int:
        """The clip of the best evidence."""
        return self.evidence[0].clip


def join(clips: Sequence[ClipFindings], catalogue: Catalogue) -> list[Joined]:
    """The findings of several clips of one stroke and swimmer, each once, in the usual order.

    Nothing is averaged. What one clip cannot tell is settled by one that can. What clips of the
    same pace contradict each other about keeps both sides, with a proposal; at different paces
    both hold. Left and right are findings of their own; a clip that tells no side joins them.
    """
    by_id: dict[str, list[Evidence]] = {}
    for clip in clips:
        for finding in clip.findings:
            by_id.setdefault(finding.id, []).append(_evidence(clip, finding, catalogue))
    found: list[Joined] = []
    for said in by_id.values():
        for of_side in _by_side(said):
            found += [one for one in [_one(of_side)] if one is not None]
    bad = {j.quantity.id for f in found if f.kind == "fault" for j in f.judged}
    kept = [f for f in found if f.kind != "strength" or _ticked(f) or not _rests_on(f, bad)]
    return [f for f in in_order(list(kept)) if isinstance(f, Joined)]


def _evidence(clip: ClipFindings, finding: Finding, catalogue: Catalogue) -> Evidence:
    if finding.kind == "open" and not finding.judged:
        grade = CANNOT_TELL
    elif finding.seen and finding.proof != "proved":
        # Numbers that do not show it make no measurement of a tick.
        grade = SEEN
    else:
        fault = catalogue.faults.get(finding.id)
        grade = MEASURED_IN_VIEW if fault is None or clip.view in fault.views else MEASURED
    return Evidence(clip.clip, clip.view, clip.pace, clip.kit, finding, grade)


def _by_side(said: list[Evidence]) -> list[list[Evidence]]:
    """The evidence of each side; what tells no side, or rules the fault out, goes to every one."""
    sides = dict.fromkeys(e.finding.side for e in said if e.finding.side)
    if not sides:
        return [said]
    general = [e for e in said if not e.finding.side]
    return [[e for e in said if e.finding.side == side] + general for side in sides]


def _one(said: list[Evidence]) -> Joined | None:
    """All that is said of one finding as one; None where it is only ruled out."""
    shows = [e for e in said if e.finding.kind not in ("absent", "open")]
    absent = [e for e in said if e.finding.kind == "absent"]
    leading = _best_first(shows)
    if not leading:
        unsure = [e for e in said if e.finding.kind == "open"]
        # A clip that can tell settles what another one could not.
        return None if absent or not unsure else _joined(_best_first(unsure), ())
    faults = [e for e in leading if e.finding.kind == "fault"]
    refuted = [e for e in leading if e.finding.proof == "refuted"]
    against = [a for a in absent if a.clip not in {e.clip for e in shows}]
    if not faults or not (against or refuted):
        return _joined(leading, ())
    same = [a for a in against if any(not a.pace.surely_other(e.pace) for e in faults)]
    if not same and not refuted:
        return _joined(leading, tuple(against), other_pace=True)
    proposal, because = _proposal(faults, same)
    made = _joined(leading, tuple(_best_first(same)), proposal=proposal, because=because)
    if proposal == "keep" or any(e.finding.seen for e in faults):
        return made
    # Nothing is called a fault that better evidence denies; it stays as a question.
    return _as_open(made)


def _best_first(said: Iterable[Evidence]) -> list[Evidence]:
    def place(e: Evidence) -> tuple[bool, int, float, int]:
        f = e.finding
        return f.kind != "fault", e.grade, -f.severity * f.share, e.clip

    return sorted(said, key=place)


def _proposal(faults: list[Evidence], against: list[Evidence]) -> tuple[str, str]:
    seen = [e for e in faults if e.finding.seen]
    if seen and (not against or all(e.finding.seen for e in faults)):
        return "look", "eye"
    best, denied = min(e.grade for e in faults), min(e.grade for e in against)
    if best == denied:
        return "film", "alike"
    because = "view" if {best, denied} == {MEASURED_IN_VIEW, MEASURED} else "measured"
    return ("keep" if best < denied else "drop"), because


def _joined(
    evidence: list[Evidence], against: tuple[Evidence, ...], other_pace: bool = False,
    proposal: str = "", because: str = "",
) -> Joined:  # fmt: skip
    lead = evidence[0].finding
    own = {f.name: getattr(lead, f.name) for f in fields(Finding)}
    own["seen"] = lead.seen and lead.proof != "proved"
    return Joined(
        **own, evidence=tuple(evidence), against=against, other_pace=other_pace,
        proposal=proposal, because=because,
    )  # fmt: skip


def _as_open(made: Joined) -> Joined:
    own = {f.name: getattr(made, f.name) for f in fields(Joined)}
    own.update(kind="open", severity=0.0)
    return Joined(**own)


def _ticked(finding: Joined) -> bool:
    return any(e.finding.seen for e in finding.evidence)


def _rests_on(finding: Finding, bad: set[str]) -> bool:
    return any(j.quantity.id in bad for j in finding.judged)
