"""Figures in the Prometheus text format, by its client library."""

from __future__ import annotations

import hmac
import os
import time
from collections.abc import Iterator
from shutil import disk_usage

from flask import Flask, Response, current_app, g, request
from prometheus_client import CONTENT_TYPE_LATEST, CollectorRegistry, Counter, Histogram
from prometheus_client.core import GaugeMetricFamily
from prometheus_client.exposition import generate_latest
from prometheus_client.registry import Collector

from norvik.core.errors import ForbiddenError
from norvik.settings import Settings
from norvik.store import backups, counts
from norvik.store.connection import connected

#: Seconds; finest where pages and marks lie.
_BUCKETS = (0.005, 0.01, 0.02, 0.05, 0.1, 0.15, 0.2, 0.5, 1.0, 2.0, 5.0, 15.0)


class _State(Collector):
    """What lies in the data folder, counted when it is asked for."""

    def __init__(self, settings: Settings) -> None:
        self._settings = settings

    def collect(self) -> Iterator[GaugeMetricFamily]:
        if not self._settings.database.exists():
            return
        with connected(self._settings.database) as connection:
            jobs = GaugeMetricFamily("norvik_jobs", "Jobs by their state", labels=["state"])
            for state, n in counts.jobs(connection).items():
                jobs.add_metric([state], n)
            yield jobs
            for name, words, n in (
                ("norvik_clips", "Clips that are not in the trash", counts.clips(connection)),
                ("norvik_swimmers", "Swimmers", counts.swimmers(connection)),
                ("norvik_sessions", "Browsers that are signed in", counts.sessions(connection)),
            ):
                yield GaugeMetricFamily(name, words, value=n)
            newest = backups.newest_good(connection)
            if newest is not None:
                yield GaugeMetricFamily(
                    "norvik_backup_age_seconds", "Age of the last good backup",
                    value=time.time() - newest.made_at,
                )  # fmt: skip
        yield GaugeMetricFamily(
            "norvik_disk_free_bytes", "Room where the data lies",
            value=disk_usage(self._settings.data).free,
        )  # fmt: skip


def init_app(app: Flask, settings: Settings) -> None:
    registry = CollectorRegistry()
    requests = Counter(
        "norvik_requests", "Requests by route and answer", ["method", "route", "code"],
        registry=registry,
    )  # fmt: skip
    seconds = Histogram(
        "norvik_request_seconds", "How long requests take", ["route"], buckets=_BUCKETS,
        registry=registry,
    )  # fmt: skip
    registry.register(_State(settings))
    app.config["NORVIK_METRICS"] = registry

    @app.after_request
    def count(response: Response) -> Response:
        route = request.endpoint or "nowhere"
        requests.labels(request.method, route, str(response.status_code)).inc()
        if "began" in g:
            seconds.labels(route).observe(time.perf_counter() - g.began)
        return response


def metrics() -> Response:
    """For whoever has the key of NORVIK_METRICS_KEY; without one for nobody."""
    key = os.environ.get("NORVIK_METRICS_KEY", "")
    given = request.headers.get("Authorization", "").removeprefix("Bearer ")
    if not key or not hmac.compare_digest(given.encode(), key.encode()):
        raise ForbiddenError("These figures are for the administrator.")
    text = generate_latest(current_app.config["NORVIK_METRICS"])
    return Response(text, content_type=CONTENT_TYPE_LATEST)
