"""The lists of the office profile, declared: materials, build-ups, opening types, fans with their rings, gauges."""

from __future__ import annotations

from nuthatch.core.edits.desk import Listing
from nuthatch.core.model.air_test import Fan, PressureGauge
from nuthatch.core.model.details import Detail
from nuthatch.core.model.dossier import DossierProfile
from nuthatch.core.model.home import BuildUp, OpeningType, OwnPsi
from nuthatch.core.model.household import ApplianceSet
from nuthatch.core.model.options import OwnCost
from nuthatch.core.model.rooms import RoomKind
from nuthatch.core.office import Material
from nuthatch.desktop.widgets.parts_model import Column

LISTS = (
    ("Materials", Listing("office", "materials", Material, "office-material"), "Add a material"),
    ("Build-ups", Listing("office", "buildups", BuildUp, "office-build-up"), "Add a build-up"),
    ("Opening types", Listing("office", "opening_types", OpeningType, "office-type"), "Add a type"),
    ("Fans for air tests", Listing("office", "fans", Fan, "office-fan"), "Add a fan"),
    ("Pressure gauges", Listing("office", "gauges", PressureGauge, "office-gauge"), "Add a gauge"),
    ("ψ catalogue", Listing("office", "psis", OwnPsi, "office-psi"), "Add a ψ"),
    ("Costs of upgrades", Listing("office", "costs", OwnCost, "office-cost"), "Add a cost"),
    ("Appliances and lights", Listing("office", "appliance_sets", ApplianceSet, "office-appliances"), ""),
    ("Kinds of rooms", Listing("office", "room_kinds", RoomKind, "office-room-kind"), "Add a kind of room"),
    ("Details of junctions", Listing("office", "details", Detail, "office-detail"), ""),
    ("Profiles of dossiers", Listing("office", "dossiers", DossierProfile, "dossier"), ""),
)
RINGS = (
    Column("Ring", "name"),
    Column("Coefficient", "coefficient", width=110),
    Column("Exponent", "exponent", width=90),
    Column("From", "least", width=80),
    Column("To", "most", width=80),
)


COLUMNS = {
    "materials": (
        Column("Material", "name"),
        Column("λ", "conductivity", width=150),
        Column("Density", "density", width=110),
        Column("μ", "mu", width=70),
    ),
    "buildups": (Column("Build-up", "name"),),
    "opening_types": (Column("Opening type", "name"),),
    "appliance_sets": (Column("Appliances and lights", "name"), Column("Of", text=lambda a, s: f"{len(s.appliances)} of them", width=110)),
    "room_kinds": (Column("Rooms", "use"), Column("Held at", "temperature", width=110), Column("Gains", "weight", width=90)),
    "fans": (
        Column("Fan", "name"),
        Column("Serial", "serial", width=110),
        Column("Calibrated", "calibrated", width=100),
        Column("Holds until", "until", width=100),
    ),
    "psis": (
        Column("Junction", "name"),
        Column("Family", "family", width=170),
        Column("ψ", "psi", width=110),
        Column("Tier", "tier", width=90),
        Column("Dimensions", "dimensions", width=100),
    ),
    "costs": (
        Column("Cost", "name"),
        Column("Kind", "kind", width=150),
        Column("Amount", "cost", width=110),
        Column("For", "per", width=80),
        Column("Life", "life", width=80),
    ),
    "dossiers": (
        Column("Profile", "name"),
        Column("Chapters", text=lambda a, p: str(sum(c.shown for c in p.chapters)), width=80),
        Column("Paper", "paper", width=80),
        Column("Units", "units", width=110),
    ),
    "details": (Column("Detail", "name"), Column("Section", "plane", width=100)),
    "gauges": (
        Column("Gauge", "name"),
        Column("Serial", "serial", width=110),
        Column("Calibrated", "calibrated", width=100),
        Column("Holds until", "until", width=100),
    ),
}
