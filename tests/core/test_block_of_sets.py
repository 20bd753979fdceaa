"""A block of sets with made-up drills: what each rule gives, worked by hand, and the whole beside
the rules as plain loops.
"""

from __future__ import annotations

import math
import random
from dataclasses import replace
from fractions import Fraction

import pytest

from norvik.core.errors import PlanError
from norvik.core.judging.coaching_model import Drill, Fault
from norvik.core.prescription.plan import Pool
from norvik.core.prescription.plan.sets import (
    ADDED,
    FocusDrills,
    Set,
    block,
    block_lengths,
    fitting,
)

POOL = Pool(Fraction(25))
REST = {1: 15, 2: 15, 3: 20, 4: 40, 5: 60, 6: 90}


def drill(
    name: str, slot: str = "main", repeats: tuple[int, int] = (2, 4), **more: object
) -> Drill:
    usual = Drill(
        id=name, name=name.capitalize(), slot=slot, purpose="p", how=("Swim.",), cue=f"{name}!",
        repeats=repeats, progression="Harder.", effort=2, works_on=("made-up",), metres=25,
    )  # fmt: skip
    return replace(usual, **more)  # type: ignore[arg-type]


def focus(*drills: Drill, fault: str = "made-up") -> FocusDrills:
    made = Fault(
        id=fault, name=fault, shows="s", why="w", cue=f"think of {fault}", costs=("drag",),
        views=("side",), drills=(),
    )  # fmt: skip
    return FocusDrills(made, drills, lambda d: d.effort)


def told(sets: list[Set]) -> list[tuple[str | None, int, int]]:
    return [(s.drill, s.repeats, s.lengths) for s in sets]


# ---- how long a block is ----


@pytest.mark.parametrize(
    ("session", "pool", "lengths"),
    [
        # 15 % of 70 are 10.5, made even; the range is 8 to 14.
        (70, POOL, 10),
        (100, POOL, 16),
        # 15 % of 60 are 9: one more is allowed.
        (60, POOL, 10),
        # Short sessions: 200 m, even where they are more than 20 %.
        (20, POOL, 8),
        # 800 m in 33⅓ m are 24 lengths; in 47 m 17, which are odd and no more: one less.
        (200, Pool(Fraction(100, 3)), 24),
        (115, Pool(Fraction(47)), 16),
        # 200 m in 29 m are 7 lengths, which are all that 20 % of 35 allow: they stay odd.
        (35, Pool(Fraction(29)), 7),
    ],
)
def test_lengths_of_a_block(session: int, pool: Pool, lengths: int) -> None:
    assert block_lengths(session, pool) == lengths


def test_no_longer_than_its_drills_fill_with_as_much_swimming() -> None:
    one = focus(drill("a", repeats=(2, 4)), drill("b", repeats=(1, 2), per_side=True, metres=50))
    # 4 of one length, 4 of two: 12 lengths, and as many of swimming.
    assert fitting(40, 200, POOL, one) == 24
    assert fitting(20, 200, POOL, one) == 20
    # Never under the least of a session: a tenth of it.
    few = focus(drill("a", repeats=(1, 1)))
    assert fitting(30, 120, POOL, few) == 12
    assert fitting(30, 120, POOL, focus()) == 30
    assert fitting(30, 120, POOL, focus(drill("land", place="land"))) == 30


# ---- what is in it ----


