"""Filming the model swimmer: a clip, its events and its truth, written side by side."""

from __future__ import annotations

import json
import os
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import asdict, dataclass, field
from functools import cached_property
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.model.camera import Camera, camera_for
from norvik.model.container import set_rotation
from norvik.model.figure import Figure
from norvik.model.paint import Colour, Image
from norvik.model.pose import Build, Pose, pose, travelled
from norvik.model.render import STYLES, render
from norvik.model.rolling import Rolling
from norvik.model.scene import WATER, Pool, bubble_places, bubbles, churn, splash
from norvik.model.schedule import Schedule, Swim, schedule
from norvik.model.speed import swum_speed
from norvik.model.truth import true_rate, truth_of

#: Seconds for which a splash stays.
_SPLASH_S = 0.22


@dataclass(frozen=True)
class Conditions:
    """What makes real footage hard.

    haze, blur: 0..1. hidden: stretches (from, to) in seconds in which another lane's splash hides
    parts. crf: strength of the compression (higher is worse). rotation_deg: how a phone was held,
    0, 90 or 270: the picture is stored turned and flagged. shake_px: how far a hand that holds the
    camera wanders to either side; the truth goes along. company: somebody swims in the next lane
    (film-like style only). rolling_s: how long the sensor is read, from the top row to the bottom;
    the truth of the joints goes along. sun: 0 for a hall to 1 for the open air at noon (film-like
    style only).
    """

    haze: float = 0.0
    blur: float = 0.0
    tilt_deg: float = 0.0
    hidden: tuple[tuple[float, float], ...] = ()
    crf: int = 27
    rotation_deg: int = 0
    shake_px: float = 0.0
    company: bool = False
    rolling_s: float = 0.0
    sun: float = 0.0


@dataclass(frozen=True)
class Take:
    """One clip to film.

    fps: frames a real second; stored_fps: frames a second of the file, when slow motion is stored.
    dots: the swimmer wears dots on the joints. jitter: variable frame rate, as a share of the frame
    interval. still: the camera stands instead of going along. All colours are B, G, R. style:
    plain, or filmlike (see filmlike/). cut: of the suit, in the film-like style.
    """

    swim: Swim
    build: Build = field(default_factory=Build)
    seconds: float = 12.0
    fps: int = 60
    stored_fps: int | None = None
    jitter: float = 0.0
    view: str = "side-under"
    still: bool = False
    conditions: Conditions = field(default_factory=Conditions)
    skin: Colour = (142, 176, 224)
    suit: Colour = (96, 52, 30)
    cap: Colour = (60, 92, 214)
    dots: bool = False
    style: str = "plain"
    cut: str = "jammer"

    def frame_times(self) -> NDArray[np.float64]:
        """Real seconds of every frame, first at 0."""
        count = max(1, round(self.seconds * self.fps))
        steps = np.full(count - 1, 1 / self.fps)
        if self.jitter:
            rng = np.random.default_rng(self.swim.seed)
            steps *= 1 + self.jitter * (2 * rng.random(count - 1) - 1)
        return np.concatenate([[0.0], np.cumsum(steps)])

    @property
    def stretch(self) -> float:
        """How many times slower the file plays than real time."""
        return self.fps / self.stored_fps if self.stored_fps else 1.0


