"""Connections that requests share one after the other."""

from __future__ import annotations

import sqlite3
import threading

import pytest
from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import club
from norvik.store.connection import connected, transaction
from norvik.web.shared.database import Connections


def test_a_connection_is_used_again_and_never_by_two_at_a_time(settings: Settings) -> None:
    pool = Connections(settings.database)
    first, second = pool.take(), pool.take()
    assert first is not second
    pool.give_back(first)
    assert pool.take() is first
    there: list[sqlite3.Connection] = []
    pool.give_back(second)
    thread = threading.Thread(target=lambda: there.append(pool.take()))
    thread.start()
    thread.join()
    assert there == [second]
    for one in (first, second):
        one.close()


def test_what_a_request_left_undone_is_undone(settings: Settings) -> None:
    pool = Connections(settings.database)
    one = pool.take()
    one.execute("BEGIN IMMEDIATE")
    club.set_reads_films(one, False)
    pool.give_back(one)
    assert pool.take() is one
    with connected(settings.database) as other, transaction(other):
        assert club.reads_films(other)
    one.close()


def test_no_more_are_kept_than_said_and_a_closed_one_is_not(settings: Settings) -> None:
    pool = Connections(settings.database, most=1)
    one, other = pool.take(), pool.take()
    pool.give_back(one)
    pool.give_back(other)
    with pytest.raises(sqlite3.ProgrammingError):
        other.execute("SELECT 1")
    again = pool.take()
    again.close()
    pool.give_back(again)
    fresh = pool.take()
    assert fresh.execute("SELECT 1").fetchone()[0] == 1
    fresh.close()


def test_a_request_that_fails_in_a_transaction_leaves_the_next_one_a_clean_connection(
    client: FlaskClient, settings: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    from norvik.web.squad import today

    def fails(*_: object, **__: object) -> None:
        from norvik.web.shared.database import database

        database().execute("BEGIN IMMEDIATE")
        raise ZeroDivisionError

    client.application.config["PROPAGATE_EXCEPTIONS"] = False
    with monkeypatch.context() as broken:
        broken.setattr(today, "render_template", fails)
        assert client.get("/").status_code == 500
    assert client.get("/").status_code == 200
    with connected(settings.database) as other, transaction(other):
        club.set_reads_films(other, False)
