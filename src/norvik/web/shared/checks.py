"""A form field: several choices as check boxes."""

from __future__ import annotations

from wtforms import SelectMultipleField
from wtforms.widgets import CheckboxInput, ListWidget


class Checks(SelectMultipleField):
    """Several choices as check boxes."""

    widget = ListWidget(prefix_label=False)
    option_widget = CheckboxInput()
