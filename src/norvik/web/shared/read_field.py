"""A form field whose text a function reads, so that what it refuses stands beside the field."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from wtforms import Form, StringField
from wtforms.form import BaseForm
from wtforms.validators import ValidationError

from norvik.core.errors import NorvikError


class ReadField(StringField):
    """Text as it was typed in `data`; in `value` what `read` makes of it, None before that.

    read raises NorvikError for what cannot be.
    """

    def __init__(self, label: str, read: Callable[[str], Any], **more: Any) -> None:
        super().__init__(label, **more)
        self._read = read
        self.value: Any = None

    def pre_validate(self, form: BaseForm) -> None:
        # Not as the text comes in: a request without this field is read from its default, too.
        try:
            self.value = self._read((self.data or "").strip())
        except NorvikError as error:
            raise ValidationError(error.sentence) from error


def refuse(form: Form, field: str, sentence: str) -> None:
    """Put a sentence beside a field, found when all fields were looked at together."""
    form[field].errors = [*form[field].errors, sentence]


def one_of(words: tuple[str, ...], error: type[NorvikError], what: str) -> Callable[[str], str]:
    """Reads one of some words; what: how a refusal names them, as "stroke"."""

    def read(text: str) -> str:
        if text not in words:
            raise error(f"This {what} is not known. Reload the page.")
        return text

    return read
