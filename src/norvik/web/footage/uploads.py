"""Resumable uploads by the tus protocol (version 1.0.0), and what happens when one is whole.

The protocol is the package's; ours is the running checksum, so that a file of many gigabytes
needs no second reading after its last byte.
"""

from __future__ import annotations

import hashlib
import shutil
import sqlite3
import threading
from contextlib import closing
from pathlib import Path
from typing import Any, cast

from flask import Blueprint, Response, current_app, jsonify, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user
from resumable_upload import TusServer
from resumable_upload.storage import SQLiteStorage
from werkzeug.exceptions import ClientDisconnected

from norvik.core.errors import DiskFullError, FootageError, NotFoundError
from norvik.intake.guess import guess
from norvik.intake.receive import AlreadyThere, check_room, take_in
from norvik.settings import Settings
from norvik.store import swimmers, taken_uploads, upload_owners
from norvik.web.shared import asked
from norvik.web.shared.database import database, queue, settings
from norvik.web.shared.facts import facts_from, stretch_from

blueprint = Blueprint("uploads", __name__)

BASE = "/uploads"
#: The browser sends pieces of this size; a broken connection costs at most one of them.
CHUNK_BYTES = 8 << 20
#: Uploads that nobody goes on with are given up after a week.
_EXPIRY_S = 7 * 24 * 3600
_HASH_READ = 4 << 20


class Uploads:
    """The tus server on the folder of incoming files, with a running checksum for each file."""

    def __init__(self, where: Settings) -> None:
        self._database = where.data / "uploads.sqlite3"
        storage = SQLiteStorage(str(self._database), str(where.incoming))
        self.tus = TusServer(
            storage=storage,
            base_path=BASE,
            max_chunk_size=4 * CHUNK_BYTES,
            upload_expiry=_EXPIRY_S,
            disable_concatenation=True,
        )
        self._digests: dict[str, tuple[int, Any]] = {}
        self._lock = threading.Lock()
        for path in where.incoming.iterdir():
            if path.suffix != ".part":
                if path.is_dir():
                    # A folder for films of the demo, left behind when it was killed.
                    shutil.rmtree(path, ignore_errors=True)
                else:
                    self.drop_orphan(path.name)

    def path(self, upload_id: str) -> Path:
        return Path(self.tus.storage.get_file_path(upload_id))

    def add_to_digest(self, upload_id: str, offset: int, data: bytes) -> None:
        """Go on with the checksum of an upload; after a restart from what lies on the disk."""
        with self._lock:
            done, digest = self._digests.pop(upload_id, (0, hashlib.sha256()))
        if done != offset:
            digest = _digest_of(self.path(upload_id), offset)
        digest.update(data)
        with self._lock:
            self._digests[upload_id] = (offset + len(data), digest)

    def sha256(self, upload_id: str) -> str:
        path = self.path(upload_id)
        with self._lock:
            done, digest = self._digests.pop(upload_id, (0, hashlib.sha256()))
        size = path.stat().st_size
        if done != size:
            digest = _digest_of(path, size)
        return str(digest.hexdigest())

    def whole(self, upload_id: str) -> dict[str, Any] | None:
        """The row of an upload whose every byte has come; None when there is no such one."""
        row = self.tus.storage.get_upload(upload_id)
        if row is None or row["offset"] != row["upload_length"]:
            return None
        return cast(dict[str, Any], row)

    def still_to_come(self) -> int:
        """Bytes that unfinished uploads have announced and not sent yet."""
        with closing(sqlite3.connect(self._database)) as connection:
            row = connection.execute(
                "SELECT coalesce(sum(upload_length - offset), 0) FROM uploads WHERE completed = 0"
            ).fetchone()
        return int(row[0])

    def drop_orphan(self, upload_id: str) -> None:
        """Remove the file of an upload that is known no more.

        A piece that was on its way while its upload was cancelled makes the file anew.
        """
        if self.tus.storage.get_upload(upload_id) is None:
            self.path(upload_id).unlink(missing_ok=True)

    def forget(self, upload_id: str) -> None:
        with self._lock:
            self._digests.pop(upload_id, None)
        self.tus.terminate_upload(upload_id)


