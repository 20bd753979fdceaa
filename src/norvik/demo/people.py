"""The invented people of the Kvarnholm Masters, and how the model swimmer swims for them."""

from __future__ import annotations

from dataclasses import dataclass

from norvik.model.film import Take
from norvik.model.pose import Build
from norvik.model.schedule import Swim
from norvik.store.swimmers import Swimmer

SIGN_IN = ("coach@kvarnholm.example", "early-morning")
COACH = "Sunniva Kragholt"


@dataclass(frozen=True)
class DemoClip:
    """A clip to film. days_ago: when it is said to have been filmed."""

    name: str
    role: str
    days_ago: int
    take: Take
    reviewed: bool = False


@dataclass(frozen=True)
class DemoSwimmer:
    swimmer: Swimmer
    clips: tuple[DemoClip, ...]


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
            DemoClip(
                "torsmark-side-easy.mp4",
                "before",
                3,
                Take(
                    Swim(
                        cycle_s=2.15, entry=0.38, catch=0.12, pull=0.27, recovery=0.23, lag=0.475,
                        breath_every=2, breath_side="right", head_lead_s=0.14, return_s=-0.09,
                        exhale=0.66, beats=6, variation=0.011, seed=11,
                    ),
                    Build(height_m=1.74, roll_deg=44, dials={"legs-low": 0.25}),
                    seconds=12,
                    suit=(72, 44, 96),
                    cap=(40, 176, 244),
                ),
                reviewed=True,
            ),
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
                Take(
                    Swim(
                        cycle_s=1.42, entry=0.14, catch=0.17, pull=0.43, recovery=0.26, lag=0.5,
                        breath_every=3, breath_side="right", head_lead_s=0.05, return_s=0.09,
                        exhale=0.72, beats=6, variation=0.012, drift_per_min=0.45, seed=23,
                    ),
                    Build(height_m=1.86, roll_deg=40, kick_m=0.19, dials={"straight-arm": 0.8}),
                    seconds=10,
                    speed_m_s=1.62,
                    skin=(116, 148, 200),
                    suit=(60, 60, 58),
                    cap=(228, 226, 220),
                ),
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
        (
            DemoClip(
                "lundeholm-phone.mp4",
                "before",
                1,
                Take(
                    Swim(
                        cycle_s=1.95, entry=0.20, catch=0.18, pull=0.36, recovery=0.26, lag=0.46,
                        breath_every=2, breath_side="left", head_lead_s=0.32, return_s=0.02,
                        exhale=0.16, beats=4, variation=0.03, seed=5,
                    ),
                    Build(height_m=1.68, roll_deg=34, kick_m=0.2, dials={"legs-low": 0.7}),
                    seconds=9,
                    speed_m_s=0.98,
                    jitter=0.35,
                    skin=(150, 184, 232),
                    suit=(110, 84, 20),
                    cap=(96, 150, 60),
                ),
            ),
        ),
    ),
)  # fmt: skip
