"""From a drill's motion to joints: the same bones and strokes as a swim, put together otherwise."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import pairwise

import numpy as np

from norvik.model import body, breath, legs
from norvik.model import proportions as p
from norvik.model.body import Build, Key, Pose, Seconds, Vector
from norvik.model.drills.motion import At, Bent, Frog, Kick, Motion, Track, Turn
from norvik.model.drills.places import PLACES
from norvik.model.schedule import (
    PUSH_S,
    USUAL,
    ArmCycle,
    BreathTimes,
    LegCycle,
    Schedule,
    schedule,
)
from norvik.model.strokes import backstroke, breaststroke, butterfly, freestyle, wall

#: Height of the neck over the level of the pool where a drill does not say it, metres.
_NECK_M = {"freestyle": -freestyle.DEPTH_M, "backstroke": -backstroke.DEPTH_M,
           "breaststroke": -0.10, "butterfly": -0.10}  # fmt: skip
#: Metres a second at which drills are swum, for the trough beside the face (own choice).
SPEED_M_S = 1.0
_OTHER = {"left": "right", "right": "left"}
#: Dolphin kicks: travel of the ankles at a height of 1.78 m, metres.
_DOLPHIN_M = 0.36
#: How much of the trunk's roll the hips and legs go along with.
_HIPS_ROLL = 0.65
#: A hand that is held while the body turns has a key at least this often, seconds.
_HELD_S = 0.12


def pose_of(motion: Motion, build: Build, t: Seconds) -> Pose:
    """All joints at seconds t of the loop, each of shape (len(t), 3); as of a stroke's pose."""
    build = replace(build, dials=dict(motion.dials))
    if motion.stroke == "wall":
        swim = replace(USUAL["wall"], variation=0.0, dolphins=motion.dolphins,
                       flutters=motion.flutters)  # fmt: skip
        return wall.pose(schedule(swim, motion.seconds + PUSH_S + 3), build, t + PUSH_S)
    laid = _Laid(motion, build, t)
    if motion.stroke != "backstroke":
        return laid.joints
    # On the back the left side lies where the right one lies face down.
    return {_named(name): points for name, points in laid.joints.items()}


def _named(joint: str) -> str:
    side, _, rest = joint.partition("_")
    return f"{_OTHER[side]}_{rest}" if side in _OTHER else joint


