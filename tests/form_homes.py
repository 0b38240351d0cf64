"""The demo homes as they were before storey plans: two from the quick form, one as a list of faces."""

from __future__ import annotations

import json
from functools import cache
from pathlib import Path

from nuthatch.core.files.homefile import home_from_json
from nuthatch.core.model.home import Home

FORMER = Path(__file__).parent / "former"


@cache
def form_home(key: str) -> Home:
    """Osier Lane 7 and Weir Cottage of the form, Sail Loft as a list."""
    saved = json.loads((FORMER / f"schema-3-{key}.json").read_text(encoding="utf-8"))
    home = home_from_json(json.dumps(saved["document"]).encode())
    assert isinstance(home, Home)
    return home
