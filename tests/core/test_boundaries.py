"""The core cannot do input or output, and arrows between packages point one way."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

SOURCE = Path(__file__).parents[2] / "src" / "norvik"
OUTER = {"web", "jobs", "store", "footage", "formats", "model", "intake", "workflow", "demo",
         "commands", "cli", "settings", "catalogue", "storage", "reading", "painting", "backup",
         "house", "files", "work", "work_names", "away"}  # fmt: skip
#: What the core has, from what rests on nothing to what rests on all before it.
STAGES = ("errors", "words", "talk", "statistics", "distributions", "pool", "strokes", "time",
          "reading", "frame", "judging", "followup", "prescription")  # fmt: skip
#: Package to what it may import of ours.
ALLOWED = {
    "core": {"core"},
    "catalogue": {"core", "catalogue"},
    "formats": {"core", "formats"},
    "footage": {"core", "footage"},
    "model": {"core", "model"},
    "reading": {"core", "footage", "reading"},
    "painting": {"core", "workflow", "painting"},
    "store": {"core", "store"},
    "workflow": {"core", "catalogue", "formats", "model", "store", "work_names", "workflow"},
    "files": {"core", "settings", "files"},
    "intake": {"core", "files", "footage", "store", "settings", "work_names", "intake"},
    # No database: so it is done by any machine.
    "work": {
        "core",
        "files",
        "footage",
        "model",
        "painting",
        "reading",
        "work_names",
        "work",
    },
    "away": {"core", "files", "jobs", "settings", "store", "work", "work_names", "away"},
    "jobs": {
        "backup",
        "core",
        "files",
        "footage",
        "model",
        "painting",
        "store",
        "storage",
        "workflow",
        "settings",
        "work",
        "work_names",
        "jobs",
    },
    "storage": {"core", "files", "store", "settings", "storage"},
    "backup": {"core", "files", "store", "settings", "storage", "backup"},
    "house": {"away", "core", "files", "formats", "store", "settings", "workflow", "house"},
    "web": OUTER - {"demo", "commands", "cli"},
    "demo": OUTER - {"commands", "cli", "web"} | {"core"},
    "commands": OUTER - {"cli"} | {"core"},
}
#: Areas of the web to what each may import of the others.
AREAS = {
    "shared": set[str](),
    "draw": set[str](),
    "account": {"shared"},
    "people": {"account", "shared"},
    "mine": {"link", "shared"},
    "operations": {"shared"},
    "beside": {"footage", "shared", "draw"},
    "review": {"beside", "clip", "draw", "footage", "shared"},
    "clip": {"shared", "draw", "footage"},
    "footage": {"shared"},
    "reference": {"shared", "draw"},
    "talk": {"shared"},
    "send": {"shared"},
    "link": {"clip", "draw", "footage", "shared"},
    "squad": {"shared"},
    "swimmer": {"shared", "draw", "review"},
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


#: Who may speak SQL beside the store: a connection that is held open, the uploads' own database,
#: and the demo, which closes the file that it moves.
SQL_ELSEWHERE = {"web/shared/database.py", "web/footage/uploads.py", "demo/seed.py"}


def test_sql_is_spoken_in_the_store_alone() -> None:
    said = {
        path.relative_to(SOURCE).as_posix()
        for path in SOURCE.rglob("*.py")
        if ".execute(" in path.read_text(encoding="utf-8")
    }
    assert {p for p in said if not p.startswith("store/")} == SQL_ELSEWHERE


def test_every_package_is_held_to_its_arrows() -> None:
    packages = {p.parent.name for p in SOURCE.glob("*/__init__.py")}
    assert packages == set(ALLOWED)
    assert {p.parent.name for p in (SOURCE / "web").glob("*/__init__.py")} == set(AREAS)


@pytest.mark.parametrize("area", sorted(AREAS))
def test_areas_of_the_web_rest_on_shared_parts_alone(area: str) -> None:
    for path in (SOURCE / "web" / area).rglob("*.py"):
        used = {n.split(".")[2] for n in imports_of(path) if n.startswith("norvik.web.")}
        wrong = used - AREAS[area] - {area}
        assert not wrong, f"{path.relative_to(SOURCE)} imports {wrong}"


def test_stages_of_the_core_rest_on_earlier_ones() -> None:
    for n, stage in enumerate(STAGES):
        files = [SOURCE / "core" / f"{stage}.py", *(SOURCE / "core" / stage).rglob("*.py")]
        for path in (p for p in files if p.is_file()):
            used = {x.split(".")[2] for x in imports_of(path) if x.startswith("norvik.core.")}
            wrong = used - set(STAGES[: n + 1])
            assert not wrong, f"{path.relative_to(SOURCE)} imports {wrong}"
    there = {p.stem for p in (SOURCE / "core").iterdir() if not p.name.startswith("__")}
    assert there == set(STAGES)


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
        # What a mark is and how strokes and sides are called; neither computes.
        words = {n for n in used if n.startswith("norvik.core.strokes.names")}
        assert used - words <= {"norvik.core.strokes.events", "norvik.core.strokes.events.Mark"}, (
            path
        )
