"""The coaching approach as a form has it."""

from __future__ import annotations

from flask import request

from norvik.catalogue.loader import schools


def approach_from_form() -> dict[str, str]:
    """Question to school, of those that are known."""
    found = {}
    for question in schools():
        school = request.form.get(f"school-{question.id}", "")
        if school in {s.id for s in question.schools}:
            found[question.id] = school
    return found
