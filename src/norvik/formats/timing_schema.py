"""JSON Schema of what `norvik timing --json` prints, worked out from the declarations."""

from __future__ import annotations

import dataclasses
import typing
from typing import Any

import msgspec

from norvik.core.time.quantities import QUANTITIES
from norvik.core.time.timing import Timing
from norvik.formats.timing_json import NOT_WRITTEN, VERSION

_TEXTS = {"type": "object", "additionalProperties": {"type": "string"}}
_NUMBERS = {"type": "object", "additionalProperties": {"type": "number"}}
_PROBLEM = {
    "type": "object",
    "properties": {"row": {"type": ["integer", "null"]}, "reason": {"type": "string"}},
    "required": ["row", "reason"],
    "additionalProperties": False,
}


def timing_schema() -> dict[str, Any]:
    """Draft 2020-12. Every key is always there; what is unknown is null."""
    hints = typing.get_type_hints(Timing)
    names = [f.name for f in dataclasses.fields(Timing) if f.name not in NOT_WRITTEN]
    fields, parts = msgspec.json.schema_components(
        [hints[name] for name in names], ref_template="#/$defs/{name}"
    )
    properties = dict(zip(names, fields, strict=True))
    properties |= {
        "quantities": {
            "type": "object",
            "properties": {
                q.id: _quantity(q.name, q.unit, q.definition) for q in QUANTITIES.values()
            },
            "additionalProperties": False,
        },
        "problems": {"type": "array", "items": _PROBLEM},
        "reasons": _TEXTS,
        "uncertainty": _NUMBERS,
        "u_clip": _NUMBERS,
        "u_swimmer": _NUMBERS,
        "dof": _NUMBERS,
        "k95": _NUMBERS,
        "version": {"const": VERSION},
    }
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "norvik timing",
        **_complete({"type": "object", "properties": properties}),
        "$defs": {name: _complete(part) for name, part in parts.items()},
    }


def _quantity(name: str, unit: str, definition: str) -> dict[str, Any]:
    return _complete(
        {
            "title": name,
            "description": definition,
            "type": "object",
            "properties": {
                "name": {"const": name},
                "unit": {"const": unit},
                "value": {"type": "number"},
                "u": {"type": ["number", "null"]},
                "n": {"type": "integer"},
            },
        }
    )


def _complete(part: dict[str, Any]) -> dict[str, Any]:
    """The same object with every key required and no other allowed."""
    return {**part, "required": list(part["properties"]), "additionalProperties": False}
