"""The core cannot do input or output, and arrows between packages point one way."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

SOURCE = Path(__file__).parents[2] / "src" / "norvik"
OUTER = {"web", "jobs", "store", "footage", "formats", "model", "intake", "workflow", "demo",
         "commands", "cli", "settings", "catalogue", "storage"}  # fmt: skip
#: Package to what it may import of ours.
ALLOWED = {
    "core": {"core"},
    "catalogue": {"core", "catalogue"},
    "formats": {"core", "formats"},
    "footage": {"core", "footage"},
    "model": {"core", "model"},
    "store": {"core", "footage", "store"},
    "workflow": {"core", "catalogue", "formats", "model", "store", "workflow"},
    "intake": {"core", "footage", "store", "settings", "intake"},
    "jobs": {"core", "footage", "store", "storage", "workflow", "settings", "jobs"},
    "storage": {"core", "store", "settings", "storage"},
}
FORBIDDEN_IN_CORE = {"flask", "sqlite3", "cv2", "av", "subprocess", "os", "pathlib", "io", "time",
                     "datetime", "socket", "huey", "click", "jinja2", "threading"}  # fmt: skip


def imports_of(path: Path) -> set[str]:
    found = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom):
            assert node.level == 0, f"{path} uses a relative import"
            found.add(node.module or "")
            found |= {f"{node.module}.{alias.name}" for alias in node.names}
    return found


def ours(names: set[str]) -> set[str]:
    return {n.split(".")[1] for n in names if n.startswith("norvik.") and n.count(".") >= 1}


@pytest.mark.parametrize("package", sorted(ALLOWED))
def test_arrows_point_one_way(package: str) -> None:
    files = list((SOURCE / package).rglob("*.py"))
    assert files
    for path in files:
        wrong = (ours(imports_of(path)) & OUTER) - ALLOWED[package]
        assert not wrong, f"{path.relative_to(SOURCE)} imports {wrong}"


def test_the_core_does_no_input_or_output() -> None:
    for path in (SOURCE / "core").rglob("*.py"):
        imported = imports_of(path)
        if imported & {"datetime"} and imported & {"datetime.date", "datetime.timedelta"}:
            # Days as values are fine; asking the clock is not.
            assert not imported & {"datetime.datetime"}, path
            assert "today()" not in path.read_text(encoding="utf-8"), path
            imported = {n for n in imported if n.split(".")[0] != "datetime"}
        wrong = {n.split(".")[0] for n in imported} & FORBIDDEN_IN_CORE
        assert not wrong, f"{path.relative_to(SOURCE)} imports {wrong}"
        calls = {n.func.id for n in ast.walk(ast.parse(path.read_text()))
                 if isinstance(n, ast.Call) and isinstance(n.func, ast.Name)}  # fmt: skip
        assert not calls & {"open", "print", "input", "exec", "eval"}, path


def test_the_model_swimmer_shares_nothing_that_computes_with_the_core() -> None:
    for path in (SOURCE / "model").rglob("*.py"):
        used = {n for n in imports_of(path) if n.startswith("norvik.core")}
        assert used <= {"norvik.core.events", "norvik.core.events.Mark"}, path
