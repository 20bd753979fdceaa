"""The form of what one clip is."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from flask_wtf import FlaskForm
from wtforms import Field, StringField

from norvik.core.errors import ConsentError
from norvik.store.clips import Facts
from norvik.web.shared import asked
from norvik.web.shared.facts import READERS, kit_of
from norvik.web.shared.filters import pace
from norvik.web.shared.read_field import ReadField, refuse


class KitField(Field):
    """The pieces of kit that are ticked."""

    def process_formdata(self, valuelist: list[str]) -> None:
        self.data = kit_of(valuelist)


class FactsForm(FlaskForm):
    """Begins with what is known; a field that is not sent stays as it was."""

    swimmer_id = ReadField("Swimmer", READERS["swimmer_id"])
    stroke = ReadField("Stroke", READERS["stroke"])
    view = ReadField("View", READERS["view"])
    role = ReadField("Clip is", READERS["role"])
    filmed_on = ReadField("Filmed on", READERS["filmed_on"])
    effort = ReadField("Effort", READERS["effort"])
    pace_s = ReadField("Pace per 100", READERS["pace_s"])
    pool_m = ReadField("Pool, metres", READERS["pool_m"])
    kit = KitField("Kit in this clip")
    #: No tick at all is an answer, too, where the ticks were on the page.
    kit_said = StringField("Kit")

    def __init__(self, before: Facts, **more: Any) -> None:
        self.before = before
        super().__init__(data=_written(before), **more)

    def validate(self, extra_validators: Any = None) -> bool:
        if not super().validate(extra_validators):
            return False
        given = self.swimmer_id.value
        if given is not None and given != self.before.swimmer_id:
            try:
                asked.filmed_swimmer(given)
            except ConsentError as error:
                refuse(self, "swimmer_id", error.sentence)
                return False
        return True

    def facts(self) -> Facts:
        """What a form says that is right."""
        said = {name: self[name].value for name in READERS}
        # A pace of 1:32.47 was not typed anew because the form shows tenths.
        said |= {n: getattr(self.before, n) for n, old in _written(self.before).items()
                 if n in READERS and self[n].data == old}  # fmt: skip
        kit = self.kit.data if self.kit.data or self.kit_said.data else self.before.kit
        return replace(self.before, **said, kit=kit)


def _written(facts: Facts) -> dict[str, Any]:
    """Each fact as the form shows it."""
    return {
        "swimmer_id": "" if facts.swimmer_id is None else str(facts.swimmer_id),
        "stroke": facts.stroke, "view": facts.view, "role": facts.role, "effort": facts.effort,
        "filmed_on": facts.filmed_on, "pace_s": pace(facts.pace_s),
        "pool_m": "" if facts.pool_m is None else f"{facts.pool_m:.2f}".rstrip("0").rstrip("."),
        "kit": facts.kit,
    }  # fmt: skip
