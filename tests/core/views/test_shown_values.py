"""What charts, the change line, the terminal and the dossier show is what was computed."""

from __future__ import annotations

import json
import re
from xml.etree import ElementTree

import numpy as np
import pytest

from nuthatch import look
from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import Insert, SetValue, apply, declared
from nuthatch.core.dossier.proof import missing_evidence
from nuthatch.core.dossier.report import to_html
from nuthatch.core.edits.junction_edits import by_tier
from nuthatch.core.energy.stages import BALANCE, ELEMENTS
from nuthatch.core.exchange.summary import as_data, as_text
from nuthatch.core.fabric.elements import CATEGORIES
from nuthatch.core.fabric.stages import B, BuildUpUse
from nuthatch.core.library import psi_rows
from nuthatch.core.model.home import Junction
from nuthatch.core.model.part import Given, replace
from nuthatch.core.questions import assumptions, standings, values
from nuthatch.core.results.figure import Entered, shown
from nuthatch.core.sketch import Path, Text
from nuthatch.core.units import INCH_POUND, KINDS, METRIC, show, using, with_unit
from nuthatch.core.views import charts
from nuthatch.core.views.air.drawings import air_flows, air_paths
from nuthatch.core.views.balance.account import account
from nuthatch.core.views.build_ups.section import Seen, section, section_in
from nuthatch.core.views.cutaway import cutaway, year_account
from nuthatch.core.views.junctions.four_ways import ways
from nuthatch.core.views.junctions.rows import rows
from nuthatch.desktop.change_line import effect

LIGHT, DARK = look.palette(), look.palette(True)


def heights(figure: object) -> np.ndarray:
    """Heights of all bars of a chart, in drawing order."""
    return np.array([p.get_height() for p in figure.axes[0].patches])  # type: ignore[attr-defined]


def test_the_amounts_chart_holds_every_category_and_month(osier_assessed: Assessment) -> None:
    bal = osier_assessed[BALANCE]
    figure = charts.balance_amounts(osier_assessed, 7, 3, LIGHT)
    found = heights(figure).reshape(-1, 12)
    wanted = [bal.losses[c].value for c in CATEGORIES] + [-bal.heating.value, -bal.sun.value, -bal.internal.value]
    assert found == pytest.approx(np.array(wanted))
    names = [t.get_text() for t in figure.axes[0].get_legend().get_texts()]
    assert names == [*CATEGORIES, "heating", "sun", "people, appliances"], "fixed categories, in fixed order"


def test_a_category_that_is_zero_stays_at_zero(osier_assessed: Assessment) -> None:
    home = replace(osier_assessed.home, junctions=(), junctions_none=True)
    a = assess(home, osier_assessed.climate)
    assert (a[BALANCE].losses["junctions"].value == 0).all()
    found = heights(charts.balance_amounts(a, 7, 3, LIGHT)).reshape(-1, 12)
    assert len(found) == len(CATEGORIES) + 3 and (found[CATEGORIES.index("junctions")] == 0).all()
    labels = [t.get_text() for t in charts.balance_shares(a, 4, 3, LIGHT).axes[0].get_yticklabels()]
    assert labels == list(CATEGORIES)


def test_shares_are_shares_and_total_a_hundred(osier_assessed: Assessment) -> None:
    figure = charts.balance_shares(osier_assessed, 4, 3, LIGHT)
    shares = np.array([p.get_width() for p in figure.axes[0].patches])
    book = account(osier_assessed[BALANCE])
    losing = [v for v in book.losses.values() if v > 0]
    assert shares[shares > 0].sum() == pytest.approx(100), "what lowers the loss stands beside them, below zero"
    assert shares[0] == pytest.approx(100 * book.losses["walls"] / sum(losing))
    assert "%" in figure.axes[0].get_xlabel()


def test_unknown_balances_have_a_sentence_instead_of_bars(demo_assessments: dict[str, Assessment]) -> None:
    for chart in (charts.balance_amounts, charts.balance_shares):
        figure = chart(demo_assessments["sail-loft"], 5, 3, LIGHT)
        assert not figure.axes[0].patches and "not known yet" in figure.axes[0].texts[0].get_text()


def test_charts_are_vectors_with_text_in_both_palettes(osier_assessed: Assessment) -> None:
    for tokens in (LIGHT, DARK):
        text = charts.to_svg(charts.balance_amounts(osier_assessed, 7, 3, tokens))
        ElementTree.fromstring(text)
        assert "<image" not in text and ">people, appliances<" in text and tokens["paper"].lower() in text.lower()


