"""Sending a file through the tus protocol as a browser does, and clips without any film."""

from __future__ import annotations

import sqlite3
from base64 import b64encode
from dataclasses import replace
from pathlib import Path
from typing import Any

from flask.testing import FlaskClient
from werkzeug.test import TestResponse

from norvik.core.time.timebase import AS_IT_HAPPENED
from norvik.store import clips, recordings
from norvik.store.clips import Facts
from norvik.store.recordings import NewRecording

TUS = {"Tus-Resumable": "1.0.0", "Accept": "application/json"}


def begin(client: FlaskClient, size: int, name: str = "a.mp4") -> TestResponse:
    metadata = f"filename {b64encode(name.encode()).decode()}"
    headers = {**TUS, "Upload-Length": str(size), "Upload-Metadata": metadata}
    return client.post("/uploads", headers=headers)


def piece(client: FlaskClient, address: str, offset: int, data: bytes) -> TestResponse:
    headers = {**TUS, "Upload-Offset": str(offset),
               "Content-Type": "application/offset+octet-stream"}  # fmt: skip
    return client.patch(address, data=data, headers=headers)


def take(client: FlaskClient, address: str, name: str, **facts: Any) -> TestResponse:
    form = {"upload": address.rsplit("/", 1)[-1], "name": name, **facts}
    return client.post("/clips", data=form, headers={"Accept": "application/json"})


def upload(client: FlaskClient, path: Path, **facts: Any) -> TestResponse:
    """Send a file in one piece and have it made a clip."""
    data = path.read_bytes()
    answer = begin(client, len(data), path.name)
    if answer.status_code != 201:
        return answer
    address = answer.headers["Location"]
    if data:
        assert piece(client, address, 0, data).status_code == 204
    said = {"swimmer_id": 1, "view": "side-under", "role": "before", "filmed_on": "2026-11-20",
            "stretch": 1, **facts}  # fmt: skip
    return take(client, address, str(said.pop("name", path.name)), **said)


def add_recording(connection: sqlite3.Connection, name: str = "a.mp4", size: int = 10) -> int:
    """A recording without a film: for tests of what is stored."""
    return recordings.add(
        connection, NewRecording(name, f"originals/{name}", name, size, AS_IT_HAPPENED)
    )


def add_clip(
    connection: sqlite3.Connection, swimmer_id: int | None, name: str = "a.mp4", **facts: Any
) -> int:
    said = Facts(swimmer_id, filmed_on="2026-11-20")
    return clips.add(connection, add_recording(connection, name), replace(said, **facts))
