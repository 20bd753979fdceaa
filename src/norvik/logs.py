"""What is logged and how: words for a terminal, or one JSON object a line for a collector.

NORVIK_LOG: "json" or "text" (as it is without). NORVIK_LOG_LEVEL: "warning" without a word, "info"
for a line for each request.
"""

from __future__ import annotations

import logging
import os
import sys

from flask import g, has_request_context
from pythonjsonlogger.json import JsonFormatter


class _RequestNumber(logging.Filter):
    """Adds the number of the request under way to every line."""

    def filter(self, record: logging.LogRecord) -> bool:
        record.request_id = g.get("request_id", "") if has_request_context() else ""
        return True


def set_up_logging() -> None:
    """For the commands that run on: serve and worker."""
    level = os.environ.get("NORVIK_LOG_LEVEL", "warning").upper()
    handler = logging.StreamHandler(sys.stderr)
    handler.addFilter(_RequestNumber())
    if os.environ.get("NORVIK_LOG", "text") == "json":
        handler.setFormatter(
            JsonFormatter(
                "{asctime}{levelname}{name}{message}{request_id}", style="{",
                rename_fields={"asctime": "at", "levelname": "level", "name": "from"},
                datefmt="%Y-%m-%dT%H:%M:%S%z",
            )
        )  # fmt: skip
    else:
        handler.setFormatter(
            logging.Formatter("%(asctime)s %(levelname)s %(name)s %(request_id)s %(message)s")
        )
    logging.basicConfig(level=getattr(logging, level, logging.WARNING), handlers=[handler])
