"""The invented people of the Kvarnholm Masters, and how the model swimmer swims for them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

from norvik.core.judging.judged import Degree
from norvik.core.strokes.names import Side, StrokeName
from norvik.model.dials import usual_swim, with_faults
from norvik.model.film import Conditions, Take
from norvik.model.paint import Colour
from norvik.model.pose import Build
from norvik.model.schedule import Swim
from norvik.store.swimmers import Swimmer

SIGN_IN = ("coach@kvarnholm.example", "early-morning")
COACH = "Sunniva Kragholt"


@dataclass(frozen=True)
class DemoClip:
    """A clip to film: one take, or several swimmers one after the other.

    days_ago: when it is said to have been filmed. at_once: there before the demo opens, since its
    film is shipped (see films/); the others are filmed while it is in use. marked: its marks are
    placed, too. pace: the speed that the swimmer keeps is said as the pace. seen: what the coach
    ticked, (what, side, degree). measures: that were taken on three frames.
    """

    name: str
    role: str
    days_ago: int
    takes: tuple[Take, ...]
    reviewed: bool = False
    at_once: bool = False
    marked: bool = False
    pace: bool = False
    seen: tuple[tuple[str, Side, Degree], ...] = ()
    measures: tuple[str, ...] = ()

    @property
    def stroke(self) -> StrokeName:
        return self.takes[0].swim.stroke_name


@dataclass(frozen=True)
class DemoSwimmer:
    swimmer: Swimmer
    clips: tuple[DemoClip, ...]


#: Film-like clips are compressed as a phone does it.
_PHONE = Conditions(crf=30)

YLVA = Take(
    Swim(
        cycle_s=2.15,
        entry=0.38,
        catch=0.12,
        pull=0.27,
        recovery=0.23,
        lag=0.475,
        breath_every=2,
        breath_side="right",
        head_lead_s=0.14,
        return_s=-0.09,
        exhale=0.66,
        beats=6,
        variation=0.011,
        seed=11,
    ),
    Build(height_m=1.74, roll_deg=44, dials={"legs-low": 0.03}),
    seconds=12,
    suit=(72, 44, 96),
    cap=(40, 176, 244),
    dots=True,
    style="filmlike",
    conditions=_PHONE,
)
YLVA_AFTER = replace(
    YLVA,
    swim=replace(
        YLVA.swim,
        cycle_s=1.95,
        entry=0.29,
        catch=0.14,
        pull=0.33,
        recovery=0.24,
        return_s=0.04,
        seed=12,
    ),
    seconds=8,
)
AKSEL = Take(
    Swim(
        cycle_s=1.42,
        entry=0.14,
        catch=0.17,
        pull=0.43,
        recovery=0.26,
        lag=0.5,
        breath_every=3,
        breath_side="right",
        head_lead_s=0.05,
        return_s=0.09,
        exhale=0.72,
        beats=6,
        variation=0.012,
        drift_per_min=0.45,
        seed=23,
    ),
    Build(
        height_m=1.86,
        roll_deg=40,
        kick_m=0.33,
        metres_per_cycle=2.3,
        dials={"straight-arm": 0.40, "crossing": 0.18, "over-rotation": 0.57},
    ),
    seconds=10,
    skin=(116, 148, 200),
    suit=(60, 60, 58),
    cap=(228, 226, 220),
    style="filmlike",
    cut="brief",
    conditions=_PHONE,
)
PETRA = Take(
    Swim(
        cycle_s=1.95,
        entry=0.20,
        catch=0.18,
        pull=0.36,
        recovery=0.26,
        lag=0.46,
        breath_every=2,
        breath_side="left",
        head_lead_s=0.32,
        return_s=0.02,
        exhale=0.16,
        beats=4,
        variation=0.03,
        seed=5,
    ),
    Build(height_m=1.68, roll_deg=34, kick_m=0.34, dials={"legs-low": 0.41}),
    seconds=9,
    jitter=0.35,
    skin=(150, 184, 232),
    suit=(110, 84, 20),
    cap=(96, 150, 60),
    style="filmlike",
    cut="one-piece",
    conditions=_PHONE,
)


def _take(stroke: str, per_min: float, seed: int, cap: Colour, skin: Colour = (138, 172, 220),
          faults: dict[str, float] | None = None, **more: Any) -> Take:  # fmt: skip
    take = Take(usual_swim(stroke, per_min, seed), cap=cap, skin=skin, seconds=6, **more)
    return with_faults(take, faults or {})


BLUE, WHITE, GREEN, PINK, BLACK = (
    (190, 110, 30),
    (232, 230, 226),
    (90, 150, 50),
    (170, 120, 226),
    (52, 48, 46),
)
DARK: Colour = (70, 96, 140)


def _speed_step(per_min: float, speed: float, number: int) -> DemoClip:
    build = Build(metres_per_cycle=speed * 60 / per_min)
    take = _take("backstroke", per_min, 40 + number, BLUE, build=build)
    return DemoClip(
        f"holmquell-step-{number}.mp4", "speed-step", 2, (take,), marked=True, pace=True
    )


def _medley(
    name: str, stroke: str, per_min: float, seed: int, faults: dict[str, float],
    seen: tuple[str, ...],
) -> DemoClip:  # fmt: skip
    """One stroke of the medley swimmer, filmed and ticked on the same day as the others."""
    take = _take(stroke, per_min, seed, PINK, DARK, faults)
    return DemoClip(name, "before", 4, (take,), seen=tuple((s, "", "clear") for s in seen))


SQUAD = (
    DemoSwimmer(
        Swimmer(
            "Ylva Torsmark",
            level="improver",
            usual_breath="right",
            aim="1500 m in spring, under 26 minutes",
            kit=("fins", "buoy", "beeper"),
            schools={"glide": "patient", "roll": "long-axis", "recovery": "bent"},
        ),
        (
            DemoClip("torsmark-side-easy.mp4", "before", 23, (YLVA,), reviewed=True, at_once=True),
            DemoClip(
                "torsmark-front-easy.mp4",
                "before",
                23,
                (replace(YLVA, view="front-under", seconds=8),),
            ),
            DemoClip("torsmark-side-after.mp4", "after", 0, (YLVA_AFTER,), marked=True),
        ),
    ),
    DemoSwimmer(
        Swimmer(
            "Aksel Rimvold",
            level="advanced",
            usual_breath="both",
            aim="50 m freestyle in the medley relay",
            pain=("shoulder",),
            kit=("fins", "buoy", "paddles", "beeper"),
            schools={"glide": "continuous", "roll": "long-axis", "recovery": "bent"},
        ),
        (
            DemoClip(
                "rimvold-side-pace.mp4",
                "before",
                1,
                (AKSEL,),
                at_once=True,
                marked=True,
                seen=(("long-line", "", "clear"), ("dropped-elbow", "right", "slight")),
                measures=("high-elbow",),
            ),
            DemoClip(
                "rimvold-front-pace.mp4",
                "before",
                1,
                (replace(AKSEL, view="front-under", seconds=6),),
                seen=(("over-rotation", "right", "clear"), ("straight-arm", "right", "clear")),
                measures=("body-roll",),
            ),
            DemoClip(
                "rimvold-overhead-pace.mp4",
                "before",
                1,
                (replace(AKSEL, view="overhead", seconds=5),),
                seen=(("crossing", "right", "clear"),),
            ),
        ),
    ),
    DemoSwimmer(
        Swimmer(
            "Petra Lundeholm",
            level="beginner",
            usual_breath="left",
            aim="400 m without a stop",
            kit=("fins",),
            schools={"glide": "patient", "roll": "compact", "recovery": "bent"},
        ),
        (DemoClip("lundeholm-phone.mp4", "before", 1, (PETRA,), at_once=True),),
    ),
    DemoSwimmer(
        Swimmer(
            "Brynja Holmquell",
            level="advanced",
            aim="backstroke leg of the medley relay",
            kit=("fins", "board"),
        ),
        (_speed_step(32, 1.02, 1), _speed_step(40, 1.23, 2), _speed_step(52, 1.52, 3)),
    ),
    DemoSwimmer(
        Swimmer(
            "Tormod Askelund",
            level="improver",
            aim="breaststroke leg of the medley relay",
            pain=("knee",),
            kit=("buoy", "board"),
        ),
        (
            DemoClip(
                "askelund-overhead.mp4",
                "before",
                6,
                (
                    _take(
                        "breaststroke",
                        36,
                        51,
                        WHITE,
                        faults={"breast-knees-wide": 0.57},
                        view="overhead",
                    ),
                ),
            ),
            DemoClip(
                "askelund-overhead-after.mp4",
                "after",
                0,
                (
                    _take(
                        "breaststroke",
                        37,
                        52,
                        WHITE,
                        faults={"breast-knees-wide": 0.02},
                        view="overhead",
                    ),
                ),
            ),
        ),
    ),
    DemoSwimmer(
        Swimmer(
            "Linnea Vassmyr",
            level="advanced",
            aim="100 m individual medley, under 1:20",
            kit=("fins",),
        ),
        (
            DemoClip(
                "vassmyr-side.mp4",
                "before",
                4,
                (_take("butterfly", 46, 61, PINK, DARK, {"fly-late-breath": 0.77}),),
                marked=True,
            ),
            DemoClip(
                "vassmyr-above.mp4",
                "before",
                4,
                (
                    _take(
                        "butterfly",
                        46,
                        61,
                        PINK,
                        DARK,
                        {"fly-late-breath": 0.77},
                        view="side-above",
                    ),
                ),
                seen=(("fly-little-finger", "", "clear"),),
            ),
            _medley(
                "vassmyr-back.mp4",
                "backstroke",
                42,
                62,
                {"back-little-roll": 0.57},
                ("back-still-head", "back-little-roll"),
            ),
            _medley(
                "vassmyr-breast.mp4",
                "breaststroke",
                38,
                63,
                {"breast-slow-heels": 0.57},
                ("breast-quick-shoot", "breast-slow-heels"),
            ),
            _medley(
                "vassmyr-free.mp4",
                "freestyle",
                46,
                64,
                {"short-finish": 0.57},
                ("quiet-head", "short-finish"),
            ),
        ),
    ),
    DemoSwimmer(
        Swimmer("Ragna Stensvold", level="improver", aim="turns for the 1500 m", kit=("fins",)),
        (
            DemoClip(
                "stensvold-wall.mp4",
                "before",
                5,
                (
                    _take(
                        "wall", 44, 71, GREEN, faults={"wall-few-kicks": 1.0, "wall-head-up": 0.41}
                    ),
                ),
            ),
            DemoClip(
                "stensvold-wall-after.mp4",
                "after",
                0,
                (replace(_take("wall", 44, 72, GREEN), seconds=7),),
            ),
        ),
    ),
    DemoSwimmer(
        Swimmer(
            "Eskil Norrhage", level="improver", aim="1500 m in spring, all freestyle", kit=("buoy",)
        ),
        (
            DemoClip(
                "norrhage-240.mp4",
                "before",
                2,
                (
                    replace(
                        _take(
                            "freestyle",
                            34,
                            81,
                            BLACK,
                            faults={"reaches-down": 0.41},
                            fps=240,
                            stored_fps=30,
                        ),
                        seconds=3,
                    ),
                ),
            ),
            DemoClip(
                "norrhage-busy-lane.mp4",
                "before",
                2,
                (
                    _take(
                        "freestyle",
                        34,
                        82,
                        BLACK,
                        faults={"head-lift-breath": 0.41},
                        conditions=Conditions(haze=0.25, hidden=((1.2, 2.2), (3.9, 4.6))),
                    ),
                ),
            ),
        ),
    ),
)

#: What a coach brings home on top: one recording of several swimmers, to be cut into parts.
POOL_M = 25.0
TO_CUT = DemoClip(
    "squad-one-after-the-other.mp4",
    "before",
    1,
    tuple(replace(take, seconds=4, jitter=0.0, view="side-under") for take in (YLVA, AKSEL, PETRA)),
)


def everything() -> Iterator[tuple[Swimmer | None, DemoClip]]:
    """Every clip of the demo with its swimmer, None for the recording that is not cut yet."""
    yield None, TO_CUT
    for member in SQUAD:
        for clip in member.clips:
            yield member.swimmer, clip
