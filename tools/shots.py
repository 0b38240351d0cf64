"""Writes one picture of each main view to docs/screenshots, from the demo homes. Usage: shots.py [FOLDER [NAME …]]"""

from __future__ import annotations

import os
import sys
import time
from pathlib import Path

if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")):
    os.environ["QT_QPA_PLATFORM"] = "offscreen"

VIEWS = (
    ("cutaway", "osier-lane-7", "cutaway", False),
    ("brief", "osier-lane-7", "brief", False),
    ("site", "osier-lane-7", "site", False),
    ("shape", "osier-lane-7", "shape", False),
    ("build-ups", "osier-lane-7", "build-ups", False),
    ("openings", "osier-lane-7", "openings", False),
    ("junctions", "osier-lane-7", "junctions", False),
    ("air", "osier-lane-7", "air", False),
    ("hot-water", "osier-lane-7", "hot-water", False),
    ("household", "osier-lane-7", "household", False),
    ("heat-power", "osier-lane-7", "heat-power", False),
    ("balance", "osier-lane-7", "balance", False),
    ("dossier", "osier-lane-7", "dossier", False),
    ("cutaway-weir-cottage", "weir-cottage", "cutaway", False),
    ("shape-sail-loft", "sail-loft", "shape", False),
    ("build-ups-dark", "osier-lane-7", "build-ups", True),
    ("worked-out", "osier-lane-7", "balance", False),
)


def settle(app, window) -> None:  # type: ignore[no-untyped-def]
    calm, end = 0, time.monotonic() + 40
    while calm < 4 and time.monotonic() < end:
        app.processEvents()
        time.sleep(0.03)
        calm = calm + 1 if window.settled() else 0


def main() -> None:
    from nuthatch.core.library import demo_home
    from nuthatch.desktop.app import application, finish
    from nuthatch.desktop.document import Document
    from nuthatch.desktop.theme.style import apply_theme
    from nuthatch.desktop.window import MainWindow

    folder = Path(sys.argv[1]) if len(sys.argv) > 1 else Path(__file__).parents[1] / "docs" / "screenshots"
    only = sys.argv[2:]
    folder.mkdir(parents=True, exist_ok=True)
    app = application()
    for name, home, step, dark in VIEWS:
        if only and name not in only:
            continue
        apply_theme(dark)
        window = MainWindow(Document(demo_home(home)))
        window.resize(1280, 800)
        window.show()
        window.show_step(step)
        settle(app, window)
        if name.startswith("build-ups"):
            window.board("build-ups").layers.focus_field("outer-wall.3", "thickness")
            settle(app, window)
        target = window
        if name == "worked-out":
            window.explain("heating_demand")
            target = window.working
            settle(app, window)
        elif not only or "nowait" not in only:
            end = time.monotonic() + 9  # let the heaviest assumption be found
            while "heaviest" not in window.margins._assumed.text() and time.monotonic() < end:
                app.processEvents()
                time.sleep(0.01)
        settle(app, window)
        target.grab().save(str(folder / f"{name}.png"))
        print(folder / f"{name}.png")
        window.document.session.saved()
        finish(window)
    app.quit()


if __name__ == "__main__":
    main()
