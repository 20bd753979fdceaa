"""Single frames of a review copy as pictures."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
from av.video.frame import VideoFrame
from numpy.typing import NDArray

from norvik.core.errors import FootageError
from norvik.footage.fitting import Fit
from norvik.footage.opening import open_footage
from norvik.footage.probe import Shape

JPEG_QUALITY = 88
#: A frame of the source farther than this from where it should be is another one.
_NEAR_S = 0.01


def frame_image(copy: Path, rate: Fraction, frame: int) -> NDArray[np.uint8]:
    """Frame number `frame` of a review copy, shape (height, width, 3), blue-green-red, 0-255.

    rate: the copy's constant rate. Raises FootageError when there is no such frame.
    """
    with open_footage(copy) as source:
        base = source.stream.time_base
        assert base is not None  # a stream that was opened has a clock
        step = 1 / (rate * base)
        wanted = round(frame * step)
        source.container.seek(max(0, wanted), stream=source.stream, backward=True)
        try:
            for picture in source.container.decode(source.stream):
                if picture.pts is not None and picture.pts >= wanted - step / 2:
                    if picture.pts > wanted + step / 2:
                        break
                    return picture.to_ndarray(format="bgr24").astype(np.uint8, copy=False)
        except av.error.FFmpegError as error:
            raise FootageError("This frame cannot be read. Make the review copy again.") from error
    raise FootageError(f"There is no frame {frame} in this clip.")


def source_image(path: Path, media_s: float) -> NDArray[np.uint8]:
    """The frame of a source at media_s, upright and as large as it was filmed.

    media_s: seconds after the first frame, by the file's own clock. Shape (height, width, 3),
    blue-green-red. Raises FootageError when no frame lies within a hundredth of a second of it.
    """
    with open_footage(path) as source:
        base, stream = source.stream.time_base, source.stream
        assert base is not None  # a stream that was opened has a clock
        try:
            first = next(f.pts for f in source.container.decode(stream) if f.pts is not None)
            wanted = first + round(media_s / base)
            source.container.seek(max(0, wanted), stream=stream, backward=True)
            nearest: VideoFrame | None = None
            for picture in source.container.decode(stream):
                if picture.pts is None:
                    continue
                if nearest is None or abs(picture.pts - wanted) < abs((nearest.pts or 0) - wanted):
                    nearest = picture
                if picture.pts >= wanted:
                    break
        except (av.error.FFmpegError, StopIteration) as error:
            raise FootageError("This frame cannot be read from the original.") from error
        if nearest is None or abs((nearest.pts or 0) - wanted) * base > _NEAR_S:
            raise FootageError("The original has no frame at this time.")
        shape = Shape.of(nearest, source)
        fitted = Fit(source, nearest, shape, max(shape.width, shape.height))(nearest)
        return fitted.to_ndarray(format="bgr24").astype(np.uint8, copy=False)


def jpeg(image: NDArray[np.uint8], width: int | None = None) -> bytes:
    """A picture as JPEG, scaled to a width in pixels when one is given."""
    if width is not None and width < image.shape[1]:
        height = round(image.shape[0] * width / image.shape[1])
        image = cv2.resize(image, (width, height), interpolation=cv2.INTER_AREA)  # type: ignore[assignment]
    done, data = cv2.imencode(".jpg", image, [cv2.IMWRITE_JPEG_QUALITY, JPEG_QUALITY])
    if not done:
        raise FootageError("This frame could not be made into a picture.")
    return data.tobytes()
