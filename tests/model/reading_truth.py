"""A coach who clicks on the model's true joints and marks its true events: nothing is followed."""

from __future__ import annotations

import numpy as np

from norvik.catalogue import load
from norvik.catalogue.loader import frame_band
from norvik.core.frame.geometry import Point
from norvik.core.frame.measures import MEASURES, take
from norvik.core.frame.movement import FOLLOWED, climb, half_waves, late_bend, longest
from norvik.core.frame.references import References
from norvik.core.judging.findings import find
from norvik.core.judging.judged import Finding
from norvik.core.judging.on_frame import OnFrame
from norvik.core.strokes.events import Mark
from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import GRID_ALONE
from norvik.core.time.quantities import Occurrence
from norvik.core.time.timing import Timing
from norvik.model import proportions
from norvik.model.camera import Camera, camera_for
from norvik.model.dials import DIALS, usual_swim, with_faults
from norvik.model.film import Take
from norvik.model.pose import Build, pose, travelled
from norvik.model.schedule import schedule
from norvik.model.speed import swum_speed

SECONDS = 9.0
FPS = 60
#: Trunk depth of the model, metres: what is clicked as back and belly.
TRUNK_M = 0.24
#: Half of the breadth of the hips as a share of height (Drillis and Contini 1966, recalled).
HIPS_HALF_BREADTH = 0.0955


class Truth:
    """One swim of the model, seen by any of its cameras."""

    def __init__(
        self,
        dial: str = "",
        stroke: str = "",
        cycles_per_min: float | None = None,
        height_m: float = 1.78,
        level: str = "improver",
        amount: float = 1.0,
    ) -> None:
        stroke = DIALS[dial].stroke if dial else stroke
        # Rolls within the band of the default school.
        swim_take = Take(
            usual_swim(stroke, cycles_per_min), Build(height_m, roll_deg=50), seconds=SECONDS
        )
        if dial:
            swim_take = with_faults(swim_take, {dial: amount})
        self.film, self.swum, self.level = swim_take, stroke, level
        self.stroke = "freestyle" if stroke == "wall" else stroke
        self.plan = schedule(swim_take.swim, SECONDS)
        self.times = np.arange(0, SECONDS, 1 / FPS)
        self.joints = pose(self.plan, swim_take.build, self.times, stroke)
        speed = swum_speed(stroke, swim_take.build, self.plan)
        self.travelled = travelled(self.plan, self.times, stroke, speed)
        self.marks = self.plan.marks(0.0, SECONDS)
        self.taken: list[OnFrame] = []
        #: Measures and views that were tried.
        self.tried: set[tuple[str, str]] = set()

    def timing(self) -> Timing:
        marks = list(self.marks)
        # The coach saw the swimmer pass two marks of the lane rope.
        for metres in (2.0, 0.9 * float(self.travelled[-1])):
            at = float(np.interp(metres, self.travelled, self.times))
            marks.append(Mark(at, "course", "", "pass", metres=metres))
        return compute_timing(marks, self.stroke, 1 / FPS, 25.0, GRID_ALONE)

    def frames(self, *events: str, side: str = "") -> list[int]:
        found = [m.time_s for m in self.marks if m.event in events and side in ("", m.side)]
        return [n for t in found if 0 <= (n := round(t * FPS)) < len(self.times)]

    def at(self, camera: Camera, joint: str, n: int) -> Point:
        x, y = camera.project(self.joints[joint][n])
        return Point(float(x), float(y))

    def outer_hip(self, camera: Camera, side: str, n: int) -> Point:
        """Where the breadth of the hips ends, which is what is seen and clicked across the body."""
        hip, other = self.joints[f"{side}_hip"][n], self.joints[f"{_mirror(side)}_hip"][n]
        share = (HIPS_HALF_BREADTH / proportions.HIP_HALF_WIDTH + 1) / 2
        x, y = camera.project(other + share * (hip - other))
        return Point(float(x), float(y))

    def click(
        self, measure: str, view: str, side: str, frames: list[int], points: list[str | Point]
    ) -> None:
        """Take a measure at each frame; points: names of joints, or places in the picture."""
        camera = camera_of(view)
        water = self.at_surface(camera)
        to = References(water=water) if water else References()
        found, us = [], []
        for n in frames[:8]:
            clicks = [self.at(camera, p, n) if isinstance(p, str) else p for p in points]
            assert MEASURES[measure].shown(self.stroke, view), (measure, view)
            # The cameras of the model stand exactly square.
            made = take(MEASURES[measure], clicks, to, turn_deg=0)
            found.append(Occurrence(n / FPS, made.value, side))
            us.append(made.u)
        if found:
            self.tried.add((measure, view))
            self.add(measure, side, found, float(np.hypot.reduce(us)) / len(us))

    def at_surface(self, camera: Camera) -> tuple[Point, Point] | None:
        if camera.view != "side-under":
            return None
        ends = camera.project(np.array([[-2.0, 0, 0], [1.2, 0, 0]]))
        a, b = (Point(float(x), float(y)) for x, y in ends)
        return a, b

    def add(self, what: str, side: str, found: list[Occurrence], u: float | None) -> None:
        band = frame_band(what, self.stroke, {}, self.level)
        kind = MEASURES.get(what)
        unit = kind.unit if kind else FOLLOWED[what].unit
        least = kind.least if kind else 1
        self.taken.append(OnFrame(what, what, unit, 1, side, tuple(found), u, band, least=least))

    def choose(self, what: str, side: str, frames: list[int], options: list[str]) -> None:
        found = tuple(Occurrence(n / FPS, 0.0, side) for n in frames)
        if found:
            self.taken.append(OnFrame(what, what, "", 0, side, found, None, None, tuple(options)))

    def knee(self, side: str) -> np.ndarray:
        a, b, c = (self.joints[f"{side}_{j}"] for j in ("hip", "knee", "ankle"))
        cos = np.sum((a - b) * (c - b), 1) / np.linalg.norm(a - b, axis=1)
        return np.degrees(np.arccos(np.clip(cos / np.linalg.norm(c - b, axis=1), -1, 1)))


