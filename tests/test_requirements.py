"""The pinned packages are whole on every Python, Debian's own 3.11.2 included."""

from __future__ import annotations

import re
from importlib.metadata import PackageNotFoundError, requires
from pathlib import Path

import pytest
from packaging.markers import default_environment
from packaging.requirements import Requirement
from packaging.utils import canonicalize_name

ROOT = Path(__file__).parent.parent


def pinned(file: str) -> list[Requirement]:
    lines = re.findall(r"^([A-Za-z0-9][^\\\n]*==[^\\\n]*?)\s*\\?$", (ROOT / file).read_text(), re.M)
    return [Requirement(line) for line in lines]


@pytest.mark.parametrize(
    ("file", "version"),
    [
        *((f, v) for f in ("requirements.txt", "requirements-dev.txt")
          for v in ("3.11.2", "3.11.9", "3.12.4")),
        # Where the application alone is run.
        ("requirements.txt", "3.13.1"),
    ],
)  # fmt: skip
def test_what_a_pinned_package_needs_is_pinned_too(file: str, version: str) -> None:
    """pip takes nothing that is not pinned: one that is missing for Debian's Python 3.11.2 fails
    the whole install.
    """
    env = {
        **default_environment(), "extra": "", "python_full_version": version,
        "python_version": ".".join(version.split(".")[:2]),
    }  # fmt: skip
    here = [r for r in pinned(file) if r.marker is None or r.marker.evaluate(env)]
    names = {canonicalize_name(r.name) for r in here}
    assert len(names) > 30
    missing = set()
    for package in here:
        try:
            needs = requires(package.name) or []
        except PackageNotFoundError:
            # Installed on an older Python only.
            continue
        for need in map(Requirement, needs):
            wanted = [{**env, "extra": extra} for extra in ("", *package.extras)]
            if need.marker is not None and not any(map(need.marker.evaluate, wanted)):
                continue
            if canonicalize_name(need.name) not in names:
                missing.add(f"{package.name} needs {need.name}")
    assert not missing
