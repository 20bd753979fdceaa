"""Points that were tracked as joints of a swimmer, and whether they are enough to read a stroke."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from norvik.core.strokes.names import LEFT_AND_RIGHT

#: Frame to x, y (pixels) and confidence, 0 to 1.
Places = Mapping[int, tuple[float, float, float]]

#: Joints that reading looks at, in the order in which it keeps them.
JOINTS = (
    "nose", "left_ear", "right_ear", "left_shoulder", "right_shoulder", "left_elbow",
    "right_elbow", "left_wrist", "right_wrist", "left_hip", "right_hip", "left_knee", "right_knee",
    "left_ankle", "right_ankle", "left_toe", "right_toe",
)  # fmt: skip
#: What a tracked point is called where reading has another word, the best one first.
_CALLED = {"nose": ("nose", "mouth", "head"), "left_toe": ("left toes",),
           "right_toe": ("right toes",)}  # fmt: skip
#: Reading rests on tracked points where they are there in this share of the frames.
_WHOLE = 0.5
#: A tracked point that is less sure than this is none (as on screen).
_SURE = 0.5


def tracked_joints(points: Mapping[str, Places]) -> dict[str, Places]:
    """Joint (one of JOINTS) to its places. points: by what a coach calls them ("right wrist",
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
    """True where the trunk and a wrist were tracked through most of the frames."""
    every = list(frames)

    def known(part: str, frame: int) -> bool:
        return any(frame in tracked.get(f"{side}_{part}", {}) for side in LEFT_AND_RIGHT)

    whole = [all(known(part, frame) for part in ("shoulder", "hip", "wrist")) for frame in every]
    return sum(whole) >= _WHOLE * max(1, len(every))