def measure_all(t: Truth) -> None:
    """Everything that a thorough coach would measure of this stroke."""
    {"freestyle": _crawl, "backstroke": _back, "breaststroke": _breast,
     "butterfly": _fly, "wall": _wall}[t.swum](t)  # fmt: skip


def found_in(t: Truth) -> list[Finding]:
    measure_all(t)
    tables = load(t.stroke).for_level(t.level)
    return find(t.timing(), (), tables, t.level, {}, t.taken)


def camera_of(view: str) -> Camera:
    """The model's own cameras, and two that only look: from above in front, and from behind."""
    if view == "front-above":
        return Camera(view, (3.4, 0.0, 1.1), (-1, 0, -0.3), (0, 0, 1), 2.8, 2.4, above=True)
    if view in ("behind", "behind-under"):
        return Camera(view, (-4.6, 0.0, -0.4), (1, 0, 0), (0, 0, 1), 3.4, 2.8)
    return camera_for(view)


def _mirror(side: str) -> str:
    return {"left": "right", "right": "left"}[side]


def _arms_from_front(t: Truth, side: str, press: list[int], under: list[int]) -> None:
    """What the front view shows of one arm under water."""
    if t.stroke in ("freestyle", "butterfly"):
        t.click(
            "elbow-out",
            "front-under",
            side,
            press,
            [f"{side}_shoulder", f"{_mirror(side)}_shoulder", f"{side}_elbow", f"{side}_wrist"],
        )
        t.click(
            "forearm-vertical",
            "side-under",
            side,
            press,
            [f"{side}_elbow", f"{side}_fingertip"],
        )
    camera = camera_of("front-under")
    if side == "right" and under:
        # Both hands at the same phase of their own pulls: a cycle's half apart in freestyle.
        other = t.frames("shoulder", side="left") if t.stroke != "butterfly" else under
        for n, m in list(zip(under, other, strict=False))[:4]:
            right, left = t.at(camera, "right_fingertip", n), t.at(camera, "left_fingertip", m)
            fore = [t.at(camera, f"right_{j}", n) for j in ("elbow", "wrist")]
            t.click("hand-depth", "front-under", "", [n], [left, right, *fore])


def _arm(t: Truth, side: str, catch: list[int], press: list[int], under: list[int]) -> None:
    near = "right" if side == "both" else side
    t.click(
        "elbow-angle",
        "front-under",
        near,
        under,
        [f"{near}_{x}" for x in ("shoulder", "elbow", "wrist")],
    )
    if t.stroke == "backstroke":
        return
    t.click(
        "high-elbow",
        "side-under",
        near,
        press,
        [f"{near}_shoulder", f"{near}_elbow", f"{near}_fingertip"],
    )
    if t.stroke in ("freestyle", "butterfly"):
        t.click(
            "reach-depth",
            "side-under",
            near,
            catch,
            [f"{near}_{x}" for x in ("shoulder", "wrist", "fingertip")],
        )
        t.click(
            "reach-order",
            "side-under",
            near,
            catch,
            [f"{near}_{x}" for x in ("shoulder", "elbow", "wrist", "fingertip")],
        )


