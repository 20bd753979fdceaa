"""Makes the Flask application."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta
from urllib.parse import urlsplit

from flask import Flask
from flask_wtf.csrf import CSRFProtect

from norvik.jobs.queue import JobQueue
from norvik.jobs.runner import run_job
from norvik.settings import Settings
from norvik.storage import reserve
from norvik.store.connection import migrate
from norvik.store.sessions import LONGEST_STAYS_S
from norvik.web import areas
from norvik.web.account import account_links, auth, second_factor, trail_hook, where
from norvik.web.beside import drawn, keep, model_films, page, strip, tie
from norvik.web.clip import (
    about_numbers,
    again,
    bench,
    change,
    clip_files,
    dial,
    drawings,
    reading,
    stills,
    timebase,
    tracks,
)
from norvik.web.compiled_pages import CompiledPages
from norvik.web.footage import (
    cut,
    intake,
    library,
    media,
    recordings,
    storage,
    trash,
    uploads,
)
from norvik.web.link import page as link_page
from norvik.web.mine import pages as mine_pages
from norvik.web.operations import health, metrics, request_log
from norvik.web.people import keeping, people, squads
from norvik.web.people import trail as trail_page
from norvik.web.reference import drills, strokes
from norvik.web.review import causes, gathered, judge, remarks, review, short, squad_sheet
from norvik.web.send import links as send_links
from norvik.web.send import mail as send_mail
from norvik.web.shared import errors, security, undo
from norvik.web.shared.database import Connections, close_connection, held
from norvik.web.shared.filters import register_filters
from norvik.web.shared.login_attempts import LoginAttempts
from norvik.web.squad import club, today
from norvik.web.swimmer import (
    consent,
    lengths,
    over_time,
    plans,
    pool_tests,
    progress,
    rhythm,
    speed_steps,
    swimmers,
)
from norvik.web.talk import films as talk_films
from norvik.web.talk import mend, path, record

#: Forms are small; clips come in by the piece.
_FORM_BYTES = 2 << 20
_SCREENS = (
    auth, account_links, where, second_factor, people, squads, trail_page, keeping, mine_pages,
    health, club, today, consent,
    cut, intake, library, media, recordings, storage, trash, uploads,
    about_numbers, again, bench, change, clip_files, dial, drawings, reading, stills, timebase,
    tracks,
    drawn, keep, model_films, page, strip, tie,
    mend, path, record, talk_films,
    link_page, send_links, send_mail,
    causes, gathered, judge, remarks, review, short, squad_sheet,
    lengths, over_time, plans, pool_tests, progress, rhythm, speed_steps, swimmers,
    drills, strokes, undo,
)  # fmt: skip


def create_app(
    settings: Settings, immediate_jobs: bool = False, demo_sign_in: tuple[str, ...] | None = None,
    public_url: str = "", hosts: Sequence[str] = (),
) -> Flask:  # fmt: skip
    """The application on a data folder.

    immediate_jobs: do jobs inside the request that asks for them (tests). demo_sign_in: made-up
    e-mail and password to show on the sign-in page, then who else signs in with that password.
    public_url: how it is reached from outside; with https cookies are sent over https alone.
    hosts: names in an address that are answered beside it; all of them where nothing is said.
    """
    outside = urlsplit(public_url)
    secure = outside.scheme == "https"
    settings.prepare()
    migrate(settings.database)
    reserve.keep(settings)
    app = Flask(__name__, static_folder=None)
    app.config.update(
        SECRET_KEY=settings.secret_key(),
        SESSION_COOKIE_NAME="__Host-norvik" if secure else "norvik",
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SAMESITE="Lax",
        SESSION_COOKIE_SECURE=secure,
        TRUSTED_HOSTS=[*hosts, *([outside.hostname] if outside.hostname else [])] or None,
        PERMANENT_SESSION_LIFETIME=timedelta(seconds=LONGEST_STAYS_S),
        MAX_FORM_MEMORY_SIZE=_FORM_BYTES,
        WTF_CSRF_TIME_LIMIT=None,
        NORVIK_SETTINGS=settings,
        NORVIK_DEMO_SIGN_IN=demo_sign_in,
        NORVIK_QUEUE=JobQueue(settings, run_job, immediate=immediate_jobs),
        NORVIK_UPLOADS=uploads.Uploads(settings),
        NORVIK_LOGIN_ATTEMPTS=LoginAttempts(),
        # Held open: with no connection left SQLite removes its log, and on a full disk it could
        # not be made anew.
        NORVIK_HELD=held(settings.database),
        NORVIK_CONNECTIONS=Connections(settings.database),
    )
    if app.jinja_env.bytecode_cache is None:
        # Compiled once for each version: else the first who asks after a start waits for it.
        app.jinja_env.bytecode_cache = CompiledPages(str(settings.compiled_pages))
    app.jinja_env.trim_blocks = True
    app.jinja_env.lstrip_blocks = True
    areas.init_app(app)
    request_log.init_app(app)
    metrics.init_app(app, settings)
    csrf = CSRFProtect(app)
    # The token in the address is the key; there is no account whose session could be abused.
    csrf.exempt(link_page.blueprint)
    app.teardown_appcontext(close_connection)
    auth.init_app(app)
    trail_hook.init_app(app)
    security.init_app(app, https=secure)
    errors.init_app(app)
    register_filters(app)
    for screen in _SCREENS:
        app.register_blueprint(screen.blueprint)
    return app
