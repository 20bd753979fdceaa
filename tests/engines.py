"""Real engines for tests and measurements: Debian's Redis, and S3-compatible storage from PyPI."""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from multiprocessing.process import BaseProcess
from pathlib import Path

import pytest
import redis

from tests.browser.serving import STARTER

ACCESS = {"AWS_ACCESS_KEY_ID": "norvik", "AWS_SECRET_ACCESS_KEY": "of-the-demo",
          "AWS_DEFAULT_REGION": "us-east-1"}  # fmt: skip
BUCKET = "footage"


def free_port() -> int:
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        return int(free.getsockname()[1])


class RedisServer:
    """Debian's redis-server on a port of its own, as docs/operations.md wants it.

    Nothing is on its disk: killing it loses all that it was told.
    """

    def __init__(self, folder: Path) -> None:
        self._folder, self._port = folder, free_port()
        self.at = f"redis://:early-morning@127.0.0.1:{self._port}/0"
        self.start()

    def start(self) -> None:
        program = shutil.which("redis-server")
        assert program, "sh scripts/need-redis.sh installs it"
        self._process = subprocess.Popen(
            [program, "--port", str(self._port), "--bind", "127.0.0.1", "--dir", str(self._folder),
             "--requirepass", "early-morning", "--appendonly", "no", "--save", ""],
            stdout=subprocess.DEVNULL,
        )  # fmt: skip
        self.wait()

    def wait(self) -> None:
        deadline = time.monotonic() + 20
        with redis.Redis.from_url(self.at) as client:
            while True:
                try:
                    client.ping()
                    return
                except redis.RedisError:
                    assert time.monotonic() < deadline, "Redis does not answer"
                    time.sleep(0.02)

    def empty(self) -> None:
        with redis.Redis.from_url(self.at) as client:
            client.flushall()

    def kill(self) -> None:
        self._process.kill()
        self._process.wait()


@contextmanager
def storage() -> Iterator[str]:
    """An S3-compatible server with an empty bucket; gives where it answers."""
    from moto.server import ThreadedMotoServer

    server = ThreadedMotoServer(ip_address="127.0.0.1", port=0, verbose=False)
    server.start()
    try:
        host, port = server.get_host_and_port()
        yield f"http://{host}:{port}"
    finally:
        server.stop()


def worker(environment: dict[str, str], *options: str, log: Path | None = None) -> BaseProcess:
    """`norvik worker` as a process of its own, which knows nothing but its environment."""
    process = STARTER.Process(target=_worker, args=(environment, options, str(log or os.devnull)))
    process.start()
    return process


def _worker(environment: dict[str, str], options: Sequence[str], log: str) -> None:
    from norvik.cli import main

    for name in [n for n in os.environ if n.startswith("NORVIK_")]:
        del os.environ[name]
    os.environ.update({**ACCESS, **environment})
    out = os.open(log, os.O_WRONLY | os.O_CREAT | os.O_APPEND)
    for said in (1, 2):
        os.dup2(out, said)
    main(["worker", *options])


@pytest.fixture(scope="session")
def redis_server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[RedisServer]:
    server = RedisServer(tmp_path_factory.mktemp("redis"))
    yield server
    server.kill()


@pytest.fixture
def queue_at(redis_server: RedisServer) -> str:
    redis_server.empty()
    return redis_server.at
