"""The chapter of place and sun in the dossier: the site from above, what of the sun each opening lets in, what stands before it."""

from __future__ import annotations

from nuthatch.core.assess import Assessment
from nuthatch.core.climate.months import PLANES
from nuthatch.core.dossier.pictures import picture
from nuthatch.core.model.site import ClimateMonth, Site
from nuthatch.core.sun.let_in import LetIn
from nuthatch.core.sun.stages import FAR, LET_IN, RISE, SHELTER, SKYLINE
from nuthatch.core.units import METRIC, beside, system, with_unit
from nuthatch.core.views.openings.sun_rows import sun_sheet
from nuthatch.core.views.site_plan import shelter_words


def place(a: Assessment, site: bool = False) -> dict[str, object]:
    """What the chapters of the site and of the sun show; of the openings nothing where their sun is not known."""
    return _site(a) if site else _sun(a)


def _site(a: Assessment) -> dict[str, object]:
    site = a.home.site
    return {
        "plan": picture(a, "site-plan") if site.objects or site.ring else "",
        "objects": [
            (
                o.name,
                o.kind,
                *(with_unit(v.value, "length") if v is not None else "" for v in (o.east, o.north, o.length, o.depth, o.height)),
            )
            for o in site.objects
        ],
        "below": beside() or system() != METRIC,  # feet with inches, or both units: the list of objects is as wide as the page
        "hours": picture(a, "climate-hours") if a.site_climate else "",
        "horizon": picture(a, "horizon") if site.horizon or a[RISE][0] > 0 else "",
        "months": _by_hand(site),
    }


def _sun(a: Assessment) -> dict[str, object]:
    known = {i: x for i, x in a.all_of(LET_IN).items() if isinstance(x, LetIn)}
    if not known:
        return {"heads": [], "rows": [], "numeric": [], "shaded": [], "shelter": ""}
    sheet = sun_sheet(a).without_empty()
    far = a.all_of(FAR)
    sky = a[SKYLINE] is not None
    shown = [o for o in a.home.openings if o.id in known and (sky or o.overhang is not None or far.get(o.id) is not None)]
    shaded = [{"name": o.name, "drawing": picture(a, "seen", o.id), "hours": picture(a, "sun-hours", o.id)} for o in shown]
    return {
        "shelter": shelter_words(a),
        "heads": [h.text for h in sheet.heads],
        "rows": sheet.texts(),
        "numeric": sheet.numeric,
        "shaded": shaded,
    }


def _by_hand(site: Site) -> list[tuple[str, ...]]:
    """Months given by hand: name, then each value with its basis, '' where the file's counts."""
    fields = (("temperature", "temperature"), *((f, "sun_month") for f, _, _ in PLANES), ("reflectance", "fraction"))

    def cell(row: ClimateMonth, field: str, kind: str) -> str:
        given = row[field]
        return f"{with_unit(given.value, kind)} ({given.basis.value})" if given is not None else ""

    return [(row.month, *(cell(row, field, kind) for field, kind in fields)) for row in site.months]


def shielding_in_words(a: Assessment) -> str:
    """The class of shielding that counts."""
    found, said = a[SHELTER], a.home.air.shielding
    return said if said != "as the site shows" else found.shielding if found is not None else "moderate"
