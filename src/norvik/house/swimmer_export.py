"""Everything that is kept of one swimmer, as one ZIP file that needs nothing of Norvik.

The same file can be read in by another Norvik, with films and all work (`swimmer_import`).
"""

from __future__ import annotations

import json
import sqlite3
import tempfile
import zipfile
from collections.abc import Iterable, Iterator
from pathlib import Path

from norvik.files import names
from norvik.files.opened import footage_of
from norvik.formats.lengths_csv import write_lengths
from norvik.formats.plan_csv import write_plan
from norvik.formats.pool_tests_csv import write_pool_tests
from norvik.settings import Settings
from norvik.store import (
    clips,
    consents,
    one_swimmer,
    plans,
    recordings,
    swimmer_removal,
    swimmers,
    swims,
)
from norvik.store.swimmers import Swimmer
from norvik.workflow.clip_tables import files_of
from norvik.workflow.clip_timing import time_clip
from norvik.workflow.plan_files import table_rows
from norvik.workflow.plans import worked_out
from norvik.workflow.pool_tests import table_rows as test_rows
from norvik.workflow.swimmer_tables import about_text, pain_file, season_file, training_file

_README = """{name}: everything that Norvik keeps.

swimmer.json   every row of the database that belongs to the swimmer, by table
season.csv     every clip: rate, speed, findings, and what changed since the clip before
training.csv   what was done of each session
pain.csv       what hurt, from when to when
clips/         of each clip: marks, numbers with both plus-minus, measures, followed points, and
               about.txt, which says what they mean
swims/         swims length by length (lengths.csv)
plans/         plans as tables (plan.csv)
pool-tests.csv pool tests as they were written down
about.txt      what the columns of these tables mean

reviews/       every review as a page that opens in any browser
norvik/        the films, and a database that another Norvik reads (norvik swimmer import)

Films that show others as well are not in here. Their names are in swimmer.json.
"""


#: The swimmer's rows as a database, and the folder of files that belong to it.
DATABASE, FILES = "norvik/swimmer.sqlite3", "norvik/"


def write_swimmer_zip(
    connection: sqlite3.Connection, settings: Settings, swimmer_id: int, out: Path,
    reviews: Iterable[tuple[str, str]] = (),
) -> None:  # fmt: skip
    """Write everything of a swimmer into a ZIP file. reviews: names of pages and their HTML.

    Raises NotFoundError for a swimmer who is not there.
    """
    swimmer = swimmers.by_id(connection, swimmer_id)
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("README.txt", _README.format(name=swimmer.name))
        for name, text in _tables(connection, swimmer):
            archive.writestr(name, text)
        for name, page in reviews:
            archive.writestr(f"reviews/{name}", page)
        _put_norvik(archive, connection, settings, swimmer_id)


def _tables(connection: sqlite3.Connection, swimmer: Swimmer) -> Iterator[tuple[str, str]]:
    """Name and text of every file that a person can read."""
    rows = swimmer_removal.everything(connection, swimmer.id)
    yield "swimmer.json", json.dumps(rows, ensure_ascii=False, indent=1)
    for clip in clips.newest_first(connection, swimmer.id):
        if clip.watchable:
            timed = time_clip(connection, clip)
            for name, text in files_of(connection, timed).items():
                yield f"clips/{clip.filmed_on}-{clip.id}.{name}", text
    for swim in swims.of_swimmer(connection, swimmer.id):
        yield f"swims/{swim.swum_on}-{swim.id}.lengths.csv", write_lengths(swim.lengths)
    for plan in plans.of_swimmer(connection, swimmer.id):
        rows_of = table_rows(worked_out(connection, plan))
        yield f"plans/{plan.request.starts_on}-{plan.id}.plan.csv", write_plan(rows_of)
    yield "about.txt", about_text(swimmer)
    yield "season.csv", season_file(connection, swimmer)
    yield "training.csv", training_file(connection, swimmer)
    yield "pain.csv", pain_file(connection, swimmer)
    yield "pool-tests.csv", write_pool_tests(test_rows(connection, swimmer))


def _put_norvik(
    archive: zipfile.ZipFile, connection: sqlite3.Connection, settings: Settings, swimmer_id: int
) -> None:
    """What another Norvik reads: the rows, and the films on which nobody else is."""
    with tempfile.TemporaryDirectory(dir=settings.incoming) as folder:
        database = Path(folder) / "swimmer.sqlite3"
        alone = one_swimmer.cut_out(connection, swimmer_id, database)
        archive.write(database, DATABASE)
    wanted = [c.paper for c in consents.of_swimmer(connection, swimmer_id) if c.paper]
    for recording_id in alone:
        path = recordings.by_id(connection, recording_id).original_path
        wanted += [path] if path else []
        wanted += [of(recording_id) for of in (names.film, names.sound, names.strip, names.poster)]
    footage = footage_of(settings)
    for name in wanted:
        file = footage.at_hand(name)
        if file.is_file():
            # Films do not get smaller by packing.
            archive.write(file, f"{FILES}{name}", zipfile.ZIP_STORED)
