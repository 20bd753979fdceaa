"""Form fields that a function reads: what it refuses stands beside the field."""

from __future__ import annotations

import re

import pytest
from flask.testing import FlaskClient
from werkzeug.datastructures import MultiDict
from wtforms import Form

from norvik.core.errors import LengthsError
from norvik.settings import Settings
from norvik.store import swimmers
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.web.shared.read_field import ReadField, one_of, refuse


def whole(text: str) -> int:
    if not text.isdecimal():
        raise LengthsError("Write a whole number.")
    return int(text)


class Small(Form):
    count = ReadField("Count", whole, default="7")
    word = ReadField("Word", one_of(("fist", "fin"), LengthsError, "word"))


def test_a_field_has_what_was_typed_and_what_was_read_of_it() -> None:
    form = Small(MultiDict({"count": " 12 ", "word": "fin"}))
    assert form.validate()
    assert (form.count.data, form.count.value, form.word.value) == (" 12 ", 12, "fin")
    assert form.errors == {}


def test_a_request_without_the_field_is_read_from_its_default() -> None:
    form = Small(None)
    assert not form.validate()
    assert form.count.value == 7
    assert form.errors == {"word": ["This word is not known. Reload the page."]}


def test_what_cannot_be_read_is_said_beside_the_field_and_stays_in_it() -> None:
    form = Small(MultiDict({"count": "twelve", "word": "fist"}))
    assert not form.validate()
    assert form.errors == {"count": ["Write a whole number."]}
    assert (form.count.data, form.count.value) == ("twelve", None)
    refuse(form, "word", "Not with these.")
    assert form.word.errors == ["Not with these."]


@pytest.mark.parametrize(
    ("more", "field", "sentence"),
    [
        ({"pool_m": "5"}, "pool_m", "between 10 and 100"),
        ({"swum_on": "2999-01-01"}, "swum_on", "cannot be the day of a swim"),
        ({"total": "late"}, "total", "Row 1"),
        ({"lengths": "21 18\nsoon"}, "lengths", "Row 2"),
        ({"lengths": ""}, "lengths", "no length"),
    ],
)
def test_a_refused_swim_says_it_where_it_was_typed(
    client: FlaskClient, settings: Settings, more: dict[str, str], field: str, sentence: str
) -> None:
    with connected(settings.database) as connection:
        swimmers.add(connection, Swimmer("Tilde Vassholm"))
    said = {"swum_on": "2026-11-20", "pool_m": "25", "stroke": "freestyle", "lengths": "21 18"}
    answer = client.post("/swimmers/1/swims", data={**said, **more})
    assert answer.status_code == 422
    assert "Not saved. Look at:" in answer.text
    beside = re.search(rf'id="{field}".*?class="complaint"[^>]*>(.*?)</p>', answer.text)
    assert beside is not None
    assert sentence in beside.group(1)
