"""From a drill's motion to joints: the same bones and strokes as a swim, put together otherwise."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import numpy as np

from norvik.core.strokes.names import Side
from norvik.model import body, breath
from norvik.model import proportions as p
from norvik.model.body import Build, Pose, Seconds
from norvik.model.drills.arms import arm_keys
from norvik.model.drills.course import SPEED_M_S, Course, arm_cycle, with_arms
from norvik.model.drills.leg_moves import move_legs
from norvik.model.drills.motion import Kick, Motion, Turn
from norvik.model.schedule import (
    PUSH_S,
    USUAL,
    ArmCycle,
    BreathTimes,
    LegCycle,
    Schedule,
    schedule,
)
from norvik.model.strokes import breaststroke, butterfly, wall

_OTHER = {"left": "right", "right": "left"}


def pose_of(motion: Motion, build: Build, t: Seconds) -> Pose:
    """All joints at seconds t of the loop, each of shape (len(t), 3); as of a stroke's pose."""
    build = replace(build, dials=dict(motion.dials))
    if motion.stroke == "wall":
        swim = replace(USUAL["wall"], variation=0.0, dolphins=motion.dolphins,
                       flutters=motion.flutters)  # fmt: skip
        return wall.pose(schedule(swim, motion.seconds + PUSH_S + 3), build, t + PUSH_S)
    course = Course(motion, build, t)
    joints = _Trunk(course).joints
    for side, sign in body.SIDES:
        body.arm(joints, build, side, sign, arm_keys(course, side, sign), t)
    if motion.fists:
        _close_hands(joints)
    move_legs(course, joints)
    if not course.on_back:
        return joints
    # On the back the left side lies where the right one lies face down.
    return {_named(name): points for name, points in joints.items()}


def _named(joint: str) -> str:
    side, _, rest = joint.partition("_")
    return f"{_OTHER[side]}_{rest}" if side in _OTHER else joint


def _close_hands(joints: Pose) -> None:
    for side, _ in body.SIDES:
        wrist = joints[f"{side}_wrist"]
        for joint, share in (("fingertip", 0.5), ("thumb", 0.6)):
            reach = joints[f"{side}_{joint}"] - wrist
            joints[f"{side}_{joint}"] = wrist + share * reach


class _Trunk:
    """Trunk and head of a drill, laid out by where each side lies."""

    def __init__(self, course: Course) -> None:
        self.course, self.motion = course, course.motion
        self.build, self.t = course.build, course.t
        self.joints: Pose = {}
        if course.waved:
            self._stroke_body()
        else:
            self._body()

    def _body(self) -> None:
        motion, t = self.motion, self.t
        roll = np.deg2rad(self.course.roll_deg(t))
        pitch = np.deg2rad(self.course.track(motion.pitch))
        neck_m = self.course.track(self.course.neck())
        bow = 0 * t
        if isinstance(motion.legs, Kick) and motion.legs.kind == "dolphin":
            neck_m, pitch, bow = self._waved(neck_m, pitch)
        neck = body.stack(self.course.track(motion.ahead_m), 0.0, neck_m, t.size)
        body.trunk(self.joints, self.build, pitch, roll, neck, 0 * t, bow)
        lift = pitch + np.deg2rad(self.course.track(motion.lift))
        body.head(self.joints, self.build, lift, self._turn(neck_m, lift), up=self.course.up)

    def _waved(self, neck_m: Seconds, pitch: Seconds) -> tuple[Seconds, Seconds, Seconds]:
        """Neck, pitch and bow with the wave of the dolphin kick, which ends where the body stands
        up.
        """
        plan = Schedule({}, [], self.course.beats())
        lying = np.clip(1 - np.abs(np.sin(pitch)) * 1.6, 0, 1)
        neck_wave, pelvis_wave = (lying * w for w in wall.undulation(plan, self.build, self.t))
        length = p.TRUNK * self.build.height_m
        rise = np.sin(pitch) + (neck_wave - pelvis_wave) / length
        steep = np.abs(pitch) > np.deg2rad(60)
        waved = np.where(steep, pitch, np.arcsin(np.clip(rise, -0.99, 0.99)))
        bow = body.bowed(
            lambda s: wall.undulation(plan, self.build, s), wall.wave_lag_s(plan), self.t
        )
        return neck_m + neck_wave, waved, lying * bow

    def _turn(self, neck_m: Seconds, lift: Seconds) -> Seconds:
        """Radians by which the face turns to the right as it lies."""
        motion = self.motion
        turn = np.deg2rad(self.course.track(motion.turn))
        ways: tuple[tuple[Side, float], ...] = (("right", 1.0), ("left", -1.0))
        for side, sign in ways:
            own = [
                BreathTimes(side, start + by, start + 0.45 * (end - start) + by, end + by)
                for by in (k * self.course.seconds for k in self.course.loops)
                for start, end, of in motion.breaths
                if of == side
            ]
            own.sort(key=lambda b: b.turn)
            out, top = breath.turned(
                self.build, float(np.mean(neck_m)), float(np.mean(lift)), SPEED_M_S
            )
            there = breath.through_breaths(own, [(out, top, out)] * len(own), self.t)
            turn = turn + (sign * there - turn) * np.clip(there / max(out, 1e-6), 0, 1)
        return turn

    def _stroke_body(self) -> None:
        """Trunk and head as the whole stroke moves them."""
        turns = self.course.turns()
        if self.motion.stroke == "butterfly":
            cycles = [arm_cycle(turn, "both") for turn in turns]
            breaths = [self._front(c) for c, turn in zip(cycles, turns, strict=True)
                       if self._breathes(turn)]  # fmt: skip
            plan = Schedule({"both": cycles}, breaths, with_arms(turns))
            self.joints.update(butterfly.pose(plan, self.build, self.t))
            return
        ends = [turn.entry for turn in turns[1:]] + [turns[-1].end + self.course.seconds]
        cycles = [
            ArmCycle("both", {"out": turn.entry, "in": turn.press, "shoot": turn.out,
                              "long": turn.end}, max(end, turn.end + 0.1))
            for turn, end in zip(turns, ends, strict=True)
        ]  # fmt: skip
        leg_cycles = self.course.leg_cycles()
        if not leg_cycles:
            times = [c.at["shoot"] for c in cycles]
            leg_cycles = [LegCycle(a - 0.1, a + 0.1, a + 0.4, b - 0.1) for a, b in pairwise(times)]
        breaths = [
            BreathTimes("front", c.at["in"] - 0.05, c.at["in"] + 0.12,
                        0.5 * (c.at["shoot"] + c.at["long"]))
            for c in cycles
        ]  # fmt: skip
        plan = Schedule({"both": cycles}, breaths, legs=leg_cycles)
        self.joints.update(breaststroke.pose(plan, self.build, self.t))

    def _breathes(self, turn: Turn) -> bool:
        return any(
            turn.entry <= start + k * self.course.seconds < turn.end
            for start, _, _ in self.motion.breaths
            for k in self.course.loops
        )

    @staticmethod
    def _front(c: ArmCycle) -> BreathTimes:
        span = c.end - c.at["entry"]
        air = c.at["shoulder"] + 0.55 * (c.at["exit"] - c.at["shoulder"])
        return BreathTimes("front", c.at["press"] + 0.1 * span, air, c.end - 0.10 * span)
