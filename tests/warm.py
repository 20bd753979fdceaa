"""What every application of the tests would work out anew, worked out once.

Each test has an application of its own, of some 300 routes and 150 templates, all alike.
"""

from __future__ import annotations

import tempfile
from typing import Any

from flask import Flask
from jinja2 import FileSystemBytecodeCache
from werkzeug.routing.rules import Rule

_Compiled = tuple[list[Any], list[Any], dict[str, Any], set[str], Any, Any]
_compiled: dict[tuple[object, ...], _Compiled] = {}
_compile = Rule.compile


def _once(rule: Rule) -> None:
    """How a route is matched and its address built: both depend on what the key says alone."""
    key = (rule.rule, rule.subdomain, rule.host, rule.merge_slashes, repr(rule.defaults))
    if key not in _compiled:
        _compile(rule)
        builders = rule._build.__func__, rule._build_unknown.__func__  # type: ignore[attr-defined]
        _compiled[key] = (
            rule._parts, rule._trace, rule._converters, set(rule.arguments), *builders,
        )  # fmt: skip
        return
    rule._parts, rule._trace, rule._converters, arguments, build, build_unknown = _compiled[key]
    rule.arguments = set(arguments)
    rule._build = build.__get__(rule, None)
    rule._build_unknown = build_unknown.__get__(rule, None)


Rule.compile = _once  # type: ignore[method-assign]
_folder = tempfile.TemporaryDirectory(prefix="norvik-templates-", ignore_cleanup_errors=True)
Flask.jinja_options = {
    **Flask.jinja_options, "bytecode_cache": FileSystemBytecodeCache(_folder.name),
}  # fmt: skip