def _legs(t: Truth, sides: tuple[str, ...]) -> None:
    _knees(t, sides)
    for side in sides:
        _amplitude(t, "kick-amplitude", side, slice(None))


def _knees(t: Truth, sides: tuple[str, ...]) -> None:
    for side in sides:
        # The most bent of each kick, of three kicks: one alone does not tell of the swimmer.
        bend = t.knee(side)
        lowest = [n for n in range(6, len(bend) - 6) if bend[n] == bend[n - 6 : n + 7].min()]
        lowest = sorted(sorted(lowest, key=lambda n: bend[n])[:3])
        t.click(
            "knee-bend",
            "side-under",
            side,
            lowest,
            [f"{side}_{x}" for x in ("hip", "knee", "ankle")],
        )


def _amplitude(t: Truth, measure: str, side: str, part: slice) -> None:
    heights = t.joints[f"{side}_ankle"][part, 2]
    begin = part.start or 0
    high, low = (begin + int(f(heights)) for f in (np.argmax, np.argmin))
    camera = camera_for("side-under")
    middle = (t.joints["neck"][high] + t.joints["pelvis"][high]) / 2
    up, down = (camera.project(middle + np.array([0, 0, z])) for z in (TRUNK_M / 2, -TRUNK_M / 2))
    # The model's camera goes along: both ankles are seen from the same place.
    t.click(
        measure,
        "side-under",
        side,
        [high],
        [
            f"{side}_ankle",
            t.at(camera, f"{side}_ankle", low),
            Point(*map(float, up)),
            Point(*map(float, down)),
        ],
    )


def _line(t: Truth, frames: list[int]) -> None:
    """Body line: shoulder to the middle of both ankles."""
    t.click("body-line", "side-under", "", frames, ["neck", "left_ankle", "right_ankle"])


def _head(t: Truth, frames: list[int]) -> None:
    t.click("head-trunk", "side-under", "", frames, ["crown", "neck", "neck", "pelvis"])


def _rolls(t: Truth) -> None:
    across = t.joints["left_shoulder"] - t.joints["right_shoulder"]
    roll = np.degrees(np.arctan2(across[:, 2], np.abs(across[:, 1])))
    for side, n in (("left", int(np.argmax(roll))), ("right", int(np.argmin(roll)))):
        for view in ("front-under", "behind"):
            t.click("body-roll", view, side, [n], ["left_shoulder", "right_shoulder"])


def _across(
    t: Truth, measure: str, side: str, frames: list[int], view: str = "front-under"
) -> None:
    other = {"left": "right", "right": "left"}[side]
    t.click(
        measure, view, side, frames, [f"{side}_shoulder", f"{other}_shoulder", f"{side}_fingertip"]
    )


def _quiet(t: Truth) -> list[int]:
    """Frames with the face down."""
    out = [(b.turn - 0.1, b.down + 0.1) for b in t.plan.breaths]
    return [n for n in range(0, len(t.times), 20)
            if not any(a <= t.times[n] <= z for a, z in out)]  # fmt: skip


