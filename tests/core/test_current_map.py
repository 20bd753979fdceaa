"""The map of causes: sources to the left of what they lead to, loops as knots."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.sparse import csr_array
from scipy.sparse.csgraph import connected_components

from norvik.catalogue import load
from norvik.core.judging.cause_graph import current_map, knots


@given(
    n=st.integers(1, 12),
    pairs=st.lists(st.tuples(st.integers(0, 11), st.integers(0, 11)), max_size=30),
)
def test_knots_are_what_scipy_calls_strongly_connected(
    n: int, pairs: list[tuple[int, int]]
) -> None:
    links = [(a, b) for a, b in pairs if a < n and b < n and a != b]
    found = knots([str(k) for k in range(n)], [(str(a), str(b)) for a, b in links])
    graph = np.zeros((n, n))
    for a, b in links:
        graph[a, b] = 1
    _, labels = connected_components(csr_array(graph), directed=True, connection="strong")
    expected = {frozenset(str(k) for k in range(n) if labels[k] == x) for x in set(labels)}
    assert {frozenset(g) for g in found} == expected


@pytest.mark.parametrize("stroke", ["freestyle", "backstroke", "breaststroke", "butterfly"])
def test_causes_stand_left_of_their_consequences(stroke: str) -> None:
    tables = load(stroke)
    made = current_map(tables, set(tables.faults))
    at = {s.fault: s for s in made.spots}
    assert set(at) == set(tables.faults)
    for a, b in made.links:
        same_knot = at[a].knot is not None and at[a].knot == at[b].knot
        assert at[a].column < at[b].column or same_knot, (a, b)
    # Nothing stands on anything else.
    assert len({(s.column, s.row) for s in made.spots}) == len(made.spots)
    assert all(0 <= s.row <= made.rows - 1 and s.column < made.columns for s in made.spots)


def test_the_loop_of_freestyle_is_one_knot() -> None:
    made = current_map(load("freestyle"))
    at = {s.fault: s for s in made.spots}
    pair = at["exit-over-back"], at["over-rotation"]
    assert pair[0].knot == pair[1].knot is not None
    assert pair[0].column == pair[1].column
    # Walls are shown only when something of them was found.
    assert not any(f.startswith("wall-") for f in at)
    assert "wall-head-up" in {s.fault for s in current_map(load("freestyle"), {"wall-steep"}).spots}
    assert "stiff-ankles" in at
    assert "open-fingers" not in at
    assert "open-fingers" in {
        s.fault for s in current_map(load("freestyle"), {"open-fingers"}).spots
    }
