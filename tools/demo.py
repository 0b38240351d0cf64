"""`make demo`: the demo homes in a window; without a display, pictures of the main boards and the verdict."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]


def main() -> int:
    """Exit code of the demo."""
    if os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"):
        return subprocess.call([sys.executable, "-m", "nuthatch.cli", "--demo"])
    print("There is no display here: opening the window on a virtual one and writing pictures.", flush=True)
    folder = ROOT / "build" / "demo"
    command = [
        sys.executable,
        str(ROOT / "tools" / "shots.py"),
        str(folder),
        "cutaway",
        "shape",
        "build-ups",
        "openings",
        "balance",
        "dossier",
    ]
    environment = dict(os.environ)
    if shutil.which("xvfb-run"):
        command = ["xvfb-run", "-a", "-s", "-screen 0 1400x900x24", *command]
    else:
        environment["QT_QPA_PLATFORM"] = "offscreen"
    done = subprocess.run(command, env=environment)
    if done.returncode:
        return done.returncode
    verdict = subprocess.run([sys.executable, "-m", "nuthatch.cli", "check", "osier-lane-7"])
    return 0 if verdict.returncode in (0, 1, 3) else verdict.returncode


if __name__ == "__main__":
    sys.exit(main())
