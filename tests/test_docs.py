"""The documentation made from the model is current, and the demo homes follow the published schema."""

from __future__ import annotations

import configparser
import importlib.util
import json
import os
import re
import subprocess
import sys
from pathlib import Path
from xml.etree import ElementTree

import jsonschema
import pytest

from nuthatch.core.exchange.own_sets import read_set
from nuthatch.core.library import DATA, DEMO
from nuthatch.core.model.target_set import Case, Condition, Target, TargetSet, Way

ROOT = Path(__file__).parents[1]


def maker():  # type: ignore[no-untyped-def]
    spec = importlib.util.spec_from_file_location("make_docs", ROOT / "tools" / "make_docs.py")
    assert spec is not None and spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


def test_file_format_and_schema_are_current() -> None:
    made = maker()
    assert (ROOT / "docs" / "file-format.md").read_text(encoding="utf-8") == made.file_format(), "run make docs"
    assert (ROOT / "docs" / "manual.md").read_text(encoding="utf-8") == made.manual(), "run make docs"
    assert (ROOT / "docs" / "home.schema.json").read_text(encoding="utf-8") == made.schema(), "run make docs"


@pytest.mark.parametrize("key", [*DEMO, "new-home"])
def test_homes_follow_the_published_schema(key: str) -> None:
    home = json.loads((DATA / "homes" / f"{key}.json").read_text(encoding="utf-8"))["home"]
    schema = json.loads((ROOT / "docs" / "home.schema.json").read_text(encoding="utf-8"))
    jsonschema.validate(home, schema)
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate({**home, "colour": "red"}, schema)


def test_the_example_of_the_target_set_page_is_the_shipped_one() -> None:
    page = (ROOT / "docs" / "target-sets.md").read_text(encoding="utf-8")
    example = page.split("```json\n")[1].split("```")[0]
    assert read_set(example.encode()) == read_set((DATA / "examples" / "harbour-fund.json").read_bytes())
    for kind in (TargetSet, Target, Way, Case, Condition):
        for field in kind.model_fields:
            assert f"`{field}`" in page, f"{kind.__name__}.{field} is not documented"


def test_the_desktop_learns_of_the_program_and_its_file_type(tmp_path: Path) -> None:
    """Desktop Entry and Shared MIME-info specifications of freedesktop.org: keys, and a glob for our files."""
    env = {**os.environ, "XDG_DATA_HOME": str(tmp_path)}
    tool = [sys.executable, "-m", "nuthatch.cli", "install-desktop"]
    subprocess.run(tool, check=True, env=env, capture_output=True)
    entry = configparser.ConfigParser(interpolation=None, delimiters=("=",))
    entry.optionxform = str  # type: ignore[assignment,method-assign]
    entry.read(tmp_path / "applications" / "nuthatch.desktop")
    section = entry["Desktop Entry"]
    assert section["Type"] == "Application" and section["Exec"].endswith(" %f") and section["MimeType"] == "application/x-nuthatch-home;"
    kind = ElementTree.parse(tmp_path / "mime" / "packages" / "nuthatch.xml").getroot()
    space = "{http://www.freedesktop.org/standards/shared-mime-info}"
    assert [g.get("pattern") for g in kind.iter(f"{space}glob")] == ["*.nuthatch"]
    assert ElementTree.parse(tmp_path / "icons/hicolor/scalable/apps" / f"{section['Icon']}.svg").getroot().tag.endswith("svg")
    subprocess.run([*tool, "--remove"], check=True, env=env, capture_output=True)
    assert not list(tmp_path.rglob("*.desktop"))


@pytest.mark.parametrize("page", sorted((ROOT / "docs").glob("*.md")), ids=lambda p: p.name)
def test_links_between_the_documents_exist(page: Path) -> None:
    for target in re.findall(r"\]\(([^)#]+)\)", page.read_text(encoding="utf-8")):
        assert target.startswith("http") or (page.parent / target).exists(), target


def test_readme_links_every_picture_and_every_link_exists() -> None:
    readme = (ROOT / "README.md").read_text(encoding="utf-8")
    pictures = sorted(p.name for p in (ROOT / "docs" / "screenshots").glob("*.png"))
    assert 0 < len(pictures) < 20
    for name in pictures:
        assert f"docs/screenshots/{name}" in readme, name
    for target in re.findall(r"\]\(([^)#]+)\)", readme):
        assert target.startswith("http") or (ROOT / target).exists(), target
