"""What every application of the tests would work out anew, worked out once.

Each test has an application of its own, of some 300 routes and 150 templates, all alike.
"""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from typing import Any

from flask import Flask
from jinja2 import FileSystemBytecodeCache
from werkzeug.routing.rules import Rule

_built: dict[tuple[object, ...], Callable[..., Any]] = {}
_compile_builder = Rule._compile_builder


def _once(rule: Rule, append_unknown: bool = True) -> Callable[..., Any]:
    """What builds a route's address; it depends on nothing but what the key says."""
    key = (rule.rule, tuple(rule._trace), repr(rule.defaults), append_unknown)
    if key not in _built:
        _built[key] = _compile_builder(rule, append_unknown)
    return _built[key]


Rule._compile_builder = _once  # type: ignore[method-assign]
_folder = tempfile.TemporaryDirectory(prefix="norvik-templates-", ignore_cleanup_errors=True)
Flask.jinja_options = {
    **Flask.jinja_options, "bytecode_cache": FileSystemBytecodeCache(_folder.name),
}  # fmt: skip
