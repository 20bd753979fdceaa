"""Filming the model swimmer: a clip, its events and its truth, written side by side."""

from __future__ import annotations

import json
import os
from collections import deque
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import suppress
from dataclasses import asdict, dataclass, field
from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
from av.video.frame import VideoFrame
from numpy.typing import NDArray

from norvik.model.camera import SideCamera
from norvik.model.figure import Figure
from norvik.model.paint import Colour, Image
from norvik.model.pose import Build, Pose, pose
from norvik.model.scene import Pool, bubbles, splash
from norvik.model.schedule import Schedule, Swim, schedule

#: Seconds for which a splash stays.
_SPLASH_S = 0.22

#: Painted frames that wait for the encoder.
_WAITING = 8

#: So encoded, a browser steps the file as it is: it needs no review copy.
_ENCODER = {
    "preset": "superfast",
    "crf": "24",
    "g": "8",
    "keyint_min": "8",
    "sc_threshold": "0",
    "bf": "0",
}


@dataclass(frozen=True)
class Take:
    """One clip to film. fps: frames a real second. jitter: variable frame rate, as a share of

    the frame interval (0 is constant). All colours are B, G, R.
    """

    swim: Swim
    build: Build = field(default_factory=Build)
    seconds: float = 12.0
    fps: int = 60
    speed_m_s: float = 1.35
    jitter: float = 0.0
    skin: Colour = (142, 176, 224)
    suit: Colour = (96, 52, 30)
    cap: Colour = (60, 92, 214)

    def frame_times(self) -> NDArray[np.float64]:
        """Real seconds of every frame, first at 0."""
        count = round(self.seconds * self.fps)
        steps = np.full(count - 1, 1 / self.fps)
        if self.jitter:
            rng = np.random.default_rng(self.swim.seed)
            steps *= 1 + self.jitter * (2 * rng.random(count - 1) - 1)
        return np.concatenate([[0.0], np.cumsum(steps)])


def film(take: Take, out: Path) -> Schedule:
    """Render a take to out (MP4); writes OUT.events.csv and OUT.truth.json beside it.

    Whole or not at all. Returns the schedule that was filmed.
    """
    plan = schedule(take.swim, take.seconds)
    times = take.frame_times()
    joints = pose(plan, take.build, times)
    camera = SideCamera()
    part = out.with_name(out.name + ".part")
    try:
        _render(take, plan, joints, camera, times, part)
        _write_truth(take, plan, joints, camera, times, out)
        os.replace(part, out)
    finally:
        with suppress(FileNotFoundError):
            part.unlink()
    return plan


def _render(
    take: Take,
    plan: Schedule,
    joints: Pose,
    camera: SideCamera,
    times: NDArray[np.float64],
    part: Path,
) -> None:
    pool = Pool(camera)
    figure = Figure(take.skin, take.suit, take.cap, take.build.height_m)
    # A fine clock for irregular frames, one tick a frame for regular ones.
    clock = Fraction(1, 90_000) if take.jitter else Fraction(1, take.fps)
    options = {"movflags": "+faststart"}
    if not take.jitter:
        options["video_track_timescale"] = str(take.fps * 64)
    with av.open(f"file:{part.resolve()}", "w", format="mp4", options=options) as target:
        stream = target.add_stream("libx264", rate=take.fps, options=_ENCODER)
        stream.width, stream.height, stream.pix_fmt = camera.width_px, camera.height_px, "yuv420p"
        stream.codec_context.time_base = clock
        stream.codec_context.thread_type = "FRAME"

        def encode(image: Image, pts: int) -> None:
            planes = np.asarray(cv2.cvtColor(image, cv2.COLOR_BGR2YUV_I420), np.uint8)
            frame = VideoFrame.from_ndarray(planes, format="yuv420p")
            frame.pts, frame.time_base = pts, clock
            target.mux(stream.encode(frame))

        # One thread paints, another encodes: together they fill two cores.
        waiting: deque[Future[None]] = deque()
        with ThreadPoolExecutor(1) as encoder:
            for n, time_s in enumerate(times):
                image = paint_frame(take, plan, joints, camera, pool, figure, n, float(time_s))
                waiting.append(encoder.submit(encode, image, round(time_s / clock)))
                if len(waiting) > _WAITING:
                    waiting.popleft().result()
            for done in waiting:
                done.result()
        target.mux(stream.encode(None))


def paint_frame(
    take: Take,
    plan: Schedule,
    joints: Pose,
    camera: SideCamera,
    pool: Pool,
    figure: Figure,
    n: int,
    time_s: float,
) -> Image:
    """One frame of a take as a picture."""
    image = pool.frame(time_s * take.speed_m_s, time_s)
    figure.paint(image, camera, joints, n)
    scale = camera.px_per_m()
    for breath in plan.breaths:
        on, off = breath.bubbles_on, breath.bubbles_off
        if on is not None and off is not None and on <= time_s < off:
            crown = camera.project(joints["crown"][n])
            bubbles(image, crown + np.array([-0.06, 0.13]) * scale, time_s, scale)
    pool.surface(image, time_s)
    for side, cycles in plan.arms.items():
        for c in cycles:
            age = (time_s - c.entry) / _SPLASH_S
            if 0 <= age < 1:
                at = camera.project(joints[f"{side}_fingertip"][n])
                at[1] = camera.surface_px
                splash(image, at - [age * 0.3 * scale * take.speed_m_s, 0], age, 0.24 * scale)
    return image


def _write_truth(
    take: Take,
    plan: Schedule,
    joints: Pose,
    camera: SideCamera,
    times: NDArray[np.float64],
    out: Path,
) -> None:
    # The events file is written here by hand, not by the reader's own module, so that a mistake
    # there cannot hide behind a matching one.
    marks = plan.marks(0.0, float(times[-1]))
    rows = ["frame,time_s,lane,side,event,note"]
    for m in marks:
        nearest = int(np.abs(times - m.time_s).argmin())
        rows.append(f"{nearest},{m.time_s:.6f},{m.lane},{m.side},{m.event},")
    out.with_suffix(".events.csv").write_text("\r\n".join([*rows, ""]), encoding="utf-8")
    truth = {
        "swim": asdict(take.swim),
        "build": asdict(take.build),
        "speed_m_per_s": take.speed_m_s,
        "frame_times_s": [round(float(t), 6) for t in times],
        "events": [
            {"time_s": round(m.time_s, 6), "lane": m.lane, "side": m.side, "event": m.event}
            for m in marks
        ],
        "joints_px": {
            name: np.round(camera.project(points), 2).tolist()
            for name, points in joints.items()
            if name != "face"
        },
    }
    out.with_suffix(".truth.json").write_text(json.dumps(truth), encoding="utf-8")