class Shot:
    """A take with everything that its frames are painted from."""

    def __init__(self, take: Take) -> None:
        self.take = take
        self.plan: Schedule = schedule(take.swim, take.seconds)
        self.times = take.frame_times()
        #: At the instant of each frame, however the camera sees it.
        self.body: Pose = pose(self.plan, take.build, self.times, take.swim.stroke)
        self.speed_m_s = swum_speed(take.swim.stroke, take.build, self.plan)
        self.travelled = travelled(self.plan, self.times, take.swim.stroke, self.speed_m_s)
        self.camera: Camera = camera_for(take.view, take.still, take.conditions.tilt_deg)
        #: Where in the lane the swimmer starts.
        self.start_m = 1.0 if take.swim.stroke == "wall" else 3.0
        #: Pixels by which each frame is moved, shape (frames, 2).
        self.shaken = _shaken(self.times, take.conditions.shake_px, take.swim.seed)
        self.rolling = Rolling(take.conditions.rolling_s, self.camera.height_px)
        #: As each is seen.
        self.joints = self.rolling.joints(self.body, self.camera, self.times, self.travelled)

    @cached_property
    def _pool(self) -> Pool:
        return Pool(self.camera, self.start_m)

    @cached_property
    def _figure(self) -> Figure:
        take = self.take
        return Figure(take.skin, take.suit, take.cap, take.build.height_m, take.dots)

    @cached_property
    def _shaking(self) -> NDArray[np.float64]:
        """Pixels a second by which each frame is being moved, shape (frames, 2)."""
        if len(self.times) < 2:
            return np.zeros_like(self.shaken)
        return np.asarray(np.gradient(self.shaken, self.times, axis=0), np.float64)

    def in_picture(self, pixels: NDArray[np.float64]) -> NDArray[np.float64]:
        """Places in a camera held still as they are in the frames, one a frame, shape (n, 2)."""
        return self.rolling.shaken(pixels, self.shaken, self._shaking)

    def frame(self, n: int) -> Image:
        """Frame n as a picture, shape (height, width, 3)."""
        image = self._picture(n)
        if self.shaken[n].any():
            moved = self.rolling.moving(self.shaken[n], self._shaking[n])
            size = (image.shape[1], image.shape[0])
            image = np.asarray(
                cv2.warpAffine(image, moved, size, borderMode=cv2.BORDER_REPLICATE), np.uint8
            )
        return image

    def _picture(self, n: int) -> Image:
        """Frame n from a camera that is held still."""
        take, camera, time_s = self.take, self.camera, float(self.times[n])
        moved = float(self.travelled[n])
        image = self._pool.frame(moved)
        self._figure.paint(image, camera, self.joints, n, moved)
        self._breath(image, n, time_s, moved)
        self._surface(image, n, time_s, moved)
        self._splashes(image, n, time_s, moved)
        for number, (start, end) in enumerate(take.conditions.hidden):
            if start <= time_s < end:
                share = np.sin(np.pi * (time_s - start) / (end - start))
                churn(image, round(time_s * 30) + 1000 * number, float(share))
        return self._through_water(image)

    def _breath(self, image: Image, n: int, time_s: float, moved: float) -> None:
        if self.camera.above:
            return
        crown = self.joints["crown"][n]
        depth = float(self.camera.seen(crown, moved)[2])
        scale = self.camera.px_per_m(depth)
        for breath in self.plan.breaths:
            on, off = breath.bubbles_on, breath.bubbles_off
            if on is not None and off is not None and on <= time_s < off:
                mouth = self.joints["mouth"][n]
                places = bubble_places(mouth, time_s, self.speed_m_s)
                if len(places):
                    bubbles(image, self.camera.project(places, moved), scale)

    def _surface(self, image: Image, n: int, time_s: float, moved: float) -> None:
        """With the wave that the head makes, where a camera looks across it at the surface."""
        crown = self.joints["crown"][n]
        across = self.camera.view == "side-under" and not self.take.conditions.tilt_deg
        if not across or crown[2] < -0.35:
            self._pool.surface(image, time_s)
            return
        at = float(self.camera.project(crown, moved)[0])
        share = float(np.clip((crown[2] + 0.35) / 0.2, 0, 1)) ** 0.5
        self._pool.surface(image, time_s, at, self.speed_m_s * share)

    def _splashes(self, image: Image, n: int, time_s: float, moved: float) -> None:
        for side, cycles in self.plan.arms.items():
            for c in cycles:
                age = (time_s - c.at.get("entry", np.inf)) / _SPLASH_S
                if 0 <= age < 1:
                    for hand in ("left", "right") if side == "both" else (side,):
                        spot = self.joints[f"{hand}_fingertip"][n].copy()
                        spot[0] -= age * _SPLASH_S * self.speed_m_s
                        spot[2] = 0.0
                        at = self.camera.project(spot, moved)
                        scale = self.camera.px_per_m(float(self.camera.seen(spot, moved)[2]))
                        splash(image, at, age, 0.24 * scale)

    def _through_water(self, image: Image) -> Image:
        c = self.take.conditions
        if c.haze:
            murk = np.full_like(image, WATER)
            image = np.asarray(
                cv2.addWeighted(image, 1 - 0.7 * c.haze, murk, 0.7 * c.haze, 0), np.uint8
            )
        if c.blur:
            image = np.asarray(
                cv2.blur(image, (1 + round(8 * c.blur), 1 + round(3 * c.blur))), np.uint8
            )
        return image


