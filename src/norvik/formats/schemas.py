"""JSON Schema, draft 2020-12, of every JSON that Norvik writes, by name."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial
from typing import Any

import msgspec

from norvik.formats.answers import ANSWERS, schema_of
from norvik.formats.drills_json import DrillsFile
from norvik.formats.timing_schema import timing_schema

_DRAFT = "https://json-schema.org/draft/2020-12/schema"
_NUMBER = {"type": ["number", "null"]}
_COUNT = {"type": "integer", "minimum": 0}

#: about.json: what each line is for, in the order in which it is written.
ABOUT = {
    "program": "what wrote the tables, with its version",
    "swimmer": "name, empty when the clip has none",
    "filmed on": "day, YYYY-MM-DD",
    "stroke": "id of the stroke",
    "view": "id of the view",
    "film": "name of the file that was taken in",
    "frames a second, in real time": "empty when the rate changes within the clip",
    "slow-motion factor": "with the frame from which it holds",
    "relative standard uncertainty of it": "of the factor; 0 when it was not checked by a clock",
    "pool, metres": "empty when unknown",
    "times": "what times count from",
    "u_clip, u": "what these columns are",
    "u_swimmer": "what this column is",
    "coverage": "how the plus-minus follows",
    "marking error": "standard error of one mark, by family of events",
    "pixels": "what positions count from",
    "doubts about the time base": "empty when there are none",
}


def _object(title: str, properties: Mapping[str, object]) -> dict[str, Any]:
    return {
        "$schema": _DRAFT, "title": title, "type": "object", "properties": dict(properties),
        "required": list(properties), "additionalProperties": False,
    }  # fmt: skip


def _about() -> dict[str, Any]:
    return _object(
        "about.json", {n: {"type": "string", "description": d} for n, d in ABOUT.items()}
    )


def _drills() -> dict[str, Any]:
    (reference,), parts = msgspec.json.schema_components(
        [DrillsFile], ref_template="#/$defs/{name}"
    )
    return {"$schema": _DRAFT, "title": "own.json", **reference, "$defs": parts}


def _swimmer() -> dict[str, Any]:
    row = {
        "type": "object",
        "additionalProperties": {"type": ["string", "number", "null"]},
    }
    return {
        "$schema": _DRAFT, "title": "swimmer.json", "type": "object",
        "description": "By table of the database: its rows, by column.",
        "required": ["swimmers", "clips", "marks"],
        "additionalProperties": {"type": "array", "items": row},
    }  # fmt: skip


def _probe() -> dict[str, Any]:
    return _object(
        "norvik probe",
        {
            "frames": _COUNT,
            "duration_s": {"type": "number"},
            "width": _COUNT,
            "height": _COUNT,
            "rotation_deg": {"type": "integer"},
            "codec": {"type": "string"},
            "constant_rate": {"type": "boolean"},
            "rate_fps": _NUMBER,
            "frame_interval_s": {
                "type": "object",
                "properties": {"min": _NUMBER, "median": _NUMBER, "max": _NUMBER},
                "required": ["min", "median", "max"],
                "additionalProperties": False,
            },
        },
    )


#: Name: the schema. A command's object is called like the command, a file like the file.
SCHEMAS: Mapping[str, Callable[[], dict[str, Any]]] = {
    "about": _about,
    "drills": _drills,
    "probe": _probe,
    "swimmer": _swimmer,
    "timing": timing_schema,
    **{command: partial(schema_of, command) for command in ANSWERS},
}
