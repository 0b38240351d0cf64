"""What this machine's user chose for the window: units, dark, scaling, borders, folders of the register and of weather files, homes opened last."""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass, field, fields, replace
from pathlib import Path

from nuthatch.core.files.homefile import HomeFileError, put
from nuthatch.core.files.places import config_folder
from nuthatch.core.units import SYSTEMS

SCALES = (100, 125, 150, 175, 200)


@dataclass(frozen=True)
class Settings:
    """`units` is '' until somebody chose; the office profile decides then."""

    units: str = ""
    dark: bool = False
    scale: int = 100
    folders: tuple[str, ...] = ()
    weather_folders: tuple[str, ...] = ()
    recent: tuple[str, ...] = field(default=())
    borders: dict[str, tuple[int, int]] = field(default_factory=dict)
    strip: bool = False
    tightest: bool = False
    folded: bool = False
    hints: bool = True
    gauge_address: str = "127.0.0.1:7171"

    def opened(self, path: Path) -> Settings:
        """With a home put first among those opened last."""
        name = str(path.resolve())
        return replace(self, recent=(name, *(p for p in self.recent if p != name))[:12])


def _path() -> Path:
    return config_folder() / "settings.json"


def load() -> Settings:
    """The settings; anything odd in the file is left out, for nothing of a home hangs on it."""
    try:
        data = json.loads(_path().read_bytes())
    except (OSError, ValueError, RecursionError):
        return Settings()
    if not isinstance(data, dict):
        return Settings()
    kept: dict[str, object] = {}
    for f in fields(Settings):
        value = data.get(f.name)
        if f.name in ("folders", "weather_folders", "recent") and isinstance(value, list):
            kept[f.name] = tuple(str(v) for v in value)
        elif f.name == "borders" and isinstance(value, dict):
            kept[f.name] = {str(k): (int(v[0]), int(v[1])) for k, v in value.items() if _pair(v)}
        elif (
            (f.name == "units" and value in SYSTEMS)
            or (f.name in ("dark", "strip", "tightest", "folded", "hints") and isinstance(value, bool))
            or (f.name == "scale" and value in SCALES)
            or (f.name == "gauge_address" and isinstance(value, str) and len(value) < 200)
        ):
            kept[f.name] = value
    return Settings(**kept)  # type: ignore[arg-type]


def _pair(value: object) -> bool:
    return isinstance(value, list | tuple) and len(value) == 2 and all(isinstance(v, int) and 0 < v < 20000 for v in value)


def save(settings: Settings) -> None:
    """Keep the settings; a disk that refuses is no reason to stop work."""
    try:
        _path().parent.mkdir(parents=True, exist_ok=True)
        put(_path(), json.dumps(asdict(settings), indent=1).encode())
    except (OSError, HomeFileError):
        return


def change(**changes: object) -> Settings:
    """Change and keep some settings."""
    made = replace(load(), **changes)  # type: ignore[arg-type]
    save(made)
    return made
