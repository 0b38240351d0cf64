"""Hot water, collectors and heat pumps in the dossier."""

from __future__ import annotations

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.dossier.report import Made, to_html
from nuthatch.core.dossier.systems import systems
from nuthatch.core.library import demo_home


def test_the_water_s_way_and_the_pump_s_sheet_stand_in_the_dossier(osier_assessed: Assessment) -> None:
    text = to_html(osier_assessed, Made(date="2026-11-30"))
    assert "water drawn" in text and "4.60" in text and "COP, heating" in text and "Source/flow and COP" in text
    told = systems(osier_assessed)
    assert told["sun"] == "" and len(told["water"]) == 5 and told["pumps"][0]["rows"][0][-1] == "3.91"  # type: ignore[arg-type,index]


def test_what_the_sun_gives_is_said(marrowby) -> None:  # type: ignore[no-untyped-def]
    a = assess(demo_home("sail-loft"), marrowby)
    told = systems(a)
    assert str(told["sun"]).startswith("The sun gives 76 %") and [row[0] for row in told["water"]][-2:] == ["From the sun", "By sources"]  # type: ignore[attr-defined,union-attr]
    assert "Collectors on the south slope" in to_html(a, Made(date="2026-11-30"))