def contrast(one: str, two: str) -> float:
    """WCAG 2.1 contrast ratio of two colours."""

    def light(color: str) -> float:
        parts = [int(color[i : i + 2], 16) / 255 for i in (1, 3, 5)]
        r, g, b = (p / 12.92 if p <= 0.03928 else ((p + 0.055) / 1.055) ** 2.4 for p in parts)
        return 0.2126 * r + 0.7152 * g + 0.0722 * b

    bright, dark = max(light(one), light(two)), min(light(one), light(two))
    return (bright + 0.05) / (dark + 0.05)


@pytest.mark.parametrize("palette", [LIGHT, DARK], ids=["light", "dark"])
@pytest.mark.parametrize("text", ["ink", "muted", "chestnut_text"])
@pytest.mark.parametrize("ground", ["paper", "panel", "card", "white", "select"])
def test_text_contrast_is_at_least_four_and_a_half(palette: dict[str, str], text: str, ground: str) -> None:
    assert contrast(palette[text], palette[ground]) >= 4.5, (text, ground)


def test_both_palettes_have_the_same_tokens() -> None:
    assert set(LIGHT) == set(DARK) and all(re.fullmatch("#[0-9A-F]{6}", v) for v in (*LIGHT.values(), *DARK.values()))


def test_drawings_use_only_known_tokens(osier_assessed: Assessment) -> None:
    for sketch in (cutaway(osier_assessed), year_account(osier_assessed), section_in(osier_assessed, osier_assessed.home.buildups[0])):
        for item in sketch.items:
            used = (item.fill, item.stroke) if isinstance(item, Path) else (item.color,)
            assert all(not token or token in LIGHT for token in used)


def test_the_section_is_to_scale_and_complete(osier_assessed: Assessment) -> None:

    wall = osier_assessed.home.buildups[0]
    made = section(wall, BuildUpUse("", wall.id, "across", "outside air"), Seen(-10))
    edges = {}
    for item in made.items:
        if isinstance(item, Path) and item.id.startswith("outer-wall.") and not item.stroke:
            edges[item.id] = item.points[1][0] - item.points[0][0]
    total = sum(layer.thickness.value for layer in wall.layers)
    drawn = sum(edges.values())
    assert made.width / 2 < drawn < made.width
    assert edges == pytest.approx({layer.id: drawn * layer.thickness.value / total for layer in wall.layers})
    numbers = [i.text for i in made.items if isinstance(i, Text)]
    assert {"24", "60", "220", "15", "45", "12.5", "−10\u00a0°C", "20\u00a0°C"} <= set(numbers)


def test_the_change_line_speaks_of_the_tightest_target(osier_assessed: Assessment) -> None:
    a = osier_assessed
    better = assess(apply(SetValue(part="air", field="n50", value=declared(0.5)), a.home), a.climate, a)
    # n50 is inside now, so the tightest one is another; heating demand moves with the leaks
    assert "heating demand −" in effect(a, better)
    worse = assess(apply(SetValue(part="air", field="n50", value=declared(0.9)), a.home), a.climate, a)
    assert effect(a, worse).startswith("air change at 50 Pa +0.26 1/h")
    renamed = assess(apply(SetValue(part="home", field="name", value="Other"), a.home), a.climate, a)
    assert effect(a, renamed) == "no target moved" and effect(None, a) == ""
    unknown = assess(apply(SetValue(part="air", field="n50", value=None), a.home), a.climate, a)
    assert "now" in effect(unknown, a)


def test_junctions_left_out_typical_and_fallback_are_whole_homes(osier_assessed: Assessment) -> None:
    found = dict(ways(osier_assessed))
    assert found["as listed"] == osier_assessed.figures["heating_demand"].value
    assert found["as listed"] < found["fallback"] and found["typical"] < found["fallback"], (
        "left out may be worse: with external dimensions ψ is negative"
    )
    assert found["left out"] < found["fallback"]
    of_shape = {family: row.values["external"]["fallback"].value for family, row in psi_rows().items()}
    listed = rows(osier_assessed)
    by_hand = sum((of_shape if r.found else {"threshold": 0.30})[r.family] * (r.number("length") or 0) for r in listed)
    was = sum(r.loss or 0 for r in listed)
    home = apply(by_tier(osier_assessed.home.junctions, "fallback"), osier_assessed.home)
    a = assess(home, osier_assessed.climate)
    gap = a.figures["transmission_loss_coefficient"].value - osier_assessed.figures["transmission_loss_coefficient"].value
    assert gap == pytest.approx(by_hand - was)


