"""Footage in a bucket of S3-compatible storage; what was read lately is at hand on this machine."""

from __future__ import annotations

import os
import secrets
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from norvik.core.errors import FootageError
from norvik.files.footage import MADE_AGAIN, FolderFootage, Stored, checked, made_again

#: Bytes of films that stay at hand without NORVIK_AT_HAND_GB (own choice).
AT_HAND_GB = 50.0
#: Files that were read so lately are never taken away.
_IN_USE_S = 3600.0


class BucketFootage:
    """at: s3://bucket/prefix. root: folder for what is at hand. Keys are read from the environment
    as all tools for such storage do: AWS_ACCESS_KEY_ID and AWS_SECRET_ACCESS_KEY.

    endpoint: where the storage answers, for any but the first of its kind. What is put or read lies
    under root as well, until it was not read for longest and there is more than most_bytes of it.
    """

    def __init__(
        self, at: str, root: Path, endpoint: str = "", most_bytes: float = AT_HAND_GB * 1e9
    ) -> None:
        parts = urlsplit(at)
        if parts.scheme != "s3" or not parts.netloc:
            raise FootageError(f"{at} is no bucket. Write s3://bucket or s3://bucket/folder.")
        self.root = root
        self._bucket, self._prefix = parts.netloc, parts.path.strip("/")
        self._prefix += "/" if self._prefix else ""
        self._endpoint, self._most_bytes = endpoint, most_bytes
        self._here = FolderFootage(root)
        self._lock = threading.Lock()
        self._client: Any = None

    @property
    def client(self) -> Any:
        """Made when first needed: a machine without a bucket never loads the package."""
        with self._lock:
            if self._client is None:
                import boto3
                from botocore.config import Config

                self._client = boto3.client(
                    "s3",
                    endpoint_url=self._endpoint or None,
                    config=Config(
                        connect_timeout=5, read_timeout=60, max_pool_connections=16,
                        retries={"max_attempts": 4, "mode": "standard"},
                        # Storage of other makers does not know the newer checksums.
                        request_checksum_calculation="when_required",
                        response_checksum_validation="when_required",
                    ),
                )  # fmt: skip
            return self._client

    def at_hand(self, name: str) -> Path:
        path = self._here.at_hand(name)
        if made_again(name):
            return path
        if path.is_file():
            with suppress(FileNotFoundError):
                # The time of the last reading, by which older ones go first.
                os.utime(path, (_now(), path.stat().st_mtime))
            return path
        path.parent.mkdir(parents=True, exist_ok=True)
        part = path.with_name(f"{path.name}.{secrets.token_hex(4)}.part")
        try:
            with self._answers() as known:
                there = self.client.head_object(Bucket=self._bucket, Key=self._key(name))
                self.client.download_file(self._bucket, self._key(name), str(part))
                modified = there["LastModified"].timestamp()
                os.utime(part, (_now(), modified))
                part.replace(path)
            if known.missing:
                return path
        finally:
            part.unlink(missing_ok=True)
        return path

    def has(self, name: str) -> bool:
        if made_again(name):
            return self._here.has(name)
        with self._answers() as known:
            self.client.head_object(Bucket=self._bucket, Key=self._key(name))
        return not known.missing

    def put(self, path: Path, name: str) -> None:
        if made_again(name):
            self._here.put(path, name)
            return
        with self._answers():
            self.client.upload_file(str(path), self._bucket, self._key(name))
        if self._here.at_hand(name) != path:
            # At hand it must not be an older one of the same name.
            self._here.remove(name)
            self._here.put(path, name)

    def remove(self, name: str) -> None:
        self._here.remove(name)
        if not made_again(name):
            with self._answers():
                self.client.delete_object(Bucket=self._bucket, Key=self._key(name))

    def listed(self, prefix: str) -> Iterator[Stored]:
        if made_again(prefix):
            yield from self._here.listed(prefix)
            return
        for kind in MADE_AGAIN:
            if kind.startswith(prefix):
                yield from self._here.listed(kind)
        with self._answers():
            pages = self.client.get_paginator("list_objects_v2").paginate(
                Bucket=self._bucket, Prefix=self._prefix + prefix
            )
            for page in pages:
                for one in page.get("Contents", ()):
                    name = one["Key"][len(self._prefix) :]
                    yield Stored(name, one["Size"], one["LastModified"].timestamp())

    def forget(self, name: str) -> None:
        """Take a file from this machine that another one has put anew; it stays in the bucket."""
        if not made_again(name):
            self._here.remove(name)

    def trim(self) -> int:
        """Take away what was not read for longest, beyond what may be at hand. How many files."""
        found = []
        for path in self.root.glob("*/*"):
            with suppress(FileNotFoundError):
                name = path.relative_to(self.root).as_posix()
                if path.is_file() and path.suffix != ".part" and not made_again(name):
                    state = path.stat()
                    found.append((state.st_atime, state.st_size, path))
        over = sum(size for _, size, _ in found) - self._most_bytes
        gone = 0
        for read_at, size, path in sorted(found):
            if over <= 0 or _now() - read_at < _IN_USE_S:
                break
            path.unlink(missing_ok=True)
            over -= size
            gone += 1
        return gone

    def _key(self, name: str) -> str:
        return self._prefix + checked(name)

    @contextmanager
    def _answers(self) -> Iterator[_Known]:
        """Missing files are said; all else that the storage refuses is a FootageError."""
        from boto3.exceptions import Boto3Error
        from botocore.exceptions import BotoCoreError, ClientError

        known = _Known()
        try:
            yield known
        except ClientError as error:
            if error.response.get("Error", {}).get("Code") in ("404", "NoSuchKey", "NotFound"):
                known.missing = True
                return
            raise FootageError(
                "The footage store refused "
                f"({error.response.get('Error', {}).get('Code', 'no reason')}). "
                "Ask whoever runs Norvik to look at norvik doctor."
            ) from error
        except (BotoCoreError, Boto3Error) as error:
            raise FootageError(
                "The footage store does not answer. Try again in a minute; nothing was lost."
            ) from error


class _Known:
    missing = False


def _now() -> float:
    return time.time()
