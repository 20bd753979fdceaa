"""Both footage stores keep the same promises: a folder, and a bucket of S3-compatible storage."""

from __future__ import annotations

import os
import secrets
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from norvik.core.errors import DiskFullError, FootageError
from norvik.files import footage as footage_module
from norvik.files import names
from norvik.files.bucket import BucketFootage
from norvik.files.footage import FolderFootage, Footage, scratch
from norvik.files.opened import footage_of
from norvik.settings import Settings
from tests.engines import ACCESS, BUCKET, storage

FILM = "copies/7.mp4"


@pytest.fixture(scope="module")
def endpoint() -> Iterator[str]:
    with storage() as address:
        yield address


@pytest.fixture
def bucket(endpoint: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> BucketFootage:
    for name, value in ACCESS.items():
        monkeypatch.setenv(name, value)
    made = BucketFootage(f"s3://{BUCKET}/{tmp_path.name}", tmp_path / "here", endpoint)
    made.client.create_bucket(Bucket=BUCKET)
    return made


@pytest.fixture(params=["folder", "bucket"])
def footage(request: pytest.FixtureRequest, tmp_path: Path) -> Footage:
    if request.param == "bucket":
        found: Footage = request.getfixturevalue("bucket")
        return found
    return FolderFootage(tmp_path / "here")


def written(folder: Path, data: bytes) -> Path:
    path = folder / f"made-{secrets.token_hex(4)}"
    path.write_bytes(data)
    return path


def test_what_is_put_is_there_and_what_is_removed_is_not(footage: Footage, tmp_path: Path) -> None:
    assert not footage.has(FILM)
    assert not footage.at_hand(FILM).exists()
    source = written(tmp_path, b"first")
    footage.put(source, FILM)
    assert source.read_bytes() == b"first"
    assert footage.has(FILM)
    assert footage.at_hand(FILM).read_bytes() == b"first"
    footage.remove(FILM)
    footage.remove(FILM)
    assert not footage.has(FILM)
    assert not footage.at_hand(FILM).exists()


def test_who_reads_a_film_while_it_is_put_anew_reads_the_old_one(
    footage: Footage, tmp_path: Path
) -> None:
    footage.put(written(tmp_path, b"first"), FILM)
    with footage.at_hand(FILM).open("rb") as reading:
        source = tmp_path / "other"
        source.write_bytes(b"second, longer")
        footage.put(source, FILM)
        assert reading.read() == b"first"
    assert footage.at_hand(FILM).read_bytes() == b"second, longer"


def test_files_are_listed_with_their_sizes_by_how_their_names_begin(
    footage: Footage, tmp_path: Path
) -> None:
    for name in ("copies/7.mp4", "copies/7-240.mp4", "copies/70.mp4", "copies/7.m4a",
                 "pictures/poster-7.jpg", "pictures/strip-70.jpg", "pictures/frame-3-160-7.jpg",
                 "pictures/frame-3-160-70.jpg"):  # fmt: skip
        footage.put(written(tmp_path, name.encode()), name)
    now = time.time()
    listed = list(footage.listed("copies/7"))
    assert {s.name: s.bytes for s in listed} == {
        "copies/7.mp4": 12, "copies/7-240.mp4": 16, "copies/70.mp4": 13, "copies/7.m4a": 12,
    }  # fmt: skip
    assert all(abs(s.modified - now) < 60 for s in listed)
    assert len(list(footage.listed("pictures/"))) == 4
    assert list(footage.listed("originals/")) == []
    assert sorted(names.made_of(footage, 7)) == [
        "copies/7-240.mp4", "copies/7.m4a", "copies/7.mp4", "pictures/frame-3-160-7.jpg",
        "pictures/poster-7.jpg",
    ]  # fmt: skip


@pytest.mark.parametrize(
    "name",
    ["", "7.mp4", "/etc/passwd", "copies/../../norvik.sqlite3", "copies/", "copies/.hidden",
     "other/7.mp4", "copies/a/b.mp4", "../copies/7.mp4"],
)  # fmt: skip
def test_no_name_leads_elsewhere(footage: Footage, tmp_path: Path, name: str) -> None:
    for does in (footage.at_hand, footage.has, footage.remove,
                 lambda n: footage.put(written(tmp_path, b"x"), n)):  # fmt: skip
        with pytest.raises(FootageError, match="no name of a film"):
            does(name)


def test_many_put_the_same_name_at_once_and_one_of_them_is_whole(
    footage: Footage, tmp_path: Path
) -> None:
    def put(n: int) -> None:
        source = tmp_path / f"made-{n}"
        source.write_bytes(bytes([n]) * 200_000)
        footage.put(source, FILM)

    threads = [threading.Thread(target=put, args=(n,)) for n in range(6)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    data = footage.at_hand(FILM).read_bytes()
    assert len(data) == 200_000
    assert len(set(data)) == 1
    assert [s.name for s in footage.listed("copies/")] == [FILM]
    assert not list((tmp_path / "here").rglob("*.part"))


def test_a_full_disk_is_said_and_leaves_nothing(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    footage = FolderFootage(tmp_path / "here")
    footage.put(written(tmp_path, b"before"), FILM)
    source = tmp_path / "other"
    source.write_bytes(b"new")
    monkeypatch.setattr(footage_module.os, "link", full)
    monkeypatch.setattr(footage_module.shutil, "copyfile", full)
    with pytest.raises(DiskFullError, match="disk is full"):
        footage.put(source, FILM)
    assert footage.at_hand(FILM).read_bytes() == b"before"
    assert len(list((tmp_path / "here" / "copies").iterdir())) == 1


def test_a_disk_without_hard_links_gets_a_copy(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def refused(*_: object) -> None:
        raise OSError(95, "Operation not supported")

    monkeypatch.setattr(footage_module.os, "link", refused)
    footage = FolderFootage(tmp_path / "here")
    footage.put(written(tmp_path, b"film"), FILM)
    assert footage.at_hand(FILM).read_bytes() == b"film"


def test_a_folder_for_work_goes_and_what_a_killed_try_left_goes_first(tmp_path: Path) -> None:
    left = tmp_path / "recording-7-old"
    left.mkdir()
    (left / "half.mp4").write_bytes(b"half")
    with scratch(tmp_path, "recording-7") as own:
        assert not left.exists()
        with scratch(tmp_path, "recording-70") as other:
            assert own.is_dir()
            assert other.is_dir()
    assert list(tmp_path.iterdir()) == []


def test_a_bucket_brings_films_to_this_machine_once(bucket: BucketFootage, tmp_path: Path) -> None:
    bucket.put(written(tmp_path, b"film"), FILM)
    bucket.forget(FILM)
    assert bucket.has(FILM)
    path = bucket.at_hand(FILM)
    assert path.read_bytes() == b"film"
    # At hand: not even asked for again.
    bucket.client.delete_object(Bucket=BUCKET, Key=f"{tmp_path.name}/{FILM}")
    assert bucket.at_hand(FILM).read_bytes() == b"film"
    bucket.forget(FILM)
    assert not bucket.at_hand(FILM).exists()


def test_what_is_made_again_on_each_machine_never_goes_to_the_bucket(
    bucket: BucketFootage, tmp_path: Path
) -> None:
    frame = names.frame(7, 3, 160)
    bucket.put(written(tmp_path, b"picture"), frame)
    bucket.forget(frame)
    assert bucket.has(frame)
    assert bucket.client.list_objects_v2(Bucket=BUCKET, Prefix=tmp_path.name)["KeyCount"] == 0
    assert [s.name for s in bucket.listed("pictures/")] == [frame]


def test_what_was_not_read_for_longest_makes_room_and_comes_back(
    endpoint: str, bucket: BucketFootage, tmp_path: Path
) -> None:
    small = BucketFootage(f"s3://{BUCKET}/{tmp_path.name}", tmp_path / "here", endpoint, 2500)
    for n in range(4):
        small.put(written(tmp_path, bytes([n]) * 1000), f"copies/{n}.mp4")
        read_at = time.time() - 7200 - n  # the last one was not read for longest
        os.utime(tmp_path / "here" / "copies" / f"{n}.mp4", (read_at, read_at))
    assert small.trim() == 2
    assert sorted(p.name for p in (tmp_path / "here" / "copies").iterdir()) == ["0.mp4", "1.mp4"]
    assert small.at_hand("copies/3.mp4").read_bytes() == bytes([3]) * 1000
    # What was read just now is in use.
    assert small.trim() == 1
    assert (tmp_path / "here" / "copies" / "3.mp4").is_file()


def test_a_bucket_that_does_not_answer_or_refuses_says_so(
    bucket: BucketFootage, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    away = BucketFootage("s3://nowhere", tmp_path / "there", "http://127.0.0.1:9")
    for does in (away.has, away.at_hand, away.remove, lambda n: list(away.listed("copies/"))):
        with pytest.raises(FootageError, match="does not answer"):
            does(FILM)
    with pytest.raises(FootageError, match="does not answer"):
        away.put(written(tmp_path, b"x"), FILM)
    missing = BucketFootage("s3://of-nobody", tmp_path / "other", bucket._endpoint)
    with pytest.raises(FootageError, match=r"refused|does not answer"):
        missing.put(written(tmp_path, b"x"), FILM)
    with pytest.raises(FootageError, match="is no bucket"):
        BucketFootage("s3:/footage", tmp_path)


def test_settings_name_the_store(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    plain = Settings(tmp_path / "data")
    assert footage_of(plain).root == plain.data
    shared = Settings(tmp_path / "data", str(tmp_path / "shared"))
    assert footage_of(shared).root == tmp_path / "shared"
    assert shared.originals == tmp_path / "shared" / "originals"
    assert shared.database == tmp_path / "data" / "norvik.sqlite3"
    monkeypatch.setenv("NORVIK_S3", "http://127.0.0.1:9")
    held = footage_of(Settings(tmp_path / "data", "s3://club/films"))
    assert isinstance(held, BucketFootage)
    assert held.root == tmp_path / "data"
