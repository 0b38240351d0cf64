"""The look as data: colour tokens of light and dark, the font files. Read by window, charts and documents alike."""

from __future__ import annotations

import json
from collections.abc import Mapping
from functools import lru_cache
from pathlib import Path
from types import MappingProxyType

DATA = Path(__file__).parent / "data"
FONTS = DATA / "fonts"


@lru_cache(maxsize=1)
def _read() -> dict[str, dict[str, str]]:
    found: dict[str, dict[str, str]] = json.loads((DATA / "look.json").read_text(encoding="utf-8"))
    return found


def palette(dark: bool = False) -> Mapping[str, str]:
    """Colour token → value; paper, documents and files are light."""
    return MappingProxyType(_read()["dark" if dark else "light"])


def font_files() -> tuple[Path, ...]:
    """The shipped font, one file a weight."""
    return tuple(sorted(FONTS.glob("*.otf")))


FONT = "Inter"