def test_nineteen_metres_of_wall_to_floor_junction(osier_assessed: Assessment) -> None:
    """19 m at 25.5 K: ψ 0.32 → 155 W, ψ 0.01 → about 5 W: the method's check values, common practice."""
    for psi, watts in ((0.32, 155), (0.01, 5)):
        home = apply(
            Insert(owner="home", field="junctions", value=Junction(id="trial", name="Trial", length=declared(19), psi=declared(psi))),
            osier_assessed.home,
        )
        e = next(e for e in assess(home, osier_assessed.climate, osier_assessed)[ELEMENTS] if e.id == "trial")
        assert e.loss.value * 25.5 == pytest.approx(watts, abs=0.5)


def test_terminal_and_json_say_the_same(demo_assessments: dict[str, Assessment]) -> None:
    for a in demo_assessments.values():
        data, text = as_data(a), as_text(a)
        assert text.splitlines()[0] == data["home"]
        for target in data["targets"]:
            assert any(
                line.split()[0] == target["standing"] and f"· {target['name']}" in line for line in text.splitlines()[1:] if line.strip()
            )
            for way in target["ways"]:
                if way["value"] is not None:
                    node = a.under(next(s.id for s in a.home.target_sets if s.name == target["set"])).figures[way["figure"]]
                    assert show(node.value, node.kind) in text and KINDS[node.kind].to_shown(node.value) == pytest.approx(way["value"])
        for question in data["questions"]:
            assert f"{question['step']} · {question['item']}: {question['text']}" in text
        assert json.loads(json.dumps(data)) == data


def test_percentages_are_percent_in_json(osier_assessed: Assessment) -> None:
    figure = as_data(osier_assessed)["figures"]["effective_heat_recovery"]
    assert figure["unit"] == "%" and figure["value"] == pytest.approx(100 * osier_assessed.figures["effective_heat_recovery"].value)


def test_the_route_counts_questions_and_assumptions(osier_assessed: Assessment) -> None:
    found = standings(osier_assessed.home, osier_assessed.questions)
    assert (found["openings"].questions, found["junctions"].questions, found["air"].questions) == (1, 1, 1)
    assert found["air"].assumed == 0 and found["brief"].assumed == 0, "settled"
    assert sum(s.assumed for s in found.values()) == len(list(assumptions(osier_assessed.home)))


def test_the_dossier_lists_every_value_once_by_its_basis(osier_assessed: Assessment) -> None:
    home = osier_assessed.home
    html = to_html(osier_assessed)
    counts = {
        basis: sum(1 for v in values(home) if v[3].basis.value == basis) for basis in ("assumed", "declared", "calculated", "measured")
    }
    for basis, number in counts.items():
        assert f"{basis.capitalize()} ({number})" in html
    assert "test record 2026-09-14" in html, "evidence hangs on its value"
    proved = apply(
        SetValue(part="outer-wall.3", field="conductivity", value=Given(value=0.035, basis="declared", evidence="sheet.pdf")), home
    )
    assert len(missing_evidence(proved)) == len(missing_evidence(home)) - 1


def test_months_are_written_out_and_numbers_keep_their_sign() -> None:
    months = Entered("m", np.arange(12.0) - 1, "energy_month")
    assert shown(months).startswith("−1 · 0 · 1") and shown(months).endswith("kWh")
    assert shown(Entered("t", "up")) == "up" and shown(Entered("p", 0.845, "percent")) == "84.5\u00a0%"
    assert show(-12.0, "energy") == "−12"


def test_weir_cottage_is_far_and_says_by_how_much(demo_assessments: dict[str, Assessment]) -> None:
    a = demo_assessments["weir-cottage"]
    assert a.standing == "over" and a.figures["heating_demand"].value > 200, "solid brick without insulation: common practice, no source"
    wall = next(e for e in a[ELEMENTS] if e.category == "walls")
    assert wall.u.value == pytest.approx(1 / (0.13 + 0.33 / 0.77 + 0.02 / 0.8 + 0.04)), "330 mm of brick and plaster by hand"
    floor = next(e for e in a[ELEMENTS] if e.category == "floor")
    b = a.all_of(B)["Cellar"].value
    assert floor.loss.value == pytest.approx(b * floor.u.value * floor.area.value) and 0.5 < b < 0.6, "the cellar by its own balance"
    assert a.home.sources[0].heating_share.value + a.home.sources[1].heating_share.value == 1.0


def test_sail_loft_is_early_and_true(demo_assessments: dict[str, Assessment]) -> None:
    a = demo_assessments["sail-loft"]
    assert a.figures["people"].value == 1 and a.figures["heating_demand"].value is None and a.figures["ua_proposed"].value > 0
    assert [v.standing for v in a.verdicts if v.name == "Envelope trade-off"] == ["over"]
    floor = next(e for e in a[ELEMENTS] if e.id == "loft-flat.floor.workshop")
    assert floor.loss.value == pytest.approx(0.8 * floor.u.value * 4.77 * 8.68), "by the b somebody typed"


