"""A swimmer as tracked points show it: by hand, along dots on the skin, or by another tracker.

Where all that reading needs was tracked, the network is not asked. Nor are both mixed: a network
sees every joint a little beside its place, and its templates know that (see templates.py).
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from norvik.core.frame.movement import filled
from norvik.core.reading.tracked import JOINTS, Places
from norvik.core.strokes.names import LEFT_AND_RIGHT
from norvik.reading.follow import Pose
from norvik.reading.followed import Followed

Series = NDArray[np.float64]

#: A joint that was lost for no longer than this went on as straight as before (own choice: a third
#: of the shortest pull).
_GAP_S = 0.15


def followed_by_points(tracked: Mapping[str, Places], times_s: Mapping[int, float]) -> Followed:
    """The swimmer in the frames that show its trunk. tracked: see `tracked_joints`. times_s: real
    seconds of the frames read.

    Where one shoulder is missing the other one stands for both, and so with hips: from the side
    they cover each other.
    """
    frames = sorted(times_s)
    times = np.array([times_s[frame] for frame in frames])
    joints = np.full((len(JOINTS), len(frames), 2), np.nan)
    sure = np.zeros((len(JOINTS), len(frames)))
    for j, joint in enumerate(JOINTS):
        places = tracked.get(joint, {})
        for n, frame in enumerate(frames):
            if frame in places:
                joints[j, n] = places[frame][:2]
                sure[j, n] = places[frame][2]
        joints[j] = filled(times, joints[j], _GAP_S)
    at = {name: n for n, name in enumerate(JOINTS)}
    for part in ("shoulder", "hip"):
        left, right = (at[f"{side}_{part}"] for side in LEFT_AND_RIGHT)
        for own, other in ((left, right), (right, left)):
            joints[own] = np.where(np.isfinite(joints[own]), joints[own], joints[other])
    trunk = np.isfinite(joints[[at["left_shoulder"], at["left_hip"]]]).all(axis=(0, 2))
    poses = [Pose(frame, joints[:, n], sure[:, n]) for n, frame in enumerate(frames) if trunk[n]]
    return Followed(tuple(poses), times_s, by_points=True)
