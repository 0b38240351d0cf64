"""Makes Nuthatch known to the desktop of this user: starter with icon, the .nuthatch file type (`nuthatch install-desktop [--remove]`).

Follows the Desktop Entry, Shared MIME-info and Icon Theme specifications of freedesktop.org; everything goes below the user's data folder.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

ICON = Path(__file__).parent / "desktop" / "theme" / "icons" / "nuthatch.svg"
ENTRY = """[Desktop Entry]
Type=Application
Name=Nuthatch
GenericName=Home energy and airtightness
Comment=Check a home against low-energy targets
Exec={program} %f
Icon=nuthatch
Terminal=false
Categories=Science;Engineering;Construction;
MimeType=application/x-nuthatch-home;
StartupWMClass=nuthatch
"""
KIND = """<?xml version="1.0" encoding="UTF-8"?>
<mime-info xmlns="http://www.freedesktop.org/standards/shared-mime-info">
  <mime-type type="application/x-nuthatch-home">
    <comment>Nuthatch home</comment>
    <sub-class-of type="application/zip"/>
    <icon name="nuthatch"/>
    <glob pattern="*.nuthatch"/>
  </mime-type>
</mime-info>
"""


def files(data: Path, program: str) -> dict[Path, str]:
    """Every file that is written, with its text."""
    quoted = f'"{program}"' if " " in program else program
    icon = ICON.read_text(encoding="utf-8").replace("currentColor", "#4B6477")
    return {
        data / "applications" / "nuthatch.desktop": ENTRY.format(program=quoted),
        data / "mime" / "packages" / "nuthatch.xml": KIND,
        data / "icons" / "hicolor" / "scalable" / "apps" / "nuthatch.svg": icon,
        data / "icons" / "hicolor" / "scalable" / "mimetypes" / "application-x-nuthatch-home.svg": icon,
    }


def tell(data: Path) -> None:
    """Let the desktop take notice, where its tools are there."""
    for command in (
        ["update-mime-database", str(data / "mime")],
        ["update-desktop-database", str(data / "applications")],
        ["xdg-mime", "default", "nuthatch.desktop", "application/x-nuthatch-home"],
    ):
        if shutil.which(command[0]):
            subprocess.run(command, check=False, capture_output=True)


def install(remove: bool) -> list[Path]:
    """Write every file, or take it away; which they are."""
    data = Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")
    program = str(Path(sys.executable).with_name("nuthatch"))
    found: list[Path] = []
    for path, text in files(data, program).items():
        if remove:
            path.unlink(missing_ok=True)
        else:
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_text(text, encoding="utf-8")
        found.append(path)
    tell(data)
    return found
