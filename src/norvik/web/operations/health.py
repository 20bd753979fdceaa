"""/healthz: the process answers. /readyz: it can do its work. /metrics: figures."""

from __future__ import annotations

from flask import Blueprint, jsonify
from flask.typing import ResponseReturnValue

from norvik.house.doctor import can_work
from norvik.web.operations.metrics import metrics as figures
from norvik.web.shared.database import settings

blueprint = Blueprint("health", __name__)


@blueprint.get("/healthz")
def alive() -> ResponseReturnValue:
    return jsonify(alive=True)


@blueprint.get("/readyz")
def ready() -> ResponseReturnValue:
    """Says what fails without saying where anything lies: it opens without an account."""
    failing = can_work(settings())
    return jsonify(ready=not failing, failing=failing), 503 if failing else 200


@blueprint.get("/metrics")
def metrics() -> ResponseReturnValue:
    return figures()
