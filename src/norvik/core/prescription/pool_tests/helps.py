"""Drills for the part that a pool test showed to be the weaker one."""

from __future__ import annotations

#: Best first. Catch-up and fists, side kick and three-and-six: common practice; the others, for
#: strokes that those do not serve: own choice.
HELPS: dict[str, tuple[str, ...]] = {
    "arms": ("catch-up", "fist", "single-arm-back", "front-scull"),
    "legs": ("side-kick-line", "three-and-six", "surface-kick-back", "torpedo-kick"),
}
#: No more than so many are named.
MOST = 2
