"""A part of a file as a file of its own, and as it is sent."""

from __future__ import annotations

import io
from pathlib import Path

import pytest
from flask.testing import FlaskClient
from hypothesis import given
from hypothesis import strategies as some

from norvik.settings import Settings
from norvik.store.swimmers import Swimmer
from norvik.web.shared.kept_file import FilePart
from tests.conftest import BroughtIn

WEB = Path(__file__).parents[2] / "src" / "norvik" / "web"
BYTES = bytes(range(200))
_STEPS = some.lists(
    some.one_of(
        some.tuples(some.just("read"), some.integers(-1, 250)),
        some.tuples(some.sampled_from(["set", "end"]), some.integers(0, 200)),
    ),
    max_size=12,
)


@given(start=some.integers(0, 200), length=some.integers(0, 200), steps=_STEPS)
def test_it_is_what_python_s_own_file_of_these_bytes_would_be(
    tmp_path_factory: pytest.TempPathFactory, start: int, length: int,
    steps: list[tuple[str, int]],
) -> None:  # fmt: skip
    path = tmp_path_factory.getbasetemp() / "whole"
    path.write_bytes(BYTES)
    stop = min(200, start + length)
    expected = io.BytesIO(BYTES[start:stop])
    with io.BufferedReader(FilePart(path, start, stop), 16) as part:
        for deed, number in steps:
            if deed == "read":
                assert part.read(number) == expected.read(number)
            elif deed == "set":
                assert part.seek(number) == expected.seek(number)
            else:
                back = -min(number, stop - start)
                assert part.seek(back, io.SEEK_END) == expected.seek(back, io.SEEK_END)
            assert part.tell() == expected.tell()


@pytest.fixture
def film(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn, small_clip: Path
) -> tuple[str, bytes]:
    brought_in(settings, [Swimmer("Tilde Vassholm")], (small_clip, {}))
    return "/recordings/1/film-90.mp4", (settings.data / "copies/1.mp4").read_bytes()


@pytest.mark.parametrize("asked", ["0-", "0-0", "1000-1999", "5000-", "-700", "3-99999999"])
def test_the_part_that_is_asked_for_comes(
    client: FlaskClient, film: tuple[str, bytes], asked: str
) -> None:
    """Byte ranges as RFC 9110, section 14.1.2, has them: both ends count; -700 are the last 700."""
    address, whole = film
    first, last = asked.split("-")
    start = int(first) if first else len(whole) - int(last)
    stop = min(len(whole), int(last) + 1) if first and last else len(whole)
    answer = client.get(address, headers={"Range": f"bytes={asked}"})
    assert answer.status_code == 206
    assert answer.data == whole[start:stop]
    assert answer.headers["Content-Range"] == f"bytes {start}-{stop - 1}/{len(whole)}"
    assert answer.content_length == stop - start


def test_without_a_part_all_of_it_comes_and_beyond_its_end_nothing(
    client: FlaskClient, film: tuple[str, bytes]
) -> None:
    address, whole = film
    with client.get(address) as answer:
        assert (answer.status_code, answer.data) == (200, whole)
    head = client.head(address, headers={"Range": "bytes=10-19"})
    assert (head.status_code, head.data, head.headers["Content-Range"]) == (
        206, b"", f"bytes 10-19/{len(whole)}",
    )  # fmt: skip
    beyond = client.get(address, headers={"Range": f"bytes={len(whole)}-"})
    assert beyond.status_code == 416


def test_every_file_of_the_house_goes_this_way() -> None:
    """One that did not would keep a thread as long as its reader takes."""
    own = {"kept_file.py": "parts", "downloads.py": "tables in memory", "swimmers.py": "one ZIP"}
    found = {p.name for p in WEB.rglob("*.py") if "send_file(" in p.read_text("utf-8")}
    assert found == set(own)
