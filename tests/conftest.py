"""Shared fixtures. The interface runs offscreen; results cached on disk go to a folder of the test run."""

from __future__ import annotations

import os
import tempfile
from functools import lru_cache
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
for _kind in ("CONFIG", "DATA", "STATE"):
    os.environ[f"XDG_{_kind}_HOME"] = tempfile.mkdtemp(prefix="nuthatch-test-")
# What is slow is kept by its content: the processes of one run need not each work it out.
_run = os.environ.get("PYTEST_XDIST_TESTRUNUID")
os.environ["XDG_CACHE_HOME"] = f"{tempfile.gettempdir()}/nuthatch-test-{_run}" if _run else tempfile.mkdtemp(prefix="nuthatch-test-")

import pytest  # noqa: E402
from xdist.scheduler import LoadScopeScheduling  # noqa: E402

from nuthatch.core.assess import Assessment, assess  # noqa: E402
from nuthatch.core.climate.climate import Climate, climate_from_bytes  # noqa: E402
from nuthatch.core.climate.library import climate_for  # noqa: E402
from nuthatch.core.library import DEMO, demo_home, library_climate  # noqa: E402
from nuthatch.core.model.home import Home  # noqa: E402
from tests.form_homes import form_home  # noqa: E402

ROOT = Path(__file__).parents[1]


@pytest.fixture(scope="session")
def marrowby() -> Climate:
    return climate_from_bytes(library_climate("marrowby-quay"))


@pytest.fixture(scope="session")
def verrin() -> Climate:
    return climate_from_bytes(library_climate("verrin-plain"))


@pytest.fixture(scope="session")
def osier() -> Home:
    return demo_home("osier-lane-7")


@pytest.fixture(scope="session")
def demo_assessments() -> dict[str, Assessment]:
    found = {}
    for key in DEMO:
        home = demo_home(key)
        found[key] = assess(home, climate_for(home, None))
    return found


@pytest.fixture(scope="session")
def form_assessed() -> Assessment:
    """Osier Lane 7 as it was entered by the quick form."""
    home = form_home("osier-lane-7")
    return assess(home, climate_for(home, None))


@pytest.fixture(scope="session")
def osier_assessed(demo_assessments: dict[str, Assessment]) -> Assessment:
    return demo_assessments["osier-lane-7"]


class ByModule(LoadScopeScheduling):
    """Tests of a module that shares something costly go to one process, so that it is made once; all others as they come."""

    def _split_scope(self, nodeid: str) -> str:
        file = nodeid.partition("::")[0]
        return file if _shares(file) else nodeid


@lru_cache
def _shares(file: str) -> bool:
    path = ROOT / file
    return path.exists() and 'scope="module"' in path.read_text(encoding="utf-8")


def pytest_xdist_make_scheduler(config: pytest.Config, log: object) -> ByModule:
    return ByModule(config, log)  # type: ignore[arg-type]
