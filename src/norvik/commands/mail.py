"""`norvik mail`: a simulated mail server. What it is given it keeps as files and sends nowhere."""

from __future__ import annotations

import re
import secrets
import socket
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import click
from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session

from norvik.settings import Settings


class Keeper:
    """Writes each mail into a folder, named by its time and whom it is for."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder

    async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:
        to = re.sub(r"[^\w.@+-]+", "-", ",".join(envelope.rcpt_tos))[:80]
        name = f"{time.strftime('%Y-%m-%d-%H%M%S')}-{to}-{secrets.token_hex(3)}.eml"
        content = envelope.content
        data = content if isinstance(content, bytes) else (content or "").encode()
        part = self._folder / f"{name}.part"
        part.write_bytes(data)
        part.replace(self._folder / name)
        return "250 Kept"


@contextmanager
def simulated_mail(settings: Settings, port: int = 0) -> Iterator[str]:
    """The address of a mail server that runs until this ends, as NORVIK_SMTP wants it."""
    settings.mails.mkdir(parents=True, exist_ok=True)
    port = port or _free_port()
    controller = Controller(Keeper(settings.mails), hostname="127.0.0.1", port=port)
    controller.start()
    try:
        yield f"smtp://127.0.0.1:{port}"
    finally:
        controller.stop()


def _free_port() -> int:
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        return int(free.getsockname()[1])


@click.command()
@click.option("--port", default=8025, show_default=True, type=click.IntRange(1, 65535))
def mail(port: int) -> None:
    """A simulated mail server on this computer: mails are kept in the data folder, none is sent."""
    settings = Settings.from_environment()
    with simulated_mail(settings, port) as address:
        click.echo(
            f"Mails are kept in {settings.mails}. Set NORVIK_SMTP={address}   (Ctrl-C stops)"
        )
        try:
            while True:
                time.sleep(3600)
        except KeyboardInterrupt:
            pass