def _crawl(t: Truth) -> None:
    _line(t, list(range(0, len(t.times), 70)))
    _head(t, _quiet(t))
    _legs(t, ("left", "right"))
    _rolls(t)
    for side in ("left", "right"):
        entries, exits = t.frames("entry", side=side), t.frames("exit", side=side)
        _arm(t, side, t.frames("catch", side=side), t.frames("press", side=side),
             t.frames("shoulder", side=side))  # fmt: skip
        for view in ("overhead", "front-under", "front-above"):
            _across(t, "entry-line", side, entries, view)
        _across(t, "pull-width", side, t.frames("shoulder", side=side))
        _arms_from_front(t, side, t.frames("press", side=side), t.frames("shoulder", side=side))
        t.click(
            "elbow-behind",
            "front-above",
            side,
            exits,
            [f"{side}_shoulder", f"{_mirror(side)}_shoulder", f"{side}_elbow"],
        )
        shoulder, elbow, wrist = (t.joints[f"{side}_{j}"][:, [0, 2]] * [1, -1]
                                  for j in ("shoulder", "elbow", "wrist"))  # fmt: skip
        pulls = [(a, z) for a in entries if (z := next((x for x in exits if x > a), 0))]
        lengths = longest(shoulder, elbow), longest(elbow, wrist)
        shares = [late_bend(shoulder[a:z], elbow[a:z], wrist[a:z], lengths) for a, z in pulls]
        known = [Occurrence(1.0, s, side) for s in shares if s is not None]
        if known:
            t.add("late-bend", side, known, 0.5)
        over = [(a + z) // 2 for a in exits for z in [next((x for x in entries if x > a), 0)] if z]
        t.click(
            "recovery-elbow",
            "side-above",
            side,
            over,
            [f"{side}_elbow", f"{side}_wrist", f"{side}_elbow", f"{side}_wrist"],
        )
        for catch in t.frames("catch", side=side)[1:2]:
            for view in ("side-under", "side-above"):
                stretched = [
                    t.at(camera_of(view), f"{side}_{x}", catch) for x in ("shoulder", "fingertip")
                ]
                points = [f"{side}_shoulder", f"{side}_fingertip", *stretched]
                t.click("entry-ahead", view, side, entries, points)
        under = (t.joints[f"{side}_fingertip"] - t.joints[f"{side}_thumb"])[:, 2]
        thumbs = ["thumb" if under[n] > 0.01 else "fingertips" for n in entries]
        t.choose("first-contact", side, entries, thumbs)
        airs = [round(b.air * FPS) for b in t.plan.breaths if b.side == side]
        airs = [n for n in airs if 0 <= n < len(t.times)]
        lifted = ["chin" if _nod(t, n) > 25 else "one-goggle" for n in airs]
        t.choose("breath-height", side, airs, lifted)
    sideways = np.abs(t.joints["left_toe"][:, 1] - t.joints["right_toe"][:, 1])
    n = int(np.argmax(sideways))
    _spread(t, [n])
    _sway(t)


def _spread(t: Truth, frames: list[int]) -> None:
    for view in ("overhead", "front-under", "behind", "behind-under"):
        for n in frames:
            hips = [t.outer_hip(camera_of(view), side, n) for side in ("left", "right")]
            t.click("leg-spread", view, "", [n], ["left_toe", "right_toe", *hips])


def _nod(t: Truth, n: int) -> float:
    """Degrees by which the head is lifted out of the line of the trunk."""
    head = t.joints["crown"][n] - t.joints["neck"][n]
    trunk = t.joints["neck"][n] - t.joints["pelvis"][n]
    return float(np.degrees(np.arctan2(head[2], head[0]) - np.arctan2(trunk[2], trunk[0])))


def _sway(t: Truth) -> None:
    middle = (t.joints["left_hip"] + t.joints["right_hip"])[:, 1] / 2
    width = 2 * HIPS_HALF_BREADTH * t.film.build.height_m
    values = 100 * middle / width
    if np.ptp(values) > 1:
        waves = half_waves(values, 0.3 * float(np.ptp(values)))
        t.add("hip-sway", "", [Occurrence(1.0, w) for w in waves] or [], 1.0) if waves else None
    else:
        t.add("hip-sway", "", [Occurrence(1.0, float(np.ptp(values)))], 1.0)


def _back(t: Truth) -> None:
    _line(t, list(range(0, len(t.times), 70)))
    _head(t, list(range(0, len(t.times), 70)))
    _legs(t, ("left", "right"))
    _rolls(t)
    sideways = np.abs(t.joints["left_toe"][:, 1] - t.joints["right_toe"][:, 1])
    _spread(t, [int(np.argmax(sideways))])
    for side in ("left", "right"):
        entries = t.frames("entry", side=side)
        for view in ("overhead", "front-above"):
            _across(t, "entry-line", side, entries, view)
        under = t.frames("shoulder", side=side)
        _across(t, "pull-width", side, under)
        _arm(t, side, [], [], under)
        _arms_from_front(t, side, [], under)
        thumbs = ["thumb" if t.joints[f"{side}_thumb"][n, 2] < t.joints[f"{side}_fingertip"][n, 2]
                  else "little-finger" for n in entries]  # fmt: skip
        t.choose("first-contact-back", side, entries, thumbs)
        highest = [int(np.argmax(t.joints[f"{side}_toe"][:, 2]))]
        t.click(
            "foot-depth",
            "side-under",
            side,
            highest,
            [f"{side}_toe", f"{side}_knee", f"{side}_ankle"],
        )


def _breast(t: Truth) -> None:
    long = t.frames("long")
    t.click(
        "streamline",
        "side-under",
        "",
        long,
        ["right_wrist", "right_shoulder", "right_hip", "right_ankle"],
    )
    for measure, joints in (("chest-hips", ("right_shoulder", "right_hip")),
                            ("arm-dive", ("right_shoulder", "right_fingertip"))):  # fmt: skip
        t.click(measure, "side-under", "", long, list(joints))
    for side in ("left", "right"):
        t.click(
            "forearm-catch",
            "front-under",
            side,
            t.frames("in"),
            [f"{side}_elbow", f"{side}_fingertip"],
        )
    t.click("stretch-line", "side-under", "", long, ["neck", "left_ankle", "right_ankle"])
    for side in ("left", "right"):
        _across(t, "pull-width", side, t.frames("in"))
        t.click(
            "high-elbow",
            "side-under",
            side,
            t.frames("in"),
            [f"{side}_shoulder", f"{side}_elbow", f"{side}_fingertip"],
        )
    hands, fore = ["left_fingertip", "right_fingertip"], ["right_elbow", "right_wrist"]
    t.click("hand-depth", "front-under", "", t.frames("in"), [*hands, *fore])
    for view in ("front-under", "behind", "behind-under"):
        t.tried.add(("knees-hips", view))
    # Straight from behind: across the swimmer alone.
    across = {j: t.joints[j][:, 1] for j in ("left_knee", "right_knee", "left_hip", "right_hip")}
    wide = np.abs(across["left_knee"] - across["right_knee"])
    wide = wide / np.abs(across["left_hip"] - across["right_hip"])
    wide = wide * proportions.HIP_HALF_WIDTH / HIPS_HALF_BREADTH
    t.add("knees-hips", "", [Occurrence(n / FPS, float(wide[n])) for n in t.frames("set")], 0.02)


def _fly(t: Truth) -> None:
    _knees(t, ("left", "right"))
    entry = t.frames("entry")
    _arm(t, "both", t.frames("catch"), t.frames("press"), t.frames("shoulder"))
    t.click(
        "chest-hips",
        "side-under",
        "",
        [n + 12 for n in entry if n + 12 < len(t.times)],
        ["right_shoulder", "right_hip"],
    )
    t.click("arm-dive", "side-under", "", t.frames("catch"), ["right_shoulder", "right_fingertip"])
    t.click("stretch-line", "side-under", "", t.frames("catch"),
            ["neck", "left_ankle", "right_ankle"])  # fmt: skip
    exits = t.frames("exit")
    for side in ("left", "right"):
        _across(t, "pull-width", side, t.frames("shoulder"))
        _arms_from_front(t, side, t.frames("press"), t.frames("shoulder"))
        over = [(a + z) // 2 for a in exits for z in [next((x for x in entry if x > a), 0)] if z]
        t.click("recovery-elbow", "side-above", side, over,
                [f"{side}_elbow", f"{side}_wrist", f"{side}_elbow", f"{side}_wrist"])  # fmt: skip
        t.click("elbow-behind", "front-above", side, exits,
                [f"{side}_shoulder", f"{_mirror(side)}_shoulder", f"{side}_elbow"])  # fmt: skip


def _wall(t: Truth) -> None:
    push, out = t.frames("push")[0], t.frames("breakout")[0]
    lifted = [n for n in (push + 20, out) if n < len(t.times)]
    t.choose("head-wall", "", lifted,
             ["lifted" if _nod(t, n) > 25 else "down" for n in lifted])  # fmt: skip
    head = t.joints["crown"][:, [0, 2]] * [1, -1] + np.stack([t.travelled, 0 * t.travelled], 1)
    near = slice(max(0, out - FPS // 2), out + 1)
    angle = climb(head[near])
    if angle is not None:
        t.add("breakout-climb", "", [Occurrence(out / FPS, angle)], 0.5)
    dolphins = [m.time_s for m in t.marks if m.event == "beat" and m.side == "both"]
    line = slice(push + 10, round(dolphins[-1] * FPS) + 5)
    t.click("streamline", "side-under", "", [push + 12, push + 20],
            ["right_wrist", "right_shoulder", "right_hip", "right_ankle"])  # fmt: skip
    n = line.start + int(np.argmin(t.knee("right")[line]))
    t.click("dolphin-knee", "side-under", "right", [n], ["right_hip", "right_knee", "right_ankle"])
    # Against the hip, which climbs on the way up.
    relative = t.joints["right_ankle"][:, 2] - t.joints["right_hip"][:, 2]
    high, low = (line.start + int(f(relative[line])) for f in (np.argmax, np.argmin))
    depths = abs(relative[high] - relative[low]) / TRUNK_M
    t.tried.add(("dolphin-amplitude", "side-under"))
    t.add("dolphin-amplitude", "", [Occurrence(high / FPS, float(depths))], 0.02)
