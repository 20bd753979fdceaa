"""What asks for breath-holding is refused, what does not passes, what may is asked about."""

from __future__ import annotations

import pytest

from norvik.catalogue.loader import everything
from norvik.core.prescription.breath_holding import (
    Asked,
    asks_for_breath_holding,
    breath_holding,
    says_under_water,
)

CAUGHT = """
Hold your breath to the wall
Hold the breath for ten strokes
Keep your breath until the flags
Holding your breath, kick to the other side
No hurry: hold your breath to the wall
Do not rush, hold your breath for the whole length
Never stop kicking; hold your breath
Don't look up - hold your breath
Hold a deep breath and swim
25 m breath-hold kick
Breath holding set
Breath-hold 8 x 25
Hypoxic 25s
A hypoxic ladder
Apnea kick
Dynamic apnoea over 25 m
Lungbusters
Two lung-busters at the end
Swim 25 m under water. Breathe every 9 strokes
Breathe every 5 strokes
Breathe every seven
Breathing every 7th stroke
Breathe every ninth stroke
Take a breath every 6 strokes
Breathing pattern 3-5-7-9
3-5-7 breathing
Breathe 3/5/7 by lengths
Every 8 strokes one breath
Every sixth stroke breathe
50 m under water on one breath
25 m underwater for time
20 metres under water
Kick 25 m underwater
25 underwater, 25 easy
Swim a whole length under water
One length underwater
Two lengths under water
Under water for 25 m
Underwater over 20 metres
Twenty-five metres under water
50 m submerged
Under water to the far wall
As far as you can under water
As long as possible underwater
Stay under as long as you can
Stay down as long as possible
Maximum distance underwater
One breath for 25 m
One breath a length
3 breaths a length
Two breaths per 25
Three breaths per length
One breath each lap
Breathe once a length
Breathe only twice per length
Swim it on one breath
The last 15 on a single breath
With only one breath
One breath only
No-breathers
4 x 25 no breathers
No-breath 25s
No breath from the turn
No breathing for the length
No breathing
Do not breathe for the length
Don't breathe for 25 m
Never breathe until the wall
Do not breathe.
Not breathing over the whole length
Without breathing
Without a breath to the wall
Swim 25 without air
Without taking a breath
Restricted breathing 8 x 50
Breath control work
Limit your breaths
Hyperventilate first, then go
Over-breathe before you start
Swim with empty lungs
CO2 tolerance set
Luft anhalten bis zur Wand
25 m ohne zu atmen
Apnée sur 25 m
Sin respirar hasta la pared
Trattenere il respiro
Hold pusten til veggen
Retain your breath in the glide
Breathless 25s
""".strip().splitlines()

PASSES = """
Never hold your breath
Do not hold your breath
Don't hold your breath
Don’t hold the breath
Swim without holding your breath
Breathe out instead of holding your breath
No breath-holding
Never as a breath-holding contest
This is never a contest of holding your breath
Do not rush or hold your breath
Avoid holding your breath
Stop holding your breath under water
Breath-holding is dangerous
Breath holding can kill
Hypoxic sets are forbidden
No hypoxic sets
Never hyperventilate
Never over-breathe beforehand
Breathe every 3 strokes
Breathe every second stroke
Breathe every 2 to the left
Breathe every fourth stroke if you have plenty of air
Breathing every 3, both sides
Breathe whenever you want to
Breathe when you need to
Breathe steadily out under water
Breathe out through the nose, in through the mouth
Begin to breathe out as soon as the face is in
Take three breaths at the wall
Ten breaths a length are fine
Rest three breaths between lengths
Take two easy breaths before you start
Catch your breath, then go
Get your breath back at the wall
Under your breath count one, two
The first breath comes on the third stroke
Two strokes before the first breath; if you want air sooner, take it
Do not breathe late
Do not breathe to the same side all the time
Do not breathe in the first two strokes off the wall
Do not breathe out all at once
Don't breathe behind the shoulder
Never breathe against the wave
Breathe to both sides
Breathe in every stroke
Breathe low, eyes on the water
Six kicks, then breathe
Breathe on the sixth kick
10 m under water, then up
15 m underwater at most
Push off and kick 8 metres under water
The hand stays under water until the hip
Film 25 m with the camera under water
Swim 25 m, then watch the film from under water
25 m, hands recover under water
Doggy paddle: recovery under water
Look under water at the wall
Arms recover under water, 4 x 25
Keep the head still and the breath calm
Hold the water, not the wall
Hold your head still
Hold the line for a heartbeat
Hold the buoy, breathe easily
Hold a board and keep your legs long
Keep your elbow high until the breath
Keep the air moving out of your nose
The breath is free
Every 5 lengths take a drink
Breathe, then swim 6 x 25
Rest every 5 minutes, breathe easily
4 x 25, breathe as you like
Every fifth length easy
Count five strokes from the flags
Nine strokes a length, breathe as you like
Change the side of the breath every length
Breathe out to a count of three
Not a drill for beginners: breathe early
No splash at the breath
No kick on the breath
Air comes in by itself
Hum under water
Steady bubbles under water until the turn
Swim with a snorkel and breathe normally
No paddles, no fins, breathe every stroke
Do not lift the head to breathe
Don't wait with the breath
One breath, one stroke, one kick: say it in your head
Take one breath at each wall
""".strip().splitlines()

