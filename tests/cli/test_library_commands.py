"""`norvik add` and `norvik user add`: the library from the command line."""

from __future__ import annotations

from pathlib import Path

import pytest
from click.testing import CliRunner, Result

from norvik.cli import main
from norvik.settings import Settings
from norvik.store import clips, jobs, swimmers, users
from norvik.store.connection import connected
from norvik.workflow.passwords import check_password


@pytest.fixture
def data(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Settings:
    monkeypatch.setenv("NORVIK_DATA", str(tmp_path / "norvik data"))
    return Settings.from_environment()


def run(*args: object, given: str | None = None) -> Result:
    return CliRunner().invoke(main, [str(a) for a in args], input=given)


def test_add_brings_a_clip_in_and_queues_its_preparation(data: Settings, small_clip: Path) -> None:
    result = run(
        "add", small_clip, "--swimmer", "Tilde Vassholm", "--stroke", "butterfly", "--view",
        "overhead", "--role", "race", "--filmed-on", "2026-11-02", "--stretch", "8",
        "--kit", "fins", "--kit", "buoy", "--pace", "88.5", "--pool", "25", "--effort", "hard",
    )  # fmt: skip
    assert result.exit_code == 0, result.output
    with connected(data.database) as connection:
        (clip,) = clips.newest_first(connection)
        assert (clip.swimmer_name, clip.stroke, clip.view) == (
            "Tilde Vassholm",
            "butterfly",
            "overhead",
        )
        assert (clip.role, clip.filmed_on) == ("race", "2026-11-02")
        assert [s.factor for s in clip.recording.stretches] == [8.0]
        assert (clip.facts.kit, clip.facts.pace_s) == (("fins", "buoy"), 88.5)
        assert clip.state == "waiting"
        assert len(jobs.queued(connection)) == 1


def test_add_finds_the_swimmer_of_that_name(data: Settings, small_clip: Path) -> None:
    run("add", small_clip, "--swimmer", "Tilde Vassholm")
    again = run("add", small_clip, "--swimmer", " tilde vassholm ")
    assert again.exit_code == 1
    assert "already in the library" in again.stderr
    with connected(data.database) as connection:
        assert len(swimmers.all_by_name(connection)) == 1


def test_add_refuses_what_is_no_footage(data: Settings, tmp_path: Path) -> None:
    text = tmp_path / "list.mp4"
    text.write_text("bread, milk")
    result = run("add", text, "--swimmer", "Tilde Vassholm")
    assert result.exit_code == 1
    assert "not a video" in result.stderr
    with connected(data.database) as connection:
        assert clips.newest_first(connection) == []
    assert list(data.originals.iterdir()) == []


@pytest.mark.parametrize(
    "options",
    [
        ["--pace", "9"],
        ["--swimmer", "A", "--stroke", "sidestroke"],
        ["--swimmer", "A", "--view", "inside"],
        ["--swimmer", "A", "--filmed-on", "yesterday"],
        ["--swimmer", "A", "--stretch", "0"],
    ],
)
def test_add_usage_errors(data: Settings, small_clip: Path, options: list[str]) -> None:
    assert run("add", small_clip, *options).exit_code == 2
    assert not data.database.exists()


def test_an_account_can_be_added_once_and_signs_in(data: Settings) -> None:
    words = "a long pass phrase\na long pass phrase\n"
    result = run("user", "add", "ivar@kvarnholm.example", "--name", "Ivar", "--role", "assistant",
                 given=words)  # fmt: skip
    assert result.exit_code == 0, result.output
    with connected(data.database) as connection:
        user = users.by_email(connection, "IVAR@kvarnholm.example")
    assert user is not None
    assert user.role == "assistant"
    assert check_password(user, "a long pass phrase")
    assert not check_password(user, "a long pass phrasE")
    assert "a long pass phrase" not in user.password_hash
    again = run("user", "add", "ivar@kvarnholm.example", "--name", "Ivar", given=words)
    assert again.exit_code == 1
    assert "already" in again.stderr


def test_a_short_password_is_refused(data: Settings) -> None:
    result = run("user", "add", "a@b.example", "--name", "A", given="short\nshort\n")
    assert result.exit_code == 1
    assert "at least 12" in result.stderr


def test_the_data_folder_is_the_users_own_without_a_name(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delenv("NORVIK_DATA", raising=False)
    assert Settings.from_environment().data.name == "norvik"


def test_the_secret_key_is_made_once_and_is_private(data: Settings) -> None:
    data.prepare()
    key = data.secret_key()
    assert len(key) == 64
    assert data.secret_key() == key
    assert (data.data / "secret-key").stat().st_mode & 0o077 == 0
