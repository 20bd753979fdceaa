"""`norvik serve`, `norvik worker` and `norvik demo`."""

from __future__ import annotations

import os
import resource
import signal
import socket
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager

import click
import waitress
from redis.exceptions import RedisError

from norvik.away.house import serve_away
from norvik.away.worker import run_away_worker
from norvik.commands.mail import simulated_mail
from norvik.core.errors import NorvikError
from norvik.demo.club import PEOPLE
from norvik.demo.people import SIGN_IN
from norvik.demo.seed import film_the_rest, make_demo_data
from norvik.jobs.worker import run_worker
from norvik.logs import set_up_logging
from norvik.settings import Settings
from norvik.web import create_app
from norvik.web.shared.memory import calm_garbage_collector, give_back_large_blocks

_THREADS = 8
#: How far workers step back behind the web (own choice; 19 is the most).
_NICE = 10
#: The largest request: a piece of an upload with what belongs to it. Clips come in by the piece.
_MOST_BYTES = 34 << 20
#: Read at once from a browser, and kept in memory of one request: with waitress's own 8 kB and half
#: a megabyte, clips that come in held up those who mark.
_READ_BYTES, _IN_MEMORY_BYTES = 256 << 10, 12 << 20
#: Browsers keep several connections open each; an idle one gives its place back soon.
_MOST_CONNECTIONS, _IDLE_S = 2000, 25
#: A connection is an open file, the film that it plays another one; the rest is ours.
_OPEN_FILES = 2 * _MOST_CONNECTIONS + 500
#: What a proxy says of the request as it came to it.
_PROXY = {
    "trusted_proxy_count": 1,
    "trusted_proxy_headers": {"x-forwarded-for", "x-forwarded-proto", "x-forwarded-host"},
}

_HOST = click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")
_PORT = click.option(
    "--port", default=8765, show_default=True, envvar="PORT", type=click.IntRange(1, 65535)
)


@click.command()
@_HOST
@_PORT
@click.option("--public-url", envvar="NORVIK_ADDRESS", default="", metavar="URL",
              help="How it is reached from outside, as https://reviews.club.example. Other names "
              "are refused; with https cookies go over https alone.")  # fmt: skip
@click.option("--behind-proxy", envvar="NORVIK_PROXY", default="", metavar="ADDRESS",
              help="Address of a reverse proxy. From it alone X-Forwarded-For, -Proto and -Host "
              "are believed.")  # fmt: skip
def serve(host: str, port: int, public_url: str, behind_proxy: str) -> None:
    """Serve the web application. `norvik worker` has to run beside it."""
    if public_url and not public_url.startswith(("https://", "http://")):
        raise click.UsageError("--public-url begins with https:// or http://.")
    if public_url:
        # Links in mails and on paper lead there.
        os.environ["NORVIK_ADDRESS"] = public_url
    _serve(Settings.from_environment(), host, port, public_url, behind_proxy)


@click.command()
@click.option("--away", is_flag=True, help="On another machine than the database: jobs come from "
              "NORVIK_QUEUE (redis://...), films from NORVIK_FOOTAGE.")  # fmt: skip
@click.option("--no-films", is_flag=True, help="Beside the database: leave films to workers away, "
              "answer them and look after the house.")  # fmt: skip
@click.option("--with-parent", is_flag=True, hidden=True)
def worker(away: bool, no_films: bool, with_parent: bool) -> None:
    """Do the long work: prepare clips that were brought in."""
    settings = Settings.from_environment()
    if (away or no_films) and not settings.queue_at:
        raise click.UsageError("Name the queue that both machines use: NORVIK_QUEUE=redis://...")
    if away and not settings.footage:
        raise click.UsageError(
            "Name where the films lie: NORVIK_FOOTAGE=/shared/folder or s3://bucket."
        )
    set_up_logging()
    give_back_large_blocks()
    # Whoever marks on this machine goes before films.
    os.nice(_NICE)
    try:
        if away:
            run_away_worker(settings, with_parent)
        else:
            run_worker(
                settings,
                with_parent,
                films=not no_films,
                serve_away=serve_away if settings.queue_at else None,
            )
    except (NorvikError, RedisError) as error:
        sentence = error.sentence if isinstance(error, NorvikError) else str(error)
        raise click.ClickException(sentence) from error


@click.command()
@_PORT
def demo(port: int) -> None:
    """Make the demo data if missing and serve it, web and worker together, on this computer."""
    settings = Settings.from_environment()
    if settings.footage or settings.queue_at:
        raise click.UsageError(
            "The demo works on one data folder: unset NORVIK_FOOTAGE and NORVIK_QUEUE."
        )
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


def _serve(
    settings: Settings, host: str, port: int, public_url: str = "", behind_proxy: str = "",
    demo: bool = False,
) -> None:  # fmt: skip
    set_up_logging()
    _refuse_taken_port(host, port)
    app = create_app(
        settings, demo_sign_in=(*SIGN_IN, *(f"{e} ({r})" for e, _, r in PEOPLE)) if demo else None,
        public_url=public_url, hosts=_own_names(host),
    )  # fmt: skip
    calm_garbage_collector()
    give_back_large_blocks()
    _allow_open_files()
    server = waitress.create_server(
        app,
        host=host,
        port=port,
        threads=_THREADS,
        max_request_body_size=_MOST_BYTES,
        recv_bytes=_READ_BYTES,
        inbuf_overflow=_IN_MEMORY_BYTES,
        connection_limit=_MOST_CONNECTIONS,
        channel_timeout=_IDLE_S,
        cleanup_interval=5,
        asyncore_use_poll=True,
        ident="norvik",
        clear_untrusted_proxy_headers=True,
        **(_PROXY | {"trusted_proxy": behind_proxy} if behind_proxy else {}),
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


def _allow_open_files() -> None:
    """Most systems give a process 1,024 at first: with as many idle connections a newcomer waited
    for the first of them to end.
    """
    now, most = resource.getrlimit(resource.RLIMIT_NOFILE)
    wanted = _OPEN_FILES if most == resource.RLIM_INFINITY else min(_OPEN_FILES, most)
    if now != resource.RLIM_INFINITY and now < wanted:
        resource.setrlimit(resource.RLIMIT_NOFILE, (wanted, most))


def _own_names(host: str) -> list[str]:
    """What this computer may be called in an address, beside the public one."""
    names = {"localhost", "127.0.0.1", "[::1]", host, socket.gethostname()}
    if host in ("0.0.0.0", "::"):
        found = socket.getaddrinfo(socket.gethostname(), None)
        names |= {str(entry[4][0]) for entry in found} | _addresses()
    return sorted(names - {"0.0.0.0", "::"})


def _addresses() -> set[str]:
    """The address by which others on the network reach this computer, if there is a network."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            # Nothing is sent: the system only says from where it would be.
            probe.connect(("192.0.2.1", 9))
        except OSError:
            return set()
        return {probe.getsockname()[0]}


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