ASKED_ABOUT = """
If you hold your breath the legs sink a little
Notice when you hold your breath
Feel how swimmers who hold their breath get tense
Breathing 3 - 5 over the set
""".strip().splitlines()


def test_there_are_eighty_of_each() -> None:
    assert len(set(CAUGHT)) >= 80
    assert len(set(PASSES)) >= 80


@pytest.mark.parametrize("text", CAUGHT)
def test_what_asks_for_it_is_caught(text: str) -> None:
    assert asks_for_breath_holding(["Swim easily.", text])


@pytest.mark.parametrize("text", PASSES)
def test_what_does_not_passes(text: str) -> None:
    assert breath_holding([text]) is None


@pytest.mark.parametrize("text", ASKED_ABOUT)
def test_what_may_be_meant_is_asked_about(text: str) -> None:
    asked = breath_holding([text])
    assert asked is not None
    assert not asked.sure


@pytest.mark.parametrize(
    ("text", "words"),
    [
        # 15 m is where the rules of racing end it; without a unit only swum lengths are metres.
        ("Kick 16 m under water", "16 m under water"),
        ("Kick 15 m under water", ""),
        ("Swim 20 under water", "20 under water"),
        ("Swim 33 under water", "33 under water"),
        ("Swim 50 under water", "50 under water"),
        ("Swim 75 under water", "75 under water"),
        ("Swim 100 under water", "100 under water"),
        ("Swim 40 under water", ""),
        ("Glide under water 16,5 m", "under water 16,5 m"),
        ("Glide under water for 12,5 m", ""),
        # A breath every five strokes or more rarely; three breaths a length or fewer.
        ("Breathe every 5 strokes", "Breathe every 5"),
        ("Breathe every fifth stroke", "Breathe every fifth"),
        ("Breathe every 4 strokes", ""),
        ("3 breaths per length", "3 breaths per length"),
        ("3.0 breaths per length", "3.0 breaths per length"),
        ("4 breaths per length", ""),
        # A ladder of counts; beyond 15 they are something else.
        ("Set of 3-5-7 breathing", "3-5-7 breathing"),
        ("Ladder of breathing 3-5-15", "breathing 3-5-15"),
        ("Ladder of breathing 3-5-16", ""),
        ("breathing 5", ""),
        ("breathing 3-4", ""),
        # The curly apostrophe of a phone is the straight one of a keyboard.
        ("don’t breathe for the length", "don't breathe"),
        ("Don’t hold your breath", ""),
        # Doing without air, forbidden before it or after it.
        ("Swim without breath, not hurried", "without breath"),
        ("Never swim without air", ""),
        ("A set without air is never swum", ""),
        ("No-breath drills are forbidden", ""),
        ("Flat second stroke without a breath", ""),
    ],
)
def test_the_edges(text: str, words: str) -> None:
    assert asks_for_breath_holding([text]) == words


def test_what_is_sure_goes_before_what_may_be_and_the_first_of_these_is_asked() -> None:
    described, ladder = "When you hold your breath", "breathing 3-5"
    assert breath_holding([described, ladder, "a hypoxic set"]) == Asked("hypoxic", sure=True)
    assert breath_holding([f"{ladder}, then hypoxic work"]) == Asked("hypoxic", sure=True)
    assert breath_holding([described, ladder]) == Asked("hold your breath", sure=False)
    assert breath_holding([ladder, described]) == Asked("breathing 3-5", sure=False)
    assert breath_holding([]) is None


def test_no_shipped_drill_asks_for_it_or_may() -> None:
    for drill in everything().drills.values():
        assert breath_holding(drill.texts) is None, drill.id


def test_work_under_water_is_told() -> None:
    assert says_under_water(["Push off, six kicks under water"])
    assert says_under_water(["Four dolphins off each wall"])
    assert not says_under_water(["Swim easily", "Water on the goggles"])
