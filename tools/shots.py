"""Writes one picture of each main view to docs/screenshots, from the demo homes. Usage: shots.py [FOLDER [NAME …]]"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from pathlib import Path

if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")):
    os.environ["QT_QPA_PLATFORM"] = "offscreen"

VIEWS = (
    ("homes", "osier-lane-7", "homes", False),
    ("ledger", "sail-loft", "ledger", False),
    ("cutaway", "osier-lane-7", "cutaway", False),
    ("brief", "weir-cottage", "brief", False),
    ("site", "osier-lane-7", "site", False),
    ("shape", "osier-lane-7", "shape", False),
    ("build-ups", "osier-lane-7", "build-ups", False),
    ("openings", "osier-lane-7", "openings", False),
    ("junctions", "osier-lane-7", "junctions", False),
    ("detail", "osier-lane-7", "junctions", False),
    ("air", "osier-lane-7", "air", False),
    ("hot-water", "weir-cottage", "hot-water", False),
    ("household", "osier-lane-7", "household", False),
    ("heat-power", "osier-lane-7", "heat-power", False),
    ("balance", "osier-lane-7", "balance", False),
    ("hours", "osier-lane-7", "balance", False),
    ("rooms-inch-pound-dark", "weir-cottage", "balance", True),
    ("options", "weir-cottage", "options", False),
    ("dossier", "osier-lane-7", "dossier", False),
)


def settle(app, window) -> None:  # type: ignore[no-untyped-def]
    calm, end = 0, time.monotonic() + 150
    while calm < 4 and time.monotonic() < end:
        app.processEvents()
        time.sleep(0.03)
        calm = calm + 1 if window.settled() else 0


def own_folders() -> None:
    """Folders of a person made up for the pictures, with the demo's office profile."""
    for kind in ("CONFIG", "DATA", "STATE"):
        os.environ[f"XDG_{kind}_HOME"] = tempfile.mkdtemp(prefix="nuthatch-shots-")
    from nuthatch.core.library import DATA, demo_folder
    from nuthatch.core.office import import_office
    from nuthatch.desktop import settings

    import_office(DATA / "examples" / "tidewrack.nuthatch-office")
    settings.change(folders=(str(demo_folder()),))


def for_the_picture(window, name: str) -> None:  # type: ignore[no-untyped-def]
    """What a picture shows beyond its step."""
    board = window.board("air") if name.startswith("air") else None
    if name == "openings":
        openings = window.board("openings")
        openings.rows.table.select("w-01")
        openings.work.drawings.show_widget(openings.sunny.strips.parentWidget())
        openings.work.lists.show_widget(openings.suns)
    if name == "site":
        window.board("site").surroundings.objects.table.select("birch")
    if name in ("hours", "rooms-inch-pound-dark"):
        board = window.board("balance")
        view, panel = (board.hours.view, board.hours.tried.panel) if name == "hours" else (board.rooms.view, board.rooms.panel)
        board.work.drawings.show_widget(view)
        board.work.lists.show_widget(panel)
    if name == "household":
        board = window.board("household")
        board.work.drawings.show_widget(board.patterns.day)
        board.in_front(board.patterns.patterns)
    if name == "hot-water":
        board = window.board("hot-water")
        board.in_front(board.pipes.list)
    if name == "air":
        board.fresh.choose_room("u.parents")
    elif name == "detail":
        board = window.board("junctions")
        board.select("j-07")
        board.facts.draw.click()
        board.in_front(board.details.list)
    elif name == "options":
        board = window.board("options")
        board.select("upgrade-4")
        board.work.lists.show_widget(board.closing.gap)
        board.closing.target.setCurrentIndex(board.closing.target.findText("Passive-house retrofit · Airtightness"))
        board.closing.look()
    elif name == "build-ups":
        window.board("build-ups").layers.focus_field("outer-wall.3", "thickness")
        window.board("build-ups").work.toggle_inspector()
    elif name == "shape":
        window.board("shape").plans.select("low.a")
    elif name == "dossier":
        record = Path(tempfile.mkdtemp()) / "air test plot 7.pdf"
        record.write_bytes(b"%PDF-1.4 an invented record" * 2000)
        window.document.desk.attach(record, "air", "n50")
        for step in ("balance", "air"):
            board = window.board(step)
            key, of = board.pictures()[0]
            board.pin(key, of, {"balance": "The year month by month", "air": "Leaks lose more than the unit"}[step])


def wait_for_the_heaviest(app, window) -> None:
    """Let the heaviest assumption be found."""
    end = time.monotonic() + 20
    while not window.document.weighing.settled and time.monotonic() < end:
        app.processEvents()
        time.sleep(0.01)


def main() -> None:
    own_folders()
    from nuthatch.core.library import demo_home
    from nuthatch.core.units import INCH_POUND, METRIC, use
    from nuthatch.desktop.app import application, finish, show
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
        use(INCH_POUND if "inch-pound" in name else METRIC)
        window = MainWindow(Document(demo_home(home)))
        window.resize(1280, 800)
        window.show()
        show(window, step)
        settle(app, window)
        for_the_picture(window, name)
        settle(app, window)
        target = window
        if step not in ("homes", "office") and "nowait" not in only:
            wait_for_the_heaviest(app, window)
        settle(app, window)
        target.grab().save(str(folder / f"{name}.png"))
        print(folder / f"{name}.png")
        window.document.session.saved()
        finish(window)
    app.quit()


if __name__ == "__main__":
    main()
