"""Painting and encoding the frames of shots to one film, on as many threads as that pays for."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from fractions import Fraction
from pathlib import Path
from typing import TYPE_CHECKING, Protocol

import av
import cv2
import numpy as np
from av.video.frame import VideoFrame
from numpy.typing import NDArray

from norvik.model.camera import Camera
from norvik.model.paint import Image

if TYPE_CHECKING:
    from norvik.model.film import Take

#: Painted frames that wait for the encoder.
_WAITING = 8
#: How a take can be painted, and how many painters that pays for: the plain style holds one thread
#: nearly all the time, the film-like one mostly waits for work that others can do beside it.
STYLES = {"plain": 1, "filmlike": 2}

#: So encoded, a browser steps the file as it is: it needs no review copy.
_ENCODER = {
    "preset": "ultrafast",
    "g": "8",
    "keyint_min": "8",
    "sc_threshold": "0",
    "bf": "0",
}


class Filmed(Protocol):
    """What can be rendered: its take, its camera, and a picture for each of its times."""

    take: Take
    camera: Camera
    times: NDArray[np.float64]

    def frame(self, n: int) -> Image: ...


def render(
    shots: Sequence[Filmed], part: Path, painted: Callable[[int], None] | None = None,
    small: bool = False,
) -> None:  # fmt: skip
    """Paint and encode shots one after the other to `part`, at the rate of the first."""
    take, camera = shots[0].take, shots[0].camera
    turned = {0: None, 90: cv2.ROTATE_90_COUNTERCLOCKWISE, 270: cv2.ROTATE_90_CLOCKWISE}[
        take.conditions.rotation_deg
    ]
    width, height = camera.width_px, camera.height_px
    if turned is not None:
        width, height = height, width
    rate = take.stored_fps or take.fps
    # A fine clock for irregular frames, one tick a frame for regular ones.
    clock = Fraction(1, 90_000) if take.jitter else Fraction(1, rate)
    options = {"movflags": "+faststart"}
    if not take.jitter:
        options["video_track_timescale"] = str(rate * 64)
    encoder_options = {
        **_ENCODER,
        **({"preset": "slow"} if small else {}),
        "crf": str(take.conditions.crf),
    }
    with av.open(f"file:{part.resolve()}", "w", format="mp4", options=options) as target:
        stream = target.add_stream("libx264", rate=rate, options=encoder_options)
        stream.width, stream.height, stream.pix_fmt = width, height, "yuv420p"
        stream.codec_context.time_base = clock
        stream.codec_context.thread_type = "FRAME"

        def encode(image: Image, pts: int) -> None:
            if turned is not None:
                image = np.asarray(cv2.rotate(image, turned), np.uint8)
            planes = np.asarray(cv2.cvtColor(image, cv2.COLOR_BGR2YUV_I420), np.uint8)
            frame = VideoFrame.from_ndarray(planes, format="yuv420p")
            frame.pts, frame.time_base = pts, clock
            target.mux(stream.encode(frame))

        # One thread encodes what others paint: together they fill two cores.
        waiting: deque[Future[None]] = deque()
        with ThreadPoolExecutor(1) as encoder:
            before_s = 0.0
            for shot in shots:
                for n, (time_s, image) in enumerate(zip(shot.times, _painted(shot), strict=True)):
                    pts = round((before_s + float(time_s)) * take.stretch / clock)
                    waiting.append(encoder.submit(encode, image, pts))
                    if len(waiting) > _WAITING:
                        waiting.popleft().result()
                    if painted is not None:
                        painted(n + 1)
                before_s += float(shot.times[-1]) + 1 / take.fps
            for done in waiting:
                done.result()
        target.mux(stream.encode(None))


def _painted(shot: Filmed) -> Iterator[Image]:
    """All frames of a shot in order, painted by as many threads as its style pays for."""
    painters, count = STYLES[shot.take.style], len(shot.times)
    if painters == 1:
        yield from (shot.frame(n) for n in range(count))
        return
    with ThreadPoolExecutor(painters) as pool:
        ahead: deque[Future[Image]] = deque()
        for n in range(count):
            ahead.append(pool.submit(shot.frame, n))
            if len(ahead) > painters:
                yield ahead.popleft().result()
        for done in ahead:
            yield done.result()