def _digest_of(path: Path, size: int) -> Any:
    digest = hashlib.sha256()
    with path.open("rb") as file:
        while size > 0 and (data := file.read(min(size, _HASH_READ))):
            digest.update(data)
            size -= len(data)
    return digest


def uploads() -> Uploads:
    return cast(Uploads, current_app.config["NORVIK_UPLOADS"])


@blueprint.route(BASE, methods=["POST", "OPTIONS"])
@blueprint.route(f"{BASE}/<upload_id>", methods=["HEAD", "PATCH", "DELETE"])
def tus(upload_id: str = "") -> ResponseReturnValue:
    """The protocol itself."""
    if upload_id:
        _refuse_of_others(upload_id)
    if request.method == "POST":
        if "Upload-Length" not in request.headers:
            raise FootageError("The upload did not give its size. Reload the page.")
        coming = max(0, request.headers.get("Upload-Length", 0, type=int))
        check_room(settings().data, coming, uploads().still_to_come())
    elif request.method == "PATCH":
        # Others may have filled the disk meanwhile: what is on the way must still fit.
        check_room(settings().data, 0, min(request.content_length or 0, 4 * CHUNK_BYTES))
    try:
        data = request.get_data(cache=False)
    except ClientDisconnected:
        # The piece is lost with the connection; the client asks where to go on from.
        return "", 400
    try:
        status, headers, body = uploads().tus.handle_request(
            request.method, request.path, dict(request.headers), data
        )
    except OSError as error:
        if error.errno == 28:
            raise DiskFullError(
                "The disk filled up during the upload. Make room, then resume it."
            ) from error
        raise
    if request.method == "POST" and status == 201:
        begun = headers["Location"].rstrip("/").rpartition("/")[2]
        upload_owners.put(database(), begun, current_user.id)
    if request.method == "PATCH" and status == 204:
        offset = int(request.headers["Upload-Offset"])
        uploads().add_to_digest(upload_id, offset, data)
    elif request.method == "PATCH" and upload_id.replace("-", "").isalnum():
        uploads().drop_orphan(upload_id)
    return Response(body, status, headers)


def _refuse_of_others(upload_id: str) -> None:
    """Nobody goes on with, looks into or takes what somebody else is sending."""
    owner = upload_owners.owner(database(), upload_id)
    if owner is not None and owner != current_user.id:
        raise NotFoundError("This upload is not known. Send the clip again.")


@blueprint.post("/clips")
def take() -> ResponseReturnValue:
    """Make a clip of a whole upload. Fields: upload, name, and what the clip is."""
    upload_id, name = request.form.get("upload", ""), request.form.get("name", "clip")
    _refuse_of_others(upload_id)
    known = taken_uploads.find(database(), upload_id)
    if known is not None:
        # Asked again after a lost answer: the same one.
        uploads().forget(upload_id)
        return _taken(*known)
    whole = uploads().whole(upload_id) if upload_id.replace("-", "").isalnum() else None
    if whole is None:
        return jsonify(sentence="This upload is not complete or was cancelled. Send it again."), 409
    try:
        # A name in the file's name is taken for a swimmer only where films of them are allowed.
        known_names = [
            s for s in swimmers.all_by_name(database(), asked.within()) if s.allows("filming")
        ]
        facts = guess(name, facts_from(request.form), known_names)
        clip_id, job_id = take_in(
            settings(),
            database(),
            uploads().path(upload_id),
            name,
            facts,
            uploads().sha256(upload_id),
            stretch=stretch_from(request.form),
            created_by=current_user.id,
            upload_id=upload_id,
        )
    except AlreadyThere as error:
        uploads().forget(upload_id)
        there = url_for("bench.show", clip_id=error.clip.id)
        return jsonify(sentence=error.sentence, there=there), 409
    except FootageError as error:
        uploads().forget(upload_id)
        return jsonify(sentence=error.sentence), 422
    uploads().forget(upload_id)
    return _taken(clip_id, job_id)


def _taken(clip_id: int, job_id: int) -> ResponseReturnValue:
    queue().put(job_id)
    return jsonify(clip=clip_id, page=url_for("bench.show", clip_id=clip_id)), 201
