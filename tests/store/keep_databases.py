"""Databases of every schema there ever was, as SQL, each with rows.

Run `python -m tests.store.keep_databases` after a migration was added: the new schema is kept
beside the older ones, which are never written again.
"""

from __future__ import annotations

import gzip
import sqlite3
import tempfile
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import numpy as np
import yoyo

from norvik.store.connection import MIGRATIONS

KEPT = Path(__file__).with_name("databases")
#: What is put in once a schema has been reached.
_ROWS = {
    "0001_first": """
        INSERT INTO users (email, name, role, password_hash) VALUES
            ('coach@club.example', 'Sunniva', 'coach', 'x'),
            ('deck@club.example', 'Maren', 'assistant', 'x');
        INSERT INTO swimmers (name, level) VALUES ('Tilde Vassholm', 'improver');
        INSERT INTO clips (id, swimmer_id, stroke, view, role, filmed_on, stretch, original_name,
            original_path, sha256, bytes, state, review_path, rate_num, rate_den, frames)
        VALUES (4, 1, 'freestyle', 'overhead', 'race', '2026-11-20', 8.0, 'a.mp4',
            'originals/ab.mp4', 'ab', 10, 'ready', 'copies/4.mp4', 30, 1, 3);
        INSERT INTO marks (clip_id, frame, lane, side, event) VALUES (4, 2, 'arm', 'left', 'entry');
        INSERT INTO reviews (clip_id, words) VALUES (4, 'Good.');""",
    "0004_swims": """
        INSERT INTO swims (swimmer_id, swum_on, stroke, pool_m, created_by)
            VALUES (1, '2026-11-20', 'freestyle', 25, 1);
        INSERT INTO swim_lengths (swim_id, number, seconds, strokes) VALUES (1, 1, 21.4, 18);""",
    "0005_best_rhythms": "INSERT INTO best_rhythms (clip_id, cycles_per_min) VALUES (4, 30);",
    "0006_drawings": """INSERT INTO drawings (clip_id, kind, frame, first_frame, points, created_by)
        VALUES (4, 'arrow', 1, 1, '[[1, 2], [3, 4]]', 1);""",
    "0008_minors": "UPDATE swimmers SET minor = 1;",
    "0024_leave": "UPDATE swimmers SET leave_by = 'Aud', leave_on = '2026-11-01';",
    "0030_links": """UPDATE swimmers SET sending_by = 'Aud', sending_on = '2026-11-02';
        INSERT INTO review_links (review_id, token, digest, valid_until, created_by)
            SELECT id, 't', 'd', '2999-01-01', 1 FROM reviews;""",
    "0032_people": """INSERT INTO squads (name, season) VALUES ('Relay', '2026/27');
        INSERT INTO squad_swimmers SELECT id, 1 FROM squads WHERE name = 'Relay';""",
    "0034_trail": "INSERT INTO trail (user_id, person, deed) VALUES (1, 'Sunniva', 'signed-in');",
}  # fmt: skip


def every_schema(folder: Path) -> Iterator[tuple[str, sqlite3.Connection]]:
    """Each schema in turn, by its last migration, on one database that grows with them."""
    path = folder / "norvik.sqlite3"
    known = yoyo.read_migrations(str(MIGRATIONS))
    for name in sorted(m.id for m in known):
        backend = yoyo.get_backend(f"sqlite:///{path}")
        one = known.filter(lambda m, name=name: m.id <= name)
        backend.apply_migrations(backend.to_apply(one))
        backend.connection.close()
        with closing(sqlite3.connect(path)) as connection:
            connection.executescript(_ROWS.get(name, ""))
            if name == "0001_first":
                times = np.array([0.0, 0.1, 0.2]).tobytes()
                connection.execute("INSERT INTO frame_tables VALUES (4, ?)", (times,))
            connection.commit()
            yield name, connection


def main() -> None:
    KEPT.mkdir(exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        for name, connection in every_schema(Path(folder)):
            out = KEPT / f"{name}.sql.gz"
            if not out.exists():
                text = "\n".join(connection.iterdump())
                out.write_bytes(gzip.compress(text.encode(), mtime=0))


if __name__ == "__main__":
    main()
