"""The steps of the route in working order, by key and name: one list for window, command line and documents."""

from __future__ import annotations

NAMES = (
    ("cutaway", "Cutaway"),
    ("brief", "Brief"),
    ("site", "Site"),
    ("shape", "Shape"),
    ("build-ups", "Build-ups"),
    ("openings", "Openings"),
    ("junctions", "Junctions"),
    ("air", "Air"),
    ("hot-water", "Hot water"),
    ("household", "Household"),
    ("heat-power", "Heat & power"),
    ("balance", "Balance"),
    ("dossier", "Dossier"),
)
STEPS = tuple(key for key, _ in NAMES)
PAGES = ("homes", "office")
TO_COME = ("options",)
