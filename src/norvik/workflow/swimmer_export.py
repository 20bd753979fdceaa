"""Everything that is kept of one swimmer, as one ZIP file that needs nothing of Norvik."""

from __future__ import annotations

import io
import json
import sqlite3
import zipfile

from norvik.formats.lengths_csv import write_lengths
from norvik.formats.plan_csv import write_plan
from norvik.formats.pool_tests_csv import write_pool_tests
from norvik.store import clips, plans, swimmer_removal, swimmers, swims
from norvik.workflow.clip_tables import files_of
from norvik.workflow.clip_timing import time_clip
from norvik.workflow.plan_files import table_rows
from norvik.workflow.plans import worked_out
from norvik.workflow.pool_tests import table_rows as test_rows
from norvik.workflow.swimmer_tables import about_text, pain_file, season_file, training_file

_README = """{name}: everything that Norvik keeps.

swimmer.json   every row of the database that belongs to the swimmer, by table
season.csv     every clip: rate, speed, findings, and what really changed since the one before
training.csv   what was done of each session
pain.csv       what hurt, from when to when
clips/         of each clip: marks, numbers with both plus-minus, measures, followed points, and
               about.txt, which says what they mean
swims/         swims length by length (lengths.csv)
plans/         plans as tables (plan.csv)
pool-tests.csv pool tests as they were written down
about.txt      what the columns of these tables mean

The films are not in here: they may show others, too. Their names stand in swimmer.json.
"""


def swimmer_zip(connection: sqlite3.Connection, swimmer_id: int) -> bytes:
    """Raises NotFoundError for a swimmer who is not there."""
    swimmer = swimmers.by_id(connection, swimmer_id)
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:

        def put(name: str, text: str) -> None:
            archive.writestr(name, text)

        put("README.txt", _README.format(name=swimmer.name))
        rows = swimmer_removal.everything(connection, swimmer_id)
        put("swimmer.json", json.dumps(rows, ensure_ascii=False, indent=1))
        for clip in clips.newest_first(connection, swimmer_id):
            if clip.watchable:
                timed = time_clip(connection, clip)
                for name, text in files_of(connection, timed).items():
                    put(f"clips/{clip.filmed_on}-{clip.id}.{name}", text)
        for swim in swims.of_swimmer(connection, swimmer_id):
            put(f"swims/{swim.swum_on}-{swim.id}.lengths.csv", write_lengths(swim.lengths))
        for plan in plans.of_swimmer(connection, swimmer_id):
            rows_of = table_rows(worked_out(connection, plan))
            put(f"plans/{plan.request.starts_on}-{plan.id}.plan.csv", write_plan(rows_of))
        put("about.txt", about_text(swimmer))
        put("season.csv", season_file(connection, swimmer))
        put("training.csv", training_file(connection, swimmer))
        put("pain.csv", pain_file(connection, swimmer))
        put("pool-tests.csv", write_pool_tests(test_rows(connection, swimmer)))
    return made.getvalue()
