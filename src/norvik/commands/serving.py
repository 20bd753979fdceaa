"""`norvik serve`, `norvik worker` and `norvik demo`."""

from __future__ import annotations

import logging
import os
import signal
import socket
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager

import click
import waitress

from norvik.commands.mail import simulated_mail
from norvik.demo.people import SIGN_IN
from norvik.demo.seed import film_the_rest, make_demo_data
from norvik.jobs.worker import run_worker
from norvik.settings import Settings
from norvik.web import create_app
from norvik.web.shared.memory import calm_garbage_collector, give_back_large_blocks

_THREADS = 8
#: The largest request: a piece of an upload with what belongs to it. Clips come in by the piece.
_MOST_BYTES = 34 << 20
#: Browsers keep several connections open each; an idle one gives its place back soon.
_MOST_CONNECTIONS, _IDLE_S = 2000, 25

_HOST = click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")
_PORT = click.option(
    "--port", default=8765, show_default=True, envvar="PORT", type=click.IntRange(1, 65535)
)


@click.command()
@_HOST
@_PORT
def serve(host: str, port: int) -> None:
    """Serve the web application. `norvik worker` has to run beside it."""
    _serve(Settings.from_environment(), host, port)


@click.command()
@click.option("--with-parent", is_flag=True, hidden=True)
def worker(with_parent: bool) -> None:
    """Do the long work: prepare clips that were brought in."""
    logging.basicConfig(level=logging.WARNING)
    give_back_large_blocks()
    run_worker(Settings.from_environment(), with_parent)


@click.command()
@_PORT
def demo(port: int) -> None:
    """Make the demo data if missing and serve it, web and worker together, on this computer."""
    settings = Settings.from_environment()
    _refuse_taken_port("127.0.0.1", port)
    make_demo_data(settings, lambda doing: click.echo(doing))
    with (
        _beside(settings, "worker", "--with-parent"),
        _beside(settings, "demo-film"),
        simulated_mail(settings) as mail_server,
    ):
        # No mail of the demo leaves this computer, unless somebody names a server.
        os.environ.setdefault("NORVIK_SMTP", mail_server)
        click.echo(f"Sign in as {SIGN_IN[0]} with the password {SIGN_IN[1]}")
        _serve(settings, "127.0.0.1", port, demo=True)


def _serve(settings: Settings, host: str, port: int, demo: bool = False) -> None:
    logging.basicConfig(level=logging.WARNING)
    _refuse_taken_port(host, port)
    app = create_app(settings, demo_sign_in=SIGN_IN if demo else None)
    calm_garbage_collector()
    give_back_large_blocks()
    server = waitress.create_server(
        app,
        host=host,
        port=port,
        threads=_THREADS,
        max_request_body_size=_MOST_BYTES,
        connection_limit=_MOST_CONNECTIONS,
        channel_timeout=_IDLE_S,
        cleanup_interval=5,
        asyncore_use_poll=True,
        ident="norvik",
    )
    click.echo(f"Norvik is ready at http://{host}:{port}/   (Ctrl-C stops it)")
    # A plain kill ends us like Ctrl-C does: the worker beside us has to be stopped, too.
    signal.signal(signal.SIGTERM, signal.default_int_handler)
    try:
        server.run()
    except KeyboardInterrupt:
        pass
    finally:
        server.close()


def _refuse_taken_port(host: str, port: int) -> None:
    with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as error:
            raise click.ClickException(
                f"Port {port} cannot be used ({error.strerror}). "
                f"Stop what uses it, or choose another: make demo PORT={port + 1}"
            ) from error


@click.command("demo-film", hidden=True)
def demo_film() -> None:
    """Film the demo's further clips while the demo is in use, giving way to everything else."""
    os.nice(15)
    film_the_rest(Settings.from_environment())


@contextmanager
def _beside(settings: Settings, *command: str) -> Iterator[None]:
    """A command as a process of its own, so that the web stays quick; it ends with us."""
    environment = {**os.environ, "NORVIK_DATA": str(settings.data)}
    process = subprocess.Popen([sys.executable, "-m", "norvik", *command], env=environment)
    try:
        yield
    finally:
        process.terminate()
        try:
            process.wait(timeout=10)
        except subprocess.TimeoutExpired:
            process.kill()