def _shaken(times: NDArray[np.float64], most_px: float, seed: int) -> NDArray[np.float64]:
    """How a hand wanders: slow swings of several lengths, and a little tremor at 8 a second."""
    rng = np.random.default_rng([seed, 29])
    found = np.zeros((times.size, 2))
    for rate, share in ((0.4, 0.5), (0.9, 0.3), (2.1, 0.14), (8.0, 0.06)):
        turn = rng.uniform(0, 2 * np.pi, 2)
        found += share * np.sin(2 * np.pi * rate * times[:, None] + turn)
    return np.asarray(most_px * found, np.float64)


def shot_of(take: Take) -> Shot:
    """The shot of a take in its style. ValueError for an unknown one."""
    if take.style == "plain":
        return Shot(take)
    if take.style == "filmlike":
        # Only whoever asks for it pays for loading it.
        from norvik.model.filmlike.shot import FilmlikeShot

        return FilmlikeShot(take)
    raise ValueError(f"{take.style} is no style of a film; there are {', '.join(STYLES)}")


def film(
    take: Take, out: Path, painted: Callable[[int], None] | None = None, small: bool = False
) -> Schedule:
    """Render a take to out (MP4); writes OUT.events.csv and OUT.truth.json beside it.

    small: the encoder takes its time for a smaller file. painted: told how many frames are done,
    after each; what it raises ends the filming. Whole or not at all. Returns the schedule that was
    filmed.
    """
    shot = shot_of(take)
    part = out.with_name(out.name + ".part")
    try:
        render([shot], part, painted, small)
        if take.conditions.rotation_deg:
            set_rotation(part, take.conditions.rotation_deg)
        write_beside(shot, out)
        os.replace(part, out)
    finally:
        with suppress(FileNotFoundError):
            part.unlink()
    return shot.plan


def film_squad(takes: Sequence[Take], out: Path) -> None:
    """Several swimmers one after the other in one recording, without truth beside it.

    All takes are filmed at the rate of the first, which must be constant.
    """
    part = out.with_name(out.name + ".part")
    try:
        render([shot_of(take) for take in takes], part)
        os.replace(part, out)
    finally:
        with suppress(FileNotFoundError):
            part.unlink()


def write_beside(shot: Shot, out: Path) -> None:
    """Write OUT.events.csv and OUT.truth.json of a shot."""
    # The events file is written here by hand, not by the reader's own module, so that a mistake
    # there cannot hide behind a matching one.
    marks = shot.plan.marks(0.0, float(shot.times[-1]))
    rows = ["frame,time_s,lane,side,event,note"]
    for m in marks:
        nearest = int(np.abs(shot.times - m.time_s).argmin())
        rows.append(f"{nearest},{m.time_s:.6f},{m.lane},{m.side},{m.event},")
    out.with_suffix(".events.csv").write_text("\r\n".join([*rows, ""]), encoding="utf-8")
    truth = {
        "stroke": shot.take.swim.stroke,
        "view": shot.take.view,
        "swim": asdict(shot.take.swim),
        "build": asdict(shot.take.build),
        "stretch": shot.take.stretch,
        "speed_m_per_s": round(shot.speed_m_s, 6),
        "rate_cycles_per_min": true_rate(shot.plan, float(shot.times[-1])),
        "frame_times_s": [round(float(t), 6) for t in shot.times],
        "events": [
            {"time_s": round(m.time_s, 6), "lane": m.lane, "side": m.side, "event": m.event}
            for m in marks
        ],
        **truth_of(shot.joints, shot.camera, shot.travelled, shot.body, shot.in_picture),
    }
    out.with_suffix(".truth.json").write_text(json.dumps(truth), encoding="utf-8")