def test_doses_grow_over_three_weeks_and_the_swim_off_fills_up() -> None:
    one = focus(drill("a", repeats=(2, 6)))
    for week, repeats in ((0, 2), (1, 4), (2, 6), (3, 6), (9, 6)):
        assert told(block(16, POOL, one, week)) == [
            ("a", repeats, 1), (None, (16 - repeats) // 2, 2)
        ]  # fmt: skip
    sets = block(16, POOL, one, 0)
    first, last = sets
    assert (first.fault, first.name, first.cue, first.place) == ("made-up", "A", "a!", 0)
    assert (first.fixed, first.keeps, first.added, first.note) == (False, False, False, "")
    assert last == Set(
        "made-up", "Swim, thinking of the one point", 7, 2, 15, 2, "think of made-up"
    )


@pytest.mark.parametrize(
    ("left", "pool", "off"),
    # Near 50 m where that goes up, else two lengths, else one.
    [(6, POOL, (3, 2)), (7, POOL, (7, 1)), (6, Pool(Fraction(15)), (2, 3)),
     (4, Pool(Fraction(15)), (2, 2)), (5, Pool(Fraction(50)), (5, 1)), (2, POOL, (1, 2)),
     (1, POOL, (1, 1)), (3, Pool(Fraction(15)), (1, 3))],
)  # fmt: skip
def test_the_swim_off(left: int, pool: Pool, off: tuple[int, int]) -> None:
    last = block(left, pool, focus(), 0)[-1]
    assert (last.repeats, last.lengths) == off


def test_a_fifth_is_left_for_swimming_and_drills_without_room_take_turns() -> None:
    one = focus(
        drill("p", "prepare", (3, 3)), drill("w", "whole", (3, 3)), drill("m", "main", (3, 3))
    )
    # Of 10 lengths 2 are swum: room for two of three; the main one first, then whole, then prepare.
    turns = [[s.drill for s in block(10, POOL, one, 0, turn=n) if s.drill] for n in range(4)]
    assert turns == [["w", "m"], ["p", "w"], ["p", "m"], ["w", "m"]]
    # Exactly as many as there is room for is room enough: 8 of 10.
    assert told(block(10, POOL, focus(drill("m", repeats=(8, 8))), 0)) == [
        ("m", 8, 1),
        (None, 1, 2),
    ]
    # Under its lowest dose, where nothing else fits: as many as there is room for.
    assert told(block(10, POOL, focus(drill("m", repeats=(9, 9))), 0)) == [
        ("m", 8, 1),
        (None, 1, 2),
    ]
    sided = focus(drill("m", repeats=(9, 9), per_side=True), drill("x", repeats=(30, 30)))
    assert told(block(8, POOL, sided, 0)) == [("m", 6, 1), (None, 1, 2)]
    # The one with the least to swim is taken: by lengths, not by repeats.
    far = focus(drill("far", repeats=(5, 5), metres=100), drill("near", repeats=(12, 12)))
    assert [s.drill for s in block(8, POOL, far, 0) if s.drill] == ["near"]


def test_what_a_set_says() -> None:
    def first(d: Drill, pool: Pool = POOL, effort: int | None = None) -> Set:
        owner = focus(d)
        if effort is not None:
            owner = replace(owner, effort=lambda _: effort)
        return block(20, pool, owner, 0)[0]

    for effort, rest in REST.items():
        assert first(drill("a", effort=effort)).rest_s == rest
        assert first(drill("a"), effort=effort).effort == effort
    # A rest of its own, but never shorter than that of the effort; under water a full one.
    assert first(drill("a", rest_s=45)).rest_s == 45
    assert first(drill("a", rest_s=20, effort=5)).rest_s == 60
    assert first(drill("a", tags=("under-water",), effort=2)).rest_s == 60
    assert first(drill("a", tags=("under-water",), effort=1)).rest_s == 15
    assert first(drill("a", tags=("under-water",), rest_s=75)).rest_s == 75
    sided = first(drill("a", per_side=True))
    assert (sided.repeats, sided.note) == (4, "2 each side")
    # In a long pool the drill ends before the wall: from half as far again on.
    fifty = Pool(Fraction(50))
    assert (
        first(drill("a"), fifty).note
        == "25 m of each length as the drill, then swim on to the wall"
    )
    assert first(drill("a", metres=34), fifty).note == ""
    assert first(drill("a", metres=33), fifty).note.startswith("33 m of each")
    assert first(drill("a", kit=("fins",))).kit == ("fins",)


def test_an_earlier_focus_keeps_one_set_no_more_than_half_of_the_room() -> None:
    own = focus(drill("m", repeats=(2, 2)))
    keep = focus(
        drill("k0", "prepare", (2, 2)), drill("k1", "main", (3, 5), metres=50), fault="earlier"
    )
    sets = block(20, POOL, own, 2, keep)
    # Its lowest dose, first in the block, and of its main drill.
    assert told(sets)[:2] == [("k1", 3, 2), ("m", 2, 1)]
    assert (sets[0].keeps, sets[0].fault, sets[0].place, sets[1].place) == (True, "earlier", 0, 1)
    # 10 lengths: 8 without the swim-off, 4 of them at most, two repeats.
    assert told(block(10, POOL, own, 0, keep))[0] == ("k1", 2, 2)
    both = focus(drill("k", repeats=(3, 3), per_side=True), fault="earlier")
    assert told(block(10, POOL, own, 0, both))[0] == ("k", 4, 1)
    # One of each side is the least of it.
    assert told(block(5, POOL, own, 0, both))[0] == ("k", 2, 1)
    # Without a main drill its first one in the water; nothing of one that is all on land.
    without = focus(drill("k0", "prepare", (2, 2)), drill("k2", "whole"), fault="earlier")
    assert told(block(20, POOL, own, 0, without))[0][0] == "k0"
    land = focus(drill("k", place="land"), fault="earlier")
    assert told(block(20, POOL, own, 0, land)) == told(block(20, POOL, own, 0))


def test_what_the_coach_fixed_stays_and_what_was_added_comes_last() -> None:
    own = focus(drill("a", "prepare", (2, 2)), drill("b", "main", (2, 2)))
    sets = block(12, POOL, own, 0, fixed={0: 5, 7: 9})
    assert told(sets) == [("a", 5, 1), ("b", 2, 1), (None, 5, 1)]
    assert [s.fixed for s in sets] == [True, False, False]
    # Fixed at none it is left out, at one it is swum once.
    assert told(block(12, POOL, own, 0, fixed={0: 0}))[0] == ("b", 2, 1)
    assert told(block(12, POOL, own, 0, fixed={0: 1}))[0] == ("a", 1, 1)
    extra = drill("x", metres=50)
    with_more = block(12, POOL, own, 0, None, None, [(ADDED + 3, extra, 2)])
    assert told(with_more) == [("a", 2, 1), ("b", 2, 1), ("x", 2, 2), (None, 2, 2)]
    one = with_more[2]
    assert (one.place, one.fixed, one.added, one.keeps, one.fault) == (
        ADDED + 3, True, True, False, "made-up",
    )  # fmt: skip
    # What has no metres is swum a length of 25 m.
    assert told(block(12, POOL, own, 0, None, None, [(ADDED, drill("y", metres=None), 1)]))[2] == (
        "y", 1, 1,
    )  # fmt: skip


def test_what_cannot_be_is_said() -> None:
    own = focus(drill("a"))
    with pytest.raises(PlanError) as full:
        block(8, POOL, own, 0, fixed={0: 8})
    assert full.value.sentence == (
        "The sets that you fixed fill more than the 200 m of technique. Remove some repeats; the "
        "swim-off needs a length, too."
    )
    assert told(block(8, POOL, own, 0, fixed={0: 7}))[-1] == (None, 1, 1)
    hold = drill("hold", how=("Hold your breath for a length.",))
    for sets in ((focus(hold), ()), (own, [(ADDED, hold, 1)])):
        with pytest.raises(PlanError) as refused:
            block(20, POOL, sets[0], 0, None, None, sets[1])
        assert refused.value.sentence == (
            "“Hold” asks for breath-holding (Hold your breath), which can kill. Change the drill "
            "before planning with it."
        )


# ---- the whole, at random ----


def plainly(
    lengths: int,
    pool: Pool,
    own: FocusDrills,
    week: int,
    keep: FocusDrills | None,
    fixed: dict[int, int],
    turn: int,
) -> list[tuple[str | None, int, int]] | None:
    """None where nothing is left for the swim-off."""
    places = [(d, False) for d in own.in_water]
    if keep and keep.in_water:
        mains = [d for d in keep.in_water if d.slot == "main"]
        places.insert(0, ((mains or keep.in_water)[0], True))
    each = [pool.lengths_near(d.swum_metres) for d, _ in places]
    doses = {n: times for n, times in fixed.items() if n < len(places)}
    room = lengths - sum(each[n] * times for n, times in doses.items())
    room -= max(1, math.ceil(0.2 * lengths))
    for n, (d, kept) in enumerate(places):
        if kept and n not in fixed:
            sides = 2 if d.per_side else 1
            most = max(sides, room // 2 // each[n] // sides * sides)
            doses[n] = min(d.repeats[0] * sides, most)
            room -= doses[n] * each[n]
    order = [n for slot in ("main", "whole", "prepare") for n, (d, kept) in enumerate(places)
             if not kept and n not in fixed and d.slot == slot]  # fmt: skip
    if order:
        start = turn % len(order)
        for n in order[start:] + order[:start]:
            d = places[n][0]
            low, high = d.repeats
            dose = min(high, low + round((high - low) * min(week, 2) / 2))
            while dose >= low:
                swum = dose * (2 if d.per_side else 1)
                if swum * each[n] <= room:
                    doses[n], room = swum, room - swum * each[n]
                    break
                dose -= 1
        if not any(not places[n][1] for n in doses):
            n = min(order, key=lambda n: places[n][0].repeats[0] * each[n]
                    * (2 if places[n][0].per_side else 1))  # fmt: skip
            sides = 2 if places[n][0].per_side else 1
            swum = max(0, room // each[n] // sides * sides)
            if swum:
                doses[n] = swum
    made = [(places[n][0].id, doses[n], each[n]) for n in range(len(places)) if doses.get(n)]
    left = lengths - sum(times * long for _, times, long in made)
    if left < 1:
        return None
    near = pool.lengths_near(50)
    long = near if left % near == 0 and near <= left else 2 if left % 2 == 0 else 1
    return [*made, (None, left // long, long)]


def test_a_block_is_what_the_rules_say() -> None:
    rng = random.Random(9)

    def some(fault: str) -> FocusDrills:
        return focus(
            *(
                drill(
                    f"{fault}-{n}", rng.choice(("prepare", "main", "whole")),
                    (low := rng.randint(1, 5), low + rng.randint(0, 4)),
                    per_side=rng.random() < 0.3, metres=rng.choice((15, 25, 50, 75)),
                    place=rng.choice(("water", "water", "water", "land")),
                )
                for n in range(rng.randint(0, 4))
            ),
            fault=fault,
        )  # fmt: skip

    refused = 0
    for _ in range(1500):
        pool = Pool(Fraction(rng.choice((15, 20, 25, 50))))
        own, keep = some("own"), some("earlier") if rng.random() < 0.5 else None
        lengths, week, turn = rng.randint(2, 34), rng.randint(0, 4), rng.randint(0, 6)
        fixed = {n: rng.randint(0, 6) for n in range(5) if rng.random() < 0.15}
        expected = plainly(lengths, pool, own, week, keep, fixed, turn)
        if expected is None:
            refused += 1
            with pytest.raises(PlanError):
                block(lengths, pool, own, week, keep, fixed, (), turn)
        else:
            assert told(block(lengths, pool, own, week, keep, fixed, (), turn)) == expected
    assert 20 < refused < 750
