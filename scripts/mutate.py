"""Breaks the core in small ways, module by module, and lists the breaks that no test notices.

Usage: mutate.py [changed | all | NAME ...]     NAME as in `judging.verdicts`

`changed` (the default) takes the modules of the core that differ from the last commit or, with a
clean tree, those of the last commit itself. Every module is tried by the tests that import it or
import a module that does: the whole suite for each break would take days. Results are added to
build/mutation/results.json, so that a long run can be done in parts.

A break takes hold after the modules were imported. What runs while they are, such as the functions
that make the quantities of `time.quantities`, was done before: survivors there say nothing.
"""

from __future__ import annotations

import ast
import json
import os
import shutil
import subprocess
import sys
from collections import Counter
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
CORE = ROOT / "src" / "norvik" / "core"
WORK = ROOT / "build" / "mutation"
RESULTS = WORK / "results.json"
#: Rules that can hurt somebody or mislead a coach: here each survivor is looked at by name.
RULES = {
    "followup.change", "followup.comparable", "followup.focus_status", "judging.findings",
    "judging.judged",
    "judging.margin", "judging.on_frame", "judging.verdicts",
    "prescription.breath_holding", "prescription.instead", "prescription.overcorrect",
    "prescription.plan.build", "prescription.plan.sets", "prescription.pool_tests.offered",
    "prescription.prescribe",
}  # fmt: skip
#: Modules with the same tests that are broken in one run.
TOGETHER = 6
#: What the tests of the core read besides themselves: built quantities, tables, documents.
COPIED = ("src", "tests", "docs", "scripts", "README.md")
#: Tests of minutes: only for the modules that they are about, and those below them.
SLOW = {
    "test_against_reference.py": {"time.compute", "time.phases", "time.cycles"},
    "test_properties.py": set[str](),
    "test_certainty.py": {"time.plus_minus", "time.own_spread", "time.certainty"},
    "test_good_swimming.py": set[str](),
}


def name_of(path: Path) -> str:
    """ "plan.sets" for .../core/plan/sets.py."""
    parts = path.relative_to(CORE).with_suffix("").parts
    return ".".join(parts[:-1] if parts[-1] == "__init__" else parts)


MODULES = {name_of(p): p for p in sorted(CORE.rglob("*.py")) if name_of(p)}


def imported(path: Path) -> set[str]:
    """The modules of the core that a file imports, by name."""
    found = set()
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if not isinstance(node, ast.ImportFrom) or not (node.module or "").startswith(
            "norvik.core"
        ):
            continue
        base = (node.module or "").removeprefix("norvik.core").removeprefix(".")
        found.add(base)
        found |= {f"{base}.{a.name}".removeprefix(".") for a in node.names}
    return found & MODULES.keys()


def tests_of(module: str) -> list[str]:
    """The test files that reach the module directly or over two modules between."""
    near = {module, module.rpartition(".")[0]} - {""}
    for _ in range(2):
        near |= {m for m, p in MODULES.items() if near & imported(p)}
    chosen = []
    for folder in ("core", "catalogue", "model", "formats"):
        for test in sorted((ROOT / "tests" / folder).glob("test_*.py")):
            about = SLOW.get(test.name, {module})
            if not any(f"{module}.".startswith(f"{name}.") for name in about):
                continue
            reached = imported(test)
            if module in reached or (folder != "model" and near & reached):
                chosen.append(str(test.relative_to(ROOT)))
    return chosen


def changed() -> list[str]:
    """The modules of the core that the work at hand, or the last commit, touches."""
    for against in (["HEAD"], ["HEAD~1", "HEAD"]):
        lines = subprocess.run(
            ["git", "diff", "--name-only", *against], cwd=ROOT, capture_output=True, text=True
        ).stdout.split()
        touched = [m for m, p in MODULES.items() if str(p.relative_to(ROOT)) in lines]
        if touched:
            return touched
    return []


def workspace(modules: list[str], tests: list[str]) -> Path:
    """A copy of what the tests need, set up to break these modules alone."""
    place = WORK / "tree"
    shutil.rmtree(place, ignore_errors=True)
    place.mkdir(parents=True)
    for what in COPIED:
        source = ROOT / what
        copy = shutil.copytree if source.is_dir() else shutil.copy
        copy(source, place / what)
    config = (ROOT / "pyproject.toml").read_text("utf-8")
    files = [str(MODULES[m].relative_to(ROOT)) for m in modules]
    config += (
        f'\n[tool.mutmut]\nsource_paths = ["src/"]\nonly_mutate = {json.dumps(files)}\n'
        'also_copy = ["src/norvik", "tests", "docs", "scripts", "README.md"]\n'
        'pytest_add_cli_args = ["-p", "no:randomly", "-p", "no:xdist", "-m", "not simulation"]\n'
        f"pytest_add_cli_args_test_selection = {json.dumps(tests)}\n"
        "use_git_change_detection = false\ntrack_dependencies = false\n"
    )
    (place / "pyproject.toml").write_text(config, "utf-8")
    return place


