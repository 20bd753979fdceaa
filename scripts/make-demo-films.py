"""Make the films that come with the demo, from its takes: scripts/make-demo-films.py [NAME ...].

They are film-like, which takes too long for a first start. Run it again after a change of the model
swimmer or of the demo's takes: a test holds the films against them.
"""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

from norvik.demo.people import everything
from norvik.demo.seed import SHIPPED
from norvik.model.film import film

#: A film that comes along is at most so large, bytes.
MOST_BYTES = 4_000_000


def main(names: list[str]) -> None:
    SHIPPED.mkdir(exist_ok=True)
    for _, clip in everything():
        if not clip.at_once or (names and clip.name not in names):
            continue
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / clip.name
            film(clip.takes[0], path, small=True)
            size = path.stat().st_size
            if size > MOST_BYTES:
                sys.exit(f"{clip.name} has {size} bytes; at most {MOST_BYTES}. Raise its crf.")
            (SHIPPED / clip.name).write_bytes(path.read_bytes())
            print(f"{clip.name}: {size / 1e6:.1f} MB")


if __name__ == "__main__":
    main(sys.argv[1:])
