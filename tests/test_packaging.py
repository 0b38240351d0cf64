"""What is installed holds everything: each file beside the code is named as data of the package."""

from __future__ import annotations

import tomllib
from pathlib import Path

ROOT = Path(__file__).parents[1]


def test_every_file_beside_the_code_is_data_of_the_package() -> None:
    """A dossier's templates once lay in a folder that no wheel held."""
    package = ROOT / "src" / "nuthatch"
    patterns = tomllib.loads((ROOT / "pyproject.toml").read_text())["tool"]["setuptools"]["package-data"]["nuthatch"]
    held = {path for pattern in patterns for path in package.glob(pattern)}
    there = {p for p in package.rglob("*") if p.is_file() and p.suffix not in (".py", ".pyc") and "__pycache__" not in p.parts}
    assert there <= held, sorted(str(p.relative_to(package)) for p in there - held)
    for pattern in patterns:
        assert any(package.glob(pattern)), f"{pattern} holds nothing"


def test_what_the_code_imports_at_run_time_is_a_dependency() -> None:
    """pypdf was wanted by tests alone before the dossier was checked."""
    project = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]
    named = " ".join(project["dependencies"]).lower()
    for module, package in (
        ("pypdf", "pypdf"),
        ("weasyprint", "weasyprint"),
        ("jinja2", "jinja2"),
        ("shapely", "shapely"),
        ("openpyxl", "openpyxl"),
    ):
        used = any(f"import {module}" in p.read_text() or f"from {module}" in p.read_text() for p in (ROOT / "src").rglob("*.py"))
        assert used and package in named, module