class _Laid:
    """The body laid out by where each side lies."""

    def __init__(self, motion: Motion, build: Build, t: Seconds) -> None:
        self.motion, self.build, self.t = motion, build, t
        self.seconds = motion.seconds
        #: The loop before, this one and the one after.
        self.loops = (0,) if motion.once else (-1, 0, 1)
        self.on_back = motion.stroke == "backstroke"
        self.up = 1.0 if self.on_back else -1.0
        arms = {"left": motion.left, "right": motion.right}
        if self.on_back:
            arms = {"left": motion.right, "right": motion.left}
        self.arms = {side: list(self._repeated(items)) for side, items in arms.items()}
        self.joints: Pose = {}
        waved = motion.stroke in ("butterfly", "breaststroke") and self._turns()
        self.waved = bool(waved) and motion.neck_m is None
        if self.waved:
            self._stroke_body()
        else:
            self._body()
        for side, sign in body.SIDES:
            body.arm(self.joints, build, side, sign, self._keys(side, sign), t)
        if motion.fists:
            self._close_hands()
        self._legs()

    def _repeated(self, items: Sequence[Turn | At]) -> Iterator[Turn | At]:
        """The items of this loop and its neighbours."""
        for k in self.loops:
            by = k * self.seconds
            for item in items:
                if isinstance(item, At):
                    yield At(item.time_s + by, item.place)
                else:
                    leave = None if item.leave is None else item.leave + by
                    entry, press, out, end = (
                        s + by for s in (item.entry, item.press, item.out, item.end)
                    )
                    yield Turn(entry, press, out, end, leave)

    def _turns(self) -> list[Turn]:
        """The strokes of both arms, each once where they go together."""
        found: dict[float, Turn] = {}
        for items in self.arms.values():
            for item in items:
                if isinstance(item, Turn):
                    found.setdefault(round(item.entry, 3), item)
        return [found[k] for k in sorted(found)]

    def track(self, value: Track, t: Seconds | None = None) -> Seconds:
        """A track at seconds t (those of the frames where none are given)."""
        t = self.t if t is None else t
        if isinstance(value, (int, float)):
            return np.full(t.size, float(value))
        keys = [(s + k * self.seconds, v) for k in self.loops for s, v in value]
        return body.steady(keys, t)

    # ---- trunk and head ----

    def _roll_deg(self, t: Seconds) -> Seconds:
        motion = self.motion
        if motion.roll is not None:
            return self.track(motion.roll, t)
        if motion.stroke in ("butterfly", "breaststroke"):
            return np.zeros(t.size)
        keys: list[tuple[float, float]] = []
        for side, items in self.arms.items():
            sign = 1.0 if side == "right" else -1.0
            for item in items:
                if isinstance(item, Turn):
                    leave = item.out if item.leave is None else item.leave
                    keys += [
                        (item.entry + min(0.2, 0.5 * (item.press - item.entry)), sign),
                        (item.press, sign),
                        (0.5 * (leave + item.end), -sign),
                    ]
        if not keys:
            return np.zeros(t.size)
        keys.sort()
        apart = keys[:1]
        for time_s, value in keys[1:]:
            if time_s - apart[-1][0] > 0.15:
                apart.append((time_s, value))
        return motion.roll_most * body.steady(apart, t)

    def _neck(self) -> Track:
        height = self.motion.neck_m
        return _NECK_M[self.motion.stroke] if height is None else height

    def _body(self) -> None:
        motion, t = self.motion, self.t
        roll = np.deg2rad(self._roll_deg(t))
        pitch = np.deg2rad(self.track(motion.pitch))
        neck_m = self.track(self._neck())
        if isinstance(motion.legs, Kick) and motion.legs.kind == "dolphin":
            neck_m, pitch = self._waved(neck_m, pitch)
        neck = body.stack(self.track(motion.ahead_m), 0.0, neck_m, t.size)
        body.trunk(self.joints, self.build, pitch, roll, neck, 0 * t)
        lift = pitch + np.deg2rad(self.track(motion.lift))
        body.head(self.joints, self.build, lift, self._turn(neck_m, lift), up=self.up)

    def _waved(self, neck_m: Seconds, pitch: Seconds) -> tuple[Seconds, Seconds]:
        """Neck and pitch with the wave of the dolphin kick, which ends where the body stands up."""
        plan = Schedule({}, [], self._beats())
        lying = np.clip(1 - np.abs(np.sin(pitch)) * 1.6, 0, 1)
        neck_wave, pelvis_wave = (lying * w for w in wall.undulation(plan, self.build, self.t))
        length = p.TRUNK * self.build.height_m
        rise = np.sin(pitch) + (neck_wave - pelvis_wave) / length
        steep = np.abs(pitch) > np.deg2rad(60)
        waved = np.where(steep, pitch, np.arcsin(np.clip(rise, -0.99, 0.99)))
        return neck_m + neck_wave, waved

    def _turn(self, neck_m: Seconds, lift: Seconds) -> Seconds:
        """Radians by which the face turns to the right as it lies."""
        motion = self.motion
        turn = np.deg2rad(self.track(motion.turn))
        for side, sign in (("right", 1.0), ("left", -1.0)):
            own = [
                BreathTimes(side, a + k * self.seconds, a + 0.45 * (b - a) + k * self.seconds,
                            b + k * self.seconds)
                for k in self.loops for a, b, s in motion.breaths if s == side
            ]  # fmt: skip
            own.sort(key=lambda b: b.turn)
            out, top = breath.turned(
                self.build, float(np.mean(neck_m)), float(np.mean(lift)), SPEED_M_S
            )
            there = breath.through_breaths(own, [(out, top, out)] * len(own), self.t)
            turn = turn + (sign * there - turn) * np.clip(there / max(out, 1e-6), 0, 1)
        return turn

    def _stroke_body(self) -> None:
        """Trunk and head as the whole stroke moves them."""
        turns = self._turns()
        if self.motion.stroke == "butterfly":
            cycles = [_arm_cycle(turn, "both") for turn in turns]
            breaths = [self._front(c) for c, turn in zip(cycles, turns, strict=True)
                       if self._breathes(turn)]  # fmt: skip
            plan = Schedule({"both": cycles}, breaths, _with_arms(turns))
            self.joints.update(butterfly.pose(plan, self.build, self.t))
            return
        ends = [turn.entry for turn in turns[1:]] + [turns[-1].end + self.seconds]
        cycles = [
            ArmCycle("both", {"out": turn.entry, "in": turn.press, "shoot": turn.out,
                              "long": turn.end}, max(end, turn.end + 0.1))
            for turn, end in zip(turns, ends, strict=True)
        ]  # fmt: skip
        leg_cycles = self._leg_cycles()
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
            turn.entry <= start + k * self.seconds < turn.end
            for start, _, _ in self.motion.breaths
            for k in self.loops
        )

    @staticmethod
    def _front(c: ArmCycle) -> BreathTimes:
        span = c.end - c.at["entry"]
        air = c.at["shoulder"] + 0.55 * (c.at["exit"] - c.at["shoulder"])
        return BreathTimes("front", c.at["press"] + 0.1 * span, air, c.end - 0.10 * span)

    # ---- arms ----

    def _keys(self, side: str, sign: float) -> list[Key]:
        keys: list[Key] = []
        held: At | None = None
        for item in sorted(self.arms[side], key=_begins):
            if isinstance(item, Turn):
                keys += self._stroked(item, sign)
                held = None
                continue
            if held is not None and held.place == item.place:
                steps = max(1, round((item.time_s - held.time_s) / _HELD_S))
                between = np.linspace(held.time_s, item.time_s, steps + 1)[1:-1]
                keys += [self._at(float(s), item.place, sign) for s in between]
            keys.append(self._at(item.time_s, item.place, sign))
            held = item
        keys.sort(key=lambda key: key.time_s)
        apart = keys[:1]
        for key in keys[1:]:
            if key.time_s - apart[-1].time_s > 0.03:
                apart.append(key)
        return apart

    def _at(self, time_s: float, place: str, sign: float) -> Key:
        """A place as the trunk lies at that instant; dragging fingers stay at the surface."""
        now = np.array([time_s])
        roll, pitch = (np.deg2rad(float(x[0])) for x in (
            self._roll_deg(now), self.track(self.motion.pitch, now)))  # fmt: skip

        def turned(v: Vector) -> Vector:
            ahead, aside, over = v[0], v[1] * sign, v[2]
            aside, over = (
                aside * np.cos(roll) - over * np.sin(roll),
                aside * np.sin(roll) + over * np.cos(roll),
            )
            ahead, over = (
                ahead * np.cos(pitch) - over * np.sin(pitch),
                ahead * np.sin(pitch) + over * np.cos(pitch),
            )
            return float(ahead), float(aside * sign), float(over)

        if place.startswith("drag"):
            (ahead, aside, _), pole, fingers, thumb = PLACES[place]
            neck = float(self.track(self._neck(), now)[0])
            depth = -neck - sign * np.sin(roll) * p.SHOULDER_HALF_WIDTH * self.build.height_m
            height = freestyle.touching(depth, fingers, self.build)
            return Key(time_s, (ahead, aside, height), pole, fingers, thumb)
        wrist, pole, fingers, thumb = (turned(v) for v in PLACES[place])
        return Key(time_s, wrist, pole, fingers, thumb)

    def _stroked(self, turn: Turn, sign: float) -> list[Key]:
        """The keys of one stroke; the hand may wait where it leaves the pull."""
        if self.motion.stroke == "breaststroke":
            at = {"out": turn.entry, "in": turn.press, "shoot": turn.out, "long": turn.end}
            return breaststroke.arm_keys(ArmCycle("both", at, turn.end + 0.1), self.build)
        wait = 0.0 if turn.leave is None else turn.leave - turn.out
        c = _arm_cycle(replace(turn, end=turn.end - wait, leave=None), "right")
        if self.motion.stroke == "butterfly":
            keys = butterfly.arm_keys(c, self.build)
        else:
            now = np.array([turn.entry, turn.out])
            lies = np.deg2rad(self._roll_deg(now))
            neck = self.track(self._neck(), now)
            half = p.SHOULDER_HALF_WIDTH * self.build.height_m
            depths = [float(d) for d in -neck - sign * np.sin(lies) * half]
            if self.on_back:
                keys = backstroke.arm_keys(c, self.build, SPEED_M_S, depths[0], depths[1])
            else:
                keys = freestyle.arm_keys(c, self.build, SPEED_M_S, depths[0])
        if not wait:
            return keys
        left = [k for k in keys if k.time_s <= turn.out + 1e-6]
        over = [replace(k, time_s=k.time_s + wait) for k in keys if k.time_s > turn.out + 1e-6]
        return [*left, self._at(turn.out + 0.15, "side", sign),
                self._at(turn.out + wait - 0.1, "side", sign), *over]  # fmt: skip

    def _close_hands(self) -> None:
        for side, _ in body.SIDES:
            wrist = self.joints[f"{side}_wrist"]
            for joint, share in (("fingertip", 0.5), ("thumb", 0.6)):
                reach = self.joints[f"{side}_{joint}"] - wrist
                self.joints[f"{side}_{joint}"] = wrist + share * reach

    # ---- legs ----

    def _beats(self) -> list[tuple[float, str]]:
        kick = self.motion.legs
        if not isinstance(kick, Kick):
            return []
        if kick.kind == "with-arms":
            return _with_arms(self._turns())
        start, end = kick.within or (0.0, self.seconds)
        beats = []
        for k in (-1, 0, 1):
            for n in range(kick.beats):
                side = "both" if kick.kind == "dolphin" else "left" if n % 2 else "right"
                at = start + (end - start) * (n + 0.5) / kick.beats + k * self.seconds
                beats.append((at, side))
        return beats

    def _leg_cycles(self) -> list[LegCycle]:
        frog = self.motion.legs
        if not isinstance(frog, Frog):
            return []
        kicks = [
            tuple(s + k * self.seconds for s in kick) for k in (-1, 0, 1, 2) for kick in frog.kicks
        ]
        return [LegCycle(a[0], a[1], a[2], end=b[0]) for a, b in pairwise(kicks)]

    def _legs(self) -> None:
        wanted = self.motion.legs
        if isinstance(wanted, Bent):
            self._bent(wanted)
            return
        if isinstance(wanted, Frog):
            self._frog()
            return
        joints, t = self.joints, self.t
        dolphin = wanted.kind in ("dolphin", "with-arms")
        usual = _DOLPHIN_M if dolphin else self.build.kick_m
        size = usual * wanted.size * self.build.height_m / 1.78
        neck, pelvis = joints["neck"], joints["pelvis"]
        along = neck - pelvis
        pitch = np.arctan2(along[:, 2], along[:, 0])
        if wanted.rest is not None:
            rest = pitch + np.deg2rad(self.track(wanted.rest))
        elif self.on_back:
            rest = pitch + backstroke.REST
        elif wanted.kind == "with-arms":
            rest = butterfly.REST + 0 * t
        elif dolphin and self.waved:
            rest = 0.5 * pitch + 0.14
        else:
            rest = pitch + (0.10 if dolphin else freestyle.REST) * np.cos(pitch)
        hips = {side: joints[f"{side}_hip"] for side, _ in body.SIDES}
        level = p.HIP_HALF_WIDTH * self.build.height_m
        for side, sign in body.SIDES:
            joints[f"{side}_hip"] = pelvis + body.stack(0.0, sign * level, 0.0, t.size)
        legs.kicking_legs(
            joints, self.build, rest, self._beats(), t, size, knees=wanted.knees, up=self.up,
            spread=np.deg2rad(wanted.spread), together_m=wanted.together_m,
        )  # fmt: skip
        self._roll_legs()
        joints.update({f"{side}_hip": hip for side, hip in hips.items()})

    def _frog(self) -> None:
        joints, t = self.joints, self.t
        keys = [key for leg in self._leg_cycles() for key in breaststroke.leg_keys(leg, self.build)]
        width = self.motion.legs.width if isinstance(self.motion.legs, Frog) else 1.0
        keys = [(s, (a, b if b < 0 else b * width, c), (d, e * width, f), toes)
                for s, (a, b, c), (d, e, f), toes in keys]  # fmt: skip
        pitch = self._pitch()
        turned = [
            (s, *(_raised(v, float(np.interp(s, t, pitch))) for v in rest)) for s, *rest in keys
        ]
        legs.placed_legs(joints, self.build, turned, t)  # type: ignore[arg-type]

    def _pitch(self) -> Seconds:
        along = self.joints["neck"] - self.joints["pelvis"]
        return np.arctan2(along[:, 2], along[:, 0])

    def _roll_legs(self) -> None:
        """Legs turn about the long axis with the hips."""
        roll = np.deg2rad(self._roll_deg(self.t)) * _HIPS_ROLL
        pelvis, sine, cosine = self.joints["pelvis"], np.sin(roll), np.cos(roll)
        for side, _ in body.SIDES:
            for name in ("hip", "knee", "ankle", "toe"):
                away = self.joints[f"{side}_{name}"] - pelvis
                y, z = away[:, 1], away[:, 2]
                self.joints[f"{side}_{name}"] = pelvis + np.stack(
                    [away[:, 0], y * cosine - z * sine, y * sine + z * cosine], axis=1
                )

    def _bent(self, wanted: Bent) -> None:
        h, t, face = self.build.height_m, self.t, -self.up
        pitch = np.deg2rad(self.track(self.motion.pitch))
        out = np.deg2rad(self.track(wanted.out))
        foot_up = np.deg2rad(self.track(wanted.foot))
        for side, sign in body.SIDES:
            other = (side == "left") != self.on_back
            hip = wanted.other_hip if other and wanted.other_hip is not None else wanted.hip
            knee = wanted.other_knee if other and wanted.other_knee is not None else wanted.knee
            thigh = pitch + face * np.deg2rad(self.track(hip))
            shank = thigh - face * np.deg2rad(self.track(knee))
            foot = shank + face * foot_up
            aside = np.arcsin((wanted.apart_m / 2 - p.HIP_HALF_WIDTH * h) / (p.THIGH * h))
            joint = self.joints[f"{side}_hip"]
            for name, angle, length, across in (
                ("knee", thigh, p.THIGH, aside + 0 * t),
                ("ankle", shank, p.SHANK, 0 * t),
                ("toe", foot, p.FOOT * 0.8, out),
            ):
                step = body.stack(
                    -np.cos(angle) * np.cos(across), sign * np.sin(across),
                    -np.sin(angle) * np.cos(across), t.size,
                )  # fmt: skip
                joint = joint + step * length * h
                self.joints[f"{side}_{name}"] = joint


def _begins(item: Turn | At) -> float:
    return item.time_s if isinstance(item, At) else item.entry


def _raised(v: Vector, pitch: float) -> Vector:
    """A direction of a level trunk in one that rises by pitch, radians."""
    return (v[0] * np.cos(pitch) - v[2] * np.sin(pitch), v[1],
            v[0] * np.sin(pitch) + v[2] * np.cos(pitch))  # fmt: skip


def _arm_cycle(turn: Turn, side: str) -> ArmCycle:
    catch = turn.entry + 0.55 * (turn.press - turn.entry)
    if turn.press - turn.entry > 0.6:
        catch = turn.press - 0.25
    under = turn.press + 0.5 * (turn.out - turn.press)
    at = {"entry": turn.entry, "catch": catch, "press": turn.press, "shoulder": under,
          "exit": turn.out}  # fmt: skip
    return ArmCycle(side, at, turn.end)


def _with_arms(turns: Sequence[Turn]) -> list[tuple[float, str]]:
    """Butterfly's two kicks a stroke: as the hands go in and as they leave."""
    beats = []
    for turn in turns:
        span = turn.end - turn.entry
        beats += [(turn.entry + 0.06 * span, "both"), (turn.out - 0.05 * span, "both")]
    return sorted(beats)