def test_an_openings_season_by_hand_and_by_the_homes_own_set_point(osier_assessed: Assessment) -> None:
    from nuthatch.core.views.openings.drawings import season_bars
    from nuthatch.core.views.openings.season import heating_season

    a = osier_assessed
    hours = (744, 672, 744, 720, 744, 720, 744, 744, 720, 744, 720, 744)
    e = next(e for e in a[ELEMENTS] if e.id == "w-01")
    months = [m for m in range(12) if a[BALANCE].heating.value[m] > 0]
    by_hand = sum(e.loss.value * (20 - a.climate.temperature[m]) * hours[m] / 1000 for m in months)
    assert heating_season(a, "w-01")[0] == pytest.approx(by_hand)
    warmer = assess(apply(SetValue(part="site", field="heating_setpoint", value=declared(22)), a.home), a.climate, a)
    assert heating_season(warmer, "w-01")[0] > by_hand * 1.1
    assert any("not known yet" in getattr(i, "text", "") for i in season_bars(assess(a.home, None), "w-01", "W").items)


def test_openings_toward_unheated_space_lose_by_b_and_toward_a_neighbour_nothing(form_assessed: Assessment) -> None:
    a = form_assessed
    out = next(e for e in a[ELEMENTS] if e.id == "w-06").loss.value
    cold = apply(
        SetValue(part="form", field="b_side", value=declared(0.4)),
        apply(SetValue(part="form", field="left", value="unheated space"), a.home),
    )
    assert next(e for e in assess(cold, a.climate)[ELEMENTS] if e.id == "w-06").loss.value == pytest.approx(0.4 * out)
    next_door = apply(SetValue(part="form", field="left", value="neighbour"), a.home)
    assert next(e for e in assess(next_door, a.climate)[ELEMENTS] if e.id == "w-06").loss.value == 0.0


def test_the_air_drawings_show_only_paths_that_are_there(demo_assessments: dict[str, Assessment]) -> None:
    """Without a unit nothing is bypassed; what windows bring is the demand less the leaks, 0 where the leaks bring it all."""
    osier, weir = demo_assessments["osier-lane-7"], demo_assessments["weir-cottage"]
    texts = {name: {i.text for i in air_paths(a).items if isinstance(i, Text)} for name, a in (("osier", osier), ("weir", weir))}
    assert {"Windows opened by hand", "Leaks", "Bypass in summer", "none counted: the unit brings what is needed"} <= texts["osier"]
    assert "Windows opened by hand" in texts["weir"]
    assert {"none: no unit moves air", "none: windows do it by hand"} <= texts["weir"], "the same paths always, and why one is nothing"
    shown = {i.text for i in air_flows(osier).items if isinstance(i, Text)}
    assert {"Demand for 4 people", "Supply", "Extract"} <= shown
    typed_n50 = apply(
        SetValue(part="air", field="n50", value=declared(1.0)), apply(SetValue(part="air", field="test", value=""), weir.home)
    )
    tight = assess(typed_n50, weir.climate, weir)
    untested = assess(apply(SetValue(part="air", field="test", value=""), weir.home), weir.climate, weir)
    for a, n50 in ((untested, 7.0), (tight, 1.0)):
        # ISO 13789:2007 annex C: n = n50·e with e 0.07 for several sides, moderate shelter, on the volume of the test
        leaks = n50 * 0.07 * a.figures["air_volume"].value
        rows = [i.text for i in air_flows(a).items if isinstance(i, Text)][1:-1]
        brought = dict(zip(rows[::2], rows[1::2], strict=True))
        assert brought["Leaks, in the mean"] == with_unit(leaks, "flow")
        assert brought["Windows opened by hand"] == with_unit(max(30 * 3 - leaks, 0), "flow")


def test_the_cutaway_says_how_many_metres_of_junctions_count(osier_assessed: Assessment) -> None:
    """14.4 + 9.4 + 9.4 on the ground, 14.4 eaves, 2 × 6.647 verge, 7.2 ridge, 11.4 corners, 33.2 upper floors, 24.7 party wall, 1.05 threshold."""
    by_hand = 14.4 + 9.4 + 9.4 + 14.4 + 13.294 + 7.2 + 11.4 + 33.2 + 11.4 + 13.294 + 1.05
    for system, words in ((METRIC, f"11 counted · {by_hand:.0f}"), (INCH_POUND, "11 counted · 45")):
        with using(system):
            texts = [i.text for i in cutaway(osier_assessed).items if isinstance(i, Text)]
            assert any(t.startswith(words) for t in texts), [t for t in texts if "counted" in t]
