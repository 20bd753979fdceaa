"""Pages compiled once for each version, kept beside the data."""

from __future__ import annotations

from contextlib import suppress

from jinja2 import FileSystemBytecodeCache
from jinja2.bccache import Bucket


class CompiledPages(FileSystemBytecodeCache):
    """Where they cannot be kept, as on a full disk, a page is compiled when it is asked for."""

    def dump_bytecode(self, bucket: Bucket) -> None:
        with suppress(OSError):
            super().dump_bytecode(bucket)
