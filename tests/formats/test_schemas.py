"""Every JSON that Norvik writes is what its schema says; jsonschema is the judge."""

from __future__ import annotations

import io
import json
import zipfile
from pathlib import Path

import pytest
from click.testing import CliRunner
from flask.testing import FlaskClient
from jsonschema import Draft202012Validator
from jsonschema.exceptions import ValidationError

from norvik.cli import main
from norvik.footage.probe import probe as probe_footage
from norvik.formats.schemas import SCHEMAS
from norvik.settings import Settings
from norvik.store import marks, swimmers
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.uploading import upload


def valid(name: str, made: object) -> None:
    Draft202012Validator(SCHEMAS[name]()).validate(made)


@pytest.mark.parametrize("name", sorted(SCHEMAS))
def test_the_command_prints_a_schema(name: str) -> None:
    shown = CliRunner().invoke(main, ["schema", name])
    assert shown.exit_code == 0
    schema = json.loads(shown.output)
    Draft202012Validator.check_schema(schema)
    # A schema that lets anything pass is none.
    with pytest.raises(ValidationError):
        valid(name, {"nothing": "of the kind"})


def test_an_unknown_name_is_refused() -> None:
    shown = CliRunner().invoke(main, ["schema", "parchment"])
    assert shown.exit_code == 2
    assert "'about'" in shown.output


def test_what_a_clip_and_a_swimmer_give_out(
    client: FlaskClient, settings: Settings, small_clip: Path
) -> None:
    with connected(settings.database) as connection:
        who = swimmers.add(connection, Swimmer("Tilde Vassholm"))
    clip = int(upload(client, small_clip, pool_m=25, swimmer=who).json["clip"])
    with connected(settings.database) as connection:
        connection.execute("UPDATE clips SET swimmer_id = ? WHERE id = ?", (who, clip))
        for begin in (2, 30, 58):
            marks.place(connection, clip, None, begin, "arm", "right", "entry")
        connection.execute(
            "INSERT INTO ticked_again (clip_id, person, own, items, ticks) "
            "VALUES (?, 'Guest', 0, '[]', '[]')",
            (clip,),
        )
    valid("about", client.get(f"/clips/{clip}/files/about.json").json)
    valid("timing", client.get(f"/clips/{clip}/files/numbers.json").json)
    packed = zipfile.ZipFile(io.BytesIO(client.get(f"/swimmers/{who}/everything.zip").data))
    everything = json.loads(packed.read("swimmer.json"))
    valid("swimmer", everything)
    assert len(everything["marks"]) == 3
    assert everything["ticked_again"][0]["person"] == "Guest"
    about = packed.read("about.txt").decode()
    assert about.startswith("program: Norvik ")
    # Every column that the meaning names is one of a table beside it.
    columns = {
        column
        for name in ("season.csv", "training.csv", "pain.csv")
        for column in packed.read(name).decode().splitlines()[0].split(",")
    }
    named = [line.split(": ")[0] for line in about.splitlines()[2:]]
    named = [word for line in named for word in line.split(", ") if word not in ("dates", "empty")]
    assert set(named) <= columns
    assert client.get(f"/swimmers/{who}/about.txt").text == about


def test_drills_and_what_a_film_is(client: FlaskClient, small_clip: Path) -> None:
    valid("drills", json.loads(client.get("/drills/own.json").text))
    valid("probe", json.loads(json.dumps(probe_footage(small_clip).as_dict())))


def test_a_swimmer_has_no_other_table(client: FlaskClient, settings: Settings) -> None:
    with connected(settings.database) as connection:
        who = swimmers.add(connection, Swimmer("Tilde Vassholm"))
    assert client.get(f"/swimmers/{who}/season.csv").status_code == 200
    assert client.get(f"/swimmers/{who}/parchment.csv").status_code == 404
