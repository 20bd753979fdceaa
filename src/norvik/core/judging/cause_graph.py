"""The map of causes laid out as a river: sources on the left, what they lead to on the right.

Faults that lead to each other in a loop are one knot: they stand in one column, and can be worked
on from either end.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass

from norvik.core.judging.coaching_model import Catalogue

#: Own choice: passes over the columns that pull neighbours to the same height.
_SWEEPS = 8


@dataclass(frozen=True, slots=True)
class Spot:
    """column from 0 at the sources; row from 0 at the top, in halves where a column is shorter.

    knot: number of its knot, or None.
    """

    fault: str
    column: int
    row: float
    knot: int | None


@dataclass(frozen=True)
class CurrentMap:
    """links: from a fault to what it leads to. rows: of the fullest column."""

    spots: tuple[Spot, ...]
    links: tuple[tuple[str, str], ...]
    columns: int
    rows: int


def around(catalogue: Catalogue, faults: Collection[str]) -> set[str]:
    """These faults with what leads to them and what they lead to, one step each way."""
    known = {f for f in faults if f in catalogue.faults}
    after = {to for f in known for to in catalogue.faults[f].leads_to}
    before = {f.id for f in catalogue.faults.values() if known & set(f.leads_to)}
    return known | after | before


def current_map(
    catalogue: Catalogue, always: Collection[str] = (), only: Collection[str] | None = None
) -> CurrentMap:
    """Lay out every fault that has a cause or a consequence, and those in `always`.

    Faults of walls are shown only when something of a wall is in `always`. only: leave out all
    others.
    """
    walls = any(catalogue.faults[f].part == "wall" for f in always if f in catalogue.faults)
    ids = [f.id for f in catalogue.faults.values() if walls or f.part != "wall" or f.id in always]
    if only is not None:
        ids = [f for f in ids if f in only]
    inside = set(ids)
    links = [
        (f, to) for f in ids for to in catalogue.faults[f].leads_to if to in inside and to != f
    ]
    linked = {f for link in links for f in link}
    ids = [f for f in ids if f in linked or f in always]
    groups = knots(ids, links)
    group_of = {f: n for n, group in enumerate(groups) for f in group}
    columns = _columns(groups, links, group_of)
    order = _order(ids, links, columns, group_of)
    most = max((len(c) for c in order), default=0)
    numbers = {n: at for at, n in enumerate(n for n, g in enumerate(groups) if len(g) > 1)}
    spots = [
        Spot(f, column, row + (most - len(faults)) / 2, numbers.get(group_of[f]))
        for column, faults in enumerate(order)
        for row, f in enumerate(faults)
    ]
    return CurrentMap(tuple(spots), tuple(links), len(order), most)


def knots(ids: Sequence[str], links: Iterable[tuple[str, str]]) -> list[list[str]]:
    """Groups of faults that lead to each other (strongly connected), each fault in one group.

    Source: Tarjan 1972, SIAM J Comput 1:146-160 (recalled, not looked up); written as a loop.
    """
    after: dict[str, list[str]] = {f: [] for f in ids}
    for a, b in links:
        after[a].append(b)
    index: dict[str, int] = {}
    low: dict[str, int] = {}
    stack: list[str] = []
    found: list[list[str]] = []
    for root in ids:
        if root in index:
            continue
        work = [(root, iter(after[root]))]
        index[root] = low[root] = len(index)
        stack.append(root)
        while work:
            at, rest = work[-1]
            step = next(rest, None)
            if step is None:
                work.pop()
                if work:
                    low[work[-1][0]] = min(low[work[-1][0]], low[at])
                if low[at] == index[at]:
                    cut = stack.index(at)
                    found.append(stack[cut:])
                    del stack[cut:]
            elif step not in index:
                index[step] = low[step] = len(index)
                stack.append(step)
                work.append((step, iter(after[step])))
            elif step in stack:
                low[at] = min(low[at], index[step])
    return found


def _columns(
    groups: list[list[str]], links: list[tuple[str, str]], group_of: dict[str, int]
) -> list[int]:
    """Column of each group: the longest way from a source to it.

    A source that joins late stands just before what it leads to, like a brook near its mouth.
    """
    into: dict[int, set[int]] = {n: set() for n in range(len(groups))}
    for a, b in links:
        if group_of[a] != group_of[b]:
            into[group_of[b]].add(group_of[a])
    column: dict[int, int] = {}

    def far(n: int) -> int:
        if n not in column:
            column[n] = 1 + max((far(m) for m in into[n]), default=-1)
        return column[n]

    columns = [far(n) for n in range(len(groups))]
    for n, feeding in into.items():
        out = [columns[m] for m in into if n in into[m]]
        if not feeding and out:
            columns[n] = min(out) - 1
    return columns


def _order(
    ids: list[str], links: list[tuple[str, str]], columns: list[int], group_of: dict[str, int]
) -> list[list[str]]:
    """Faults of each column from top to bottom, near to what they are linked with."""
    order: list[list[str]] = [[] for _ in range(max(columns, default=-1) + 1)]
    for f in ids:
        order[columns[group_of[f]]].append(f)
    near: dict[str, list[str]] = {f: [] for f in ids}
    for a, b in links:
        near[a].append(b)
        near[b].append(a)
    height = {f: row - len(c) / 2 for c in order for row, f in enumerate(c)}
    for sweep in range(_SWEEPS):
        for column in order if sweep % 2 == 0 else reversed(order):
            wanted = {
                f: sum(height[x] for x in near[f]) / len(near[f]) if near[f] else height[f]
                for f in column
            }
            # A knot stays together: its faults share their mean height.
            shared: dict[int, list[float]] = {}
            for f in column:
                shared.setdefault(group_of[f], []).append(wanted[f])
            mean = {n: sum(v) / len(v) for n, v in shared.items()}
            column.sort(key=lambda f: (mean[group_of[f]], group_of[f], f))
            height.update({f: row - len(column) / 2 for row, f in enumerate(column)})
    return order
