"""A swimmer as tracked points show it: by hand, along dots on the skin, or by another tracker.

Where all that reading needs was tracked, the network is not asked. Nor are both mixed: a network
sees every joint a little beside its place, and its templates know that (see templates.py).
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import numpy as np
from numpy.typing import NDArray

from norvik.core.frame.movement import filled
from norvik.core.strokes.names import LEFT_AND_RIGHT
from norvik.reading.follow import Pose
from norvik.reading.followed import Followed
from norvik.reading.network import JOINTS

Series = NDArray[np.float64]
#: Frame to x, y (pixels of the film) and confidence, 0 to 1.
Places = Mapping[int, tuple[float, float, float]]

#: What a tracked point is called where reading has another word, the best one first.
_CALLED = {"nose": ("nose", "mouth", "head"), "left_toe": ("left toes",),
           "right_toe": ("right toes",)}  # fmt: skip
#: Reading rests on tracked points where they are there in this share of the frames.
_WHOLE = 0.5
#: A tracked point that is less sure than this is none (as on screen).
_SURE = 0.5
#: A joint that was lost for no longer than this went on as straight as before (own choice: a third
#: of the shortest pull).
_GAP_S = 0.15


def tracked_joints(points: Mapping[str, Places]) -> dict[str, Places]:
    """Joint (a name of JOINTS) to its places. points: by what a coach calls them ("right wrist",
    "head"). Others are left out, and so are places that are unsure.
    """
    found: dict[str, Places] = {}
    for joint in JOINTS:
        called = _CALLED.get(joint, (joint.replace("_", " "),))
        known = next((points[name] for name in called if name in points), {})
        sure = {frame: place for frame, place in known.items() if place[2] >= _SURE}
        if sure:
            found[joint] = sure
    return found


def enough(tracked: Mapping[str, Places], frames: Iterable[int]) -> bool:
    """True where the trunk and a wrist were tracked through most of the frames that are read."""
    read = list(frames)

    def known(part: str, frame: int) -> bool:
        return any(frame in tracked.get(f"{side}_{part}", {}) for side in LEFT_AND_RIGHT)

    whole = [all(known(part, frame) for part in ("shoulder", "hip", "wrist")) for frame in read]
    return sum(whole) >= _WHOLE * max(1, len(read))


def followed_by_points(tracked: Mapping[str, Places], times_s: Mapping[int, float]) -> Followed:
    """The swimmer in the frames that show its trunk. times_s: real seconds of the frames read.

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
