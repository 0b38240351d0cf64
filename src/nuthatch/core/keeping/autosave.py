"""Work not saved yet, kept beside its file or in the state folder, and found again after a crash."""

from __future__ import annotations

import contextlib
import datetime
import json
from dataclasses import dataclass
from pathlib import Path

from nuthatch.core.exchange.homefile import HomeFileError, canonical, home_from_json, put
from nuthatch.core.keeping.places import beside, state_folder
from nuthatch.core.model.home import SCHEMA, Home

LARGEST_AUTOSAVE = 20_000_000


@dataclass(frozen=True)
class Autosave:
    """Work not saved: the home, where it belongs, what was done since the last save, and when."""

    home: Home
    path: str
    labels: tuple[str, ...]
    when: str
    file: Path

    @property
    def words(self) -> str:
        """What would be restored, in a sentence."""
        count = len(self.labels)
        last = "; ".join(self.labels[-3:])
        return f"{self.home.name}: {count} change{'' if count == 1 else 's'} not saved, last {self.when}" + (f" ({last})" if last else "")


def autosave_file(path: Path | None, session_id: str) -> Path:
    """Where the autosave of a home is kept."""
    return beside(path, "autosave") if path is not None else state_folder() / "unsaved" / f"{session_id}.autosave"


def write_autosave(file: Path, home: Home, path: Path | None, labels: tuple[str, ...]) -> None:
    """Keep the home. Raises HomeFileError where it cannot be written."""
    when = datetime.datetime.now().strftime("%Y-%m-%d %H:%M:%S")
    document = {"nuthatch": "autosave", "schema": SCHEMA, "path": str(path or ""), "labels": list(labels), "when": when}
    text = json.dumps(document, ensure_ascii=False)[:-1] + ', "home": ' + canonical(home) + "}"
    try:
        file.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise HomeFileError(f"{file}: {error.strerror or error}") from None
    put(file, text.encode())


def read_autosave(file: Path) -> Autosave | None:
    """The autosave, None where there is none. Raises HomeFileError where it is damaged."""
    try:
        if file.stat().st_size > LARGEST_AUTOSAVE:
            raise HomeFileError(f"{file}: far too large for an autosave")
        data = file.read_bytes()
    except FileNotFoundError:
        return None
    except OSError as error:
        raise HomeFileError(f"{file}: {error.strerror or error}") from None
    home = home_from_json(data)
    document = json.loads(data)
    labels = document.get("labels")
    texts = tuple(str(x)[:300] for x in labels[-1000:]) if isinstance(labels, list) else ()
    return Autosave(home, str(document.get("path", "")), texts, str(document.get("when", ""))[:40], file)


def left_behind() -> tuple[Autosave, ...]:
    """Autosaves of homes never saved whose window is gone."""
    found = []
    for file in sorted((state_folder() / "unsaved").glob("*.autosave")):
        if not Path(f"/proc/{file.stem.split('-')[0]}").exists():
            with contextlib.suppress(HomeFileError):
                kept = read_autosave(file)
                if kept is not None:
                    found.append(kept)
    return tuple(found)