def groups(wanted: list[str]) -> list[list[str]]:
    """The modules in their order, those with the same tests up to TOGETHER at a time.

    Before the first break all tests run once as they are. Of the modules low in the core, which
    thirty tests reach, that takes longer than their breaks: so they share it.
    """
    made: dict[tuple[str, ...], list[list[str]]] = {}
    for module in wanted:
        rows = made.setdefault(tuple(tests_of(module)), [[]])
        if len(rows[-1]) == TOGETHER:
            rows.append([])
        rows[-1].append(module)
    return sorted((row for rows in made.values() for row in rows), key=lambda r: wanted.index(r[0]))


def mutated(modules: list[str]) -> dict[str, dict[str, Any]]:
    """Of each module, how many breaks were noticed and the names of those that were not.

    The modules have the same tests.
    """
    tests = tests_of(modules[0])
    states: dict[str, str] = {}
    if tests:
        place = workspace(modules, tests)
        mutmut = Path(sys.executable).parent / "mutmut"
        run = subprocess.run(
            [mutmut, "run"], cwd=place, capture_output=True, text=True, errors="replace",
            env={**os.environ, "NORVIK_EXAMPLES": "few"},
        )  # fmt: skip
        results = subprocess.run(
            [mutmut, "results", "--all", "true"], cwd=place, capture_output=True, text=True
        ).stdout
        states = dict(line.strip().rsplit(": ", 1) for line in results.splitlines() if ": " in line)
        nothing = "could not find any test case" in run.stdout or "0 files mutated" in run.stdout
        if not states and run.returncode and not nothing:
            sys.exit(f"{', '.join(modules)}: {run.stdout[-600:]}\n{run.stderr[-600:]}")
        left = sum(s == "not checked" for s in states.values())
        if left:
            sys.exit(f"{', '.join(modules)}: stopped with {left} breaks still to try.")
    return {m: tally({n: s for n, s in states.items() if broken_in(n) == m}) for m in modules}


def broken_in(name: str) -> str:
    """ "plan.sets" of the break norvik.core.plan.sets.x_laid_out__mutmut_3."""
    return name.rpartition(".")[0].removeprefix("norvik.core.")


def tally(states: dict[str, str]) -> dict[str, Any]:
    count = Counter(states.values())
    return {
        "killed": count["killed"] + count["timeout"],
        "survived": count["survived"] + count["suspicious"],
        "untested": count["no tests"],
        "survivors": sorted(n for n, s in states.items() if s in ("survived", "suspicious")),
    }


def tell(module: str, one: dict[str, Any], *, by_name: bool) -> None:
    print(
        f"{module:28} {one['killed']:5} noticed {one['survived']:4} not "
        f"{one['untested']:4} without a test{'   RULE' if module in RULES else ''}",
        flush=True,
    )
    for survivor in one["survivors"] if by_name else ():
        print(f"    {survivor}", flush=True)


def main() -> None:
    wanted = sys.argv[1:] or ["changed"]
    if wanted == ["all"]:
        # The rules first: a run that is stopped has done what matters most.
        wanted = sorted(MODULES, key=lambda m: m not in RULES)
    elif wanted == ["changed"]:
        wanted = changed()
    unknown = [m for m in wanted if m not in MODULES]
    if unknown:
        sys.exit(f"No module of the core is called {', '.join(unknown)}.")
    WORK.mkdir(parents=True, exist_ok=True)
    results = json.loads(RESULTS.read_text("utf-8")) if RESULTS.exists() else {}
    for group in groups(wanted):
        results |= mutated(group)
        RESULTS.write_text(json.dumps(results, indent=1), "utf-8")
        for module in group:
            tell(module, results[module], by_name=module in RULES or len(wanted) < 4)
    killed, survived, untested = (
        sum(results[m][k] for m in wanted) for k in ("killed", "survived", "untested")
    )
    tried = killed + survived + untested
    if tried:
        print(f"{killed} of {tried} breaks noticed, {100 * killed / tried:.0f} %")


if __name__ == "__main__":
    main()
