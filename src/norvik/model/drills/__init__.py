"""How every drill of the catalogue is done, as one loop of the model swimmer with its kit."""

from __future__ import annotations

from norvik.model.drills import backstroke, breaststroke, butterfly, freestyle, walls
from norvik.model.drills.motion import Motion

#: By the drill's id in the catalogue.
MOTIONS: dict[str, Motion] = {
    **freestyle.MOTIONS,
    **backstroke.MOTIONS,
    **breaststroke.MOTIONS,
    **butterfly.MOTIONS,
    **walls.MOTIONS,
}
