"""Build-ups, ground, openings, vapour and code limits against published values and hand calculations."""

from __future__ import annotations

import numpy as np
import psychrolib
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nuthatch.core.assess import assess
from nuthatch.core.changes.changes import ChangeRefused, apply
from nuthatch.core.climate.humid_air import saturation_pressure
from nuthatch.core.climate.library import climate_for
from nuthatch.core.edits.fabric_edits import from_cavity
from nuthatch.core.energy.stages import ELEMENTS
from nuthatch.core.fabric import buildup as fabric
from nuthatch.core.fabric import ground, openings
from nuthatch.core.library import target_sets
from nuthatch.core.model.home import BuildUp, Layer, Opening, OpeningType
from nuthatch.core.model.part import replace
from nuthatch.core.results.figure import CannotKnow, Unknown
from nuthatch.core.targets import code
from tests.simple_home import g, layer, simple_home


def framed(ident: str, mm: float, conductivity: float, share: float, frame: float = 0.13) -> Layer:
    return replace(layer(ident, mm, conductivity), framing_share=g(share), framing_conductivity=g(frame))


def test_timber_wall_by_hand_both_limits() -> None:
    """ISO 6946:2017, 6.7.2: one framed layer, written out by hand.

    Wood-fibre 60 mm λ 0.045; 200 mm λ 0.035 with 10 % timber λ 0.13; OSB 15 mm λ 0.13; plasterboard 12.5 mm λ 0.25.
    """
    layers = (layer("w.1", 60, 0.045), framed("w.2", 200, 0.035, 0.10), layer("w.3", 15, 0.13), layer("w.4", 12.5, 0.25))
    wall = BuildUp(id="w", name="Wall", layers=layers)
    fixed = 0.13 + 0.04 + 0.06 / 0.045 + 0.015 / 0.13 + 0.0125 / 0.25
    insulated, timber = fixed + 0.2 / 0.035, fixed + 0.2 / 0.13
    upper = 1 / (0.9 / insulated + 0.1 / timber)
    lower = fixed + 0.2 / (0.9 * 0.035 + 0.1 * 0.13)
    plain, shares, frames = (tuple(n.value for n in group) for group in fabric.resistances(wall, "across"))
    got = fabric.limits_r(0.13, 0.04, plain, shares, frames)
    assert got == pytest.approx((upper, lower), rel=1e-9)
    assert fabric.transmittance(wall, "across", "outside air").value == pytest.approx(2 / (upper + lower), rel=1e-9)
    assert fabric.framing_error(wall, "across", "outside air") == pytest.approx((upper - lower) / (upper + lower))


def test_two_framed_layers_multiply_the_paths() -> None:
    """Four parallel paths by hand, ISO 6946:2017, 6.7.2.3."""
    wall = BuildUp(id="w", layers=(framed("w.1", 100, 0.04, 0.2), framed("w.2", 50, 0.04, 0.1)))
    plain, shares, frames = (tuple(n.value for n in group) for group in fabric.resistances(wall, "across"))
    flow = 0.0
    for f1, r1 in ((0.8, 2.5), (0.2, 0.1 / 0.13)):
        for f2, r2 in ((0.9, 1.25), (0.1, 0.05 / 0.13)):
            flow += f1 * f2 / (0.17 + r1 + r2)
    assert fabric.limits_r(0.13, 0.04, plain, shares, frames)[0] == pytest.approx(1 / flow)


@pytest.mark.parametrize(
    ("direction", "mm", "r"),
    [
        ("across", 5, 0.11),
        ("across", 25, 0.18),
        ("across", 300, 0.18),
        ("up", 15, 0.16),
        ("up", 300, 0.16),
        ("down", 50, 0.21),
        ("down", 100, 0.22),
        ("down", 300, 0.23),
        ("across", 20, 0.175),
    ],
)
def test_air_layers(direction: str, mm: float, r: float) -> None:
    """ISO 6946:2017, table 8; the last one interpolated between 15 and 25 mm."""
    assert fabric.air_layer_r(mm / 1000, direction) == pytest.approx(r)


def test_films_by_direction_and_what_lies_behind() -> None:
    """ISO 6946:2017, table 7 and 6.8: R_si 0.13, 0.10, 0.17; R_se 0.04, or R_si behind ventilation or to unheated space."""
    plain = BuildUp(id="p", layers=(layer("p.1", 100, 0.1),))
    for tilt, inner in ((0, 0.10), (45, 0.10), (60, 0.13), (90, 0.13), (120, 0.13), (180, 0.17)):
        assert fabric.films(plain, fabric.flow_direction(tilt), "outside air")[0].value == inner
    assert fabric.films(plain, "across", "outside air")[1].value == 0.04
    assert fabric.films(plain, "up", "unheated space")[1].value == 0.10
    clad = BuildUp(id="c", layers=(Layer(id="c.1", kind="well ventilated", thickness=g(0.04)), layer("c.2", 100, 0.1)))
    assert fabric.films(clad, "across", "outside air")[1].value == 0.13
    assert fabric.transmittance(clad, "across", "outside air").value == pytest.approx(1 / (0.13 + 1.0 + 0.13))


def test_metal_or_too_strong_framing_makes_u_unknown_until_detailed() -> None:
    """ISO 6946:2017, 6.7.2.1: not valid where metal bridges the insulation; upper/lower above 1.5 likewise."""
    metal = BuildUp(id="m", layers=(framed("m.1", 150, 0.035, 0.02, 50.0),))
    found = fabric.transmittance(metal, "across", "outside air")
    assert isinstance(found, Unknown) and "metal" in found.needs[0].text
    # 40 mm of insulation with 30 % of λ 5: the limits part by more than 1.5
    strong = BuildUp(id="s", layers=(framed("s.1", 200, 0.02, 0.3, 5.0),))
    assert isinstance(fabric.transmittance(strong, "across", "outside air"), Unknown)
    detailed = replace(metal, u_detailed=g(0.31))
    assert fabric.transmittance(detailed, "across", "outside air").value == 0.31


def test_slightly_ventilated_layers_lie_between() -> None:
    """ISO 6946:2017, 6.9.3: R_T = (1500 − A_v)/1000 R_T,u + (A_v − 500)/1000 R_T,v, by hand for 800 mm² per m."""
    gap = Layer(id="c.2", kind="air layer", thickness=g(0.03), opening_area=g(800))
    wall = BuildUp(id="c", name="C", layers=(layer("c.1", 24, 0.13), gap, layer("c.3", 160, 0.04)))
    still = 0.13 + 0.04 + 0.024 / 0.13 + 0.18 + 4.0
    ventilated = 0.13 + 0.13 + 4.0
    by_hand = 0.7 * still + 0.3 * ventilated
    assert fabric.transmittance(wall, "across", "outside air").value == pytest.approx(1 / by_hand)
    for area, r in ((400, still), (500, still), (1499.999, ventilated)):
        changed = replace(wall, layers=(wall.layers[0], replace(gap, opening_area=g(area)), wall.layers[2]))
        assert fabric.transmittance(changed, "across", "outside air").value == pytest.approx(1 / r, rel=1e-5)
    much = replace(wall, layers=(wall.layers[0], replace(gap, opening_area=g(2000)), wall.layers[2]))
    assert isinstance(fabric.transmittance(much, "across", "outside air"), Unknown), "it is well ventilated: its kind is to be set so"
    inside = replace(wall, layers=(layer("c.1", 160, 0.04), gap))
    assert isinstance(fabric.transmittance(inside, "across", "outside air"), Unknown)


def test_corrections_always_count() -> None:
    """ISO 6946:2017, annex F: level 1 ΔU″ 0.01 scaled by (R_insulation/R_T)²; small ones too, else a thicker layer could raise U."""
    thick, thin = (
        BuildUp(id="a", layers=(layer("a.1", 300, 0.035),), gap_level="1"),
        BuildUp(id="b", layers=(layer("b.1", 40, 0.035),), gap_level="1"),
    )
    r = 0.17 + 0.3 / 0.035
    assert fabric.transmittance(thick, "across", "outside air").value == pytest.approx(1 / r + 0.01 * (0.3 / 0.035 / r) ** 2)
    r = 0.17 + 0.04 / 0.035
    assert fabric.transmittance(thin, "across", "outside air").value == pytest.approx(1 / r + 0.01 * (0.04 / 0.035 / r) ** 2)


def studs(mm: float, share: float, conductivity: float, **more: object) -> BuildUp:
    """A layer of insulation λ 0.035 with framing in it, a plain board before it."""
    held = replace(layer("f.1", mm, 0.035), framing_share=g(share), framing_conductivity=g(conductivity))
    return BuildUp(id="f", name="F", layers=(held, layer("f.2", 15, 0.25)), **more)  # type: ignore[arg-type]


@pytest.mark.parametrize(("share", "conductivity"), [(0.15, 0.13), (0.3, 0.18), (0.06, 0.5), (0.5, 0.2)])
def test_corrections_of_a_framed_layer_ignore_all_bridging(share: float, conductivity: float) -> None:
    """Method 3: R_T of (R₁/R_T)² without framing, so that the ratio never passes 1; U itself by the combined method."""
    r_1, r_0 = 0.2 / 0.035, 0.17 + 0.2 / 0.035 + 0.015 / 0.25
    plain = fabric.transmittance(studs(200, share, conductivity), "across", "outside air").value
    gaps = fabric.transmittance(studs(200, share, conductivity, gap_level="2"), "across", "outside air").value
    assert plain is not None and gaps == pytest.approx(plain + 0.04 * (r_1 / r_0) ** 2)
    pins = {"fastener_conductivity": g(50), "fastener_section": g(2e-5), "fastener_count": g(4)}
    pinned = fabric.transmittance(studs(200, share, conductivity, **pins), "across", "outside air").value
    assert pinned == pytest.approx(plain + 0.8 * 50 * 2e-5 * 4 / 0.2 * (r_1 / r_0) ** 2)
    wet = fabric.transmittance(studs(200, share, conductivity, inverted_rain=g(3)), "up", "outside air").value
    dry = fabric.transmittance(studs(200, share, conductivity), "up", "outside air").value
    assert dry is not None and wet == pytest.approx(dry + 3 * 0.04 * (r_1 / (r_0 - 0.03)) ** 2)


@settings(max_examples=60, deadline=None)
@given(st.floats(5, 600), st.floats(1.001, 1.5), st.sampled_from("012"), st.floats(0, 0.3), st.floats(0, 5))
def test_a_thicker_layer_never_raises_u(mm: float, more: float, level: str, share: float, pins: float) -> None:
    given = {"gap_level": level, "fastener_conductivity": g(50), "fastener_section": g(2e-5), "fastener_count": g(pins)}
    thin, thick = (fabric.transmittance(studs(d, share, 0.13, **given), "across", "outside air").value for d in (mm, mm * more))
    assert thin is not None and thick is not None and thick < thin


@settings(max_examples=40, deadline=None)
@given(st.floats(0.01, 0.5), st.floats(0.02, 0.2), st.floats(0.001, 0.3))
def test_lower_limit_never_above_upper_and_insulation_never_hurts(d: float, conductivity: float, share: float) -> None:
    plain, rf = d / conductivity, d / 0.13
    upper, lower = fabric.limits_r(0.13, 0.04, (plain, 0.1), (share, 0.0), (rf, 1.0))
    assert lower <= upper * (1 + 1e-12)
    thicker = fabric.limits_r(0.13, 0.04, (plain * 1.2, 0.1), (share, 0.0), (rf * 1.2, 1.0))
    assert thicker[0] > upper and thicker[1] > lower


@pytest.mark.parametrize(("ratio", "u"), [(0.1, 0.22), (0.2, 0.37), (0.5, 0.70), (0.7, 0.86), (1.0, 1.05)])
def test_slab_on_ground_table(ratio: float, u: float) -> None:
    """Building-services guide table for an uninsulated slab, clay λ 1.5, wall 0.3 m (from memory), to its two decimals."""
    assert round(ground.slab_u((100.0,), (ratio * 100,), (0.3, 0.0), 1.5, 0.0), 2) == u


def test_well_insulated_slab_takes_the_other_formula() -> None:
    """ISO 13370:2017, 7.1: d_t ≥ B′ uses λ/(0.457 B′ + d_t)."""
    d_t = 0.3 + 2.0 * (0.17 + 5.0 + 0.04)
    assert ground.slab_u((30.0, 20.0), (18.0, 12.0), (0.3, 5.0), 2.0, 0.0) == pytest.approx(2.0 / (0.457 * 50 / 15 + d_t))
    with pytest.raises(CannotKnow):
        ground.slab_u((50.0,), (0.0,), (0.3, 5.0), 2.0, 0.0)


def test_window_by_hand() -> None:
    """ISO 10077-1:2017, 6.3, by hand: 1.23 × 1.48 m, frame 0.11 m, U_g 0.6, U_f 0.9, ψ_g 0.035."""
    glass = (1.23 - 0.22) * (1.48 - 0.22)
    edge = 2 * (1.01 + 1.26)
    by_hand = (glass * 0.6 + (1.23 * 1.48 - glass) * 0.9 + edge * 0.035) / (1.23 * 1.48)
    assert openings.u_window((1.23, 1.48), (0.11, 0.11, 0.11), 0.6, 0.9, 0.035) == pytest.approx(by_hand, rel=1e-12)
    with pytest.raises(CannotKnow, match="no glass"):
        openings.u_window((0.2, 1.0), (0.11, 0.11, 0.11), 0.6, 0.9, 0.035)


def test_g_counts_for_the_glass_and_shgc_for_the_whole_opening() -> None:
    """g is of the glass at normal incidence, SHGC of the whole product: common practice, no source."""
    opening = Opening(id="o", name="O", width=g(2.0), height=g(1.0))
    whole = OpeningType(id="t", entry="whole window", whole_u=g(1.3), whole_solar=g(0.5), glass_share=g(0.6))
    area, value = openings.glass(opening, whole)
    assert area.value * value.value == pytest.approx(2.0 * 0.6 * 0.5)
    shgc = replace(whole, solar_kind="SHGC of the window")
    area, value = openings.glass(opening, shgc)
    assert area.value * value.value == pytest.approx(2.0 * 0.5)


@pytest.mark.parametrize(("t", "p"), [(20, 2337), (0, 610.5), (-10, 259)])
def test_saturation_pressure_of_the_standard(t: float, p: float) -> None:
    """ISO 13788:2012, annex E."""
    assert saturation_pressure(float(t)) == pytest.approx(p, abs=1.0)


def test_saturation_pressure_against_psychrolib() -> None:
    """psychrolib (ASHRAE Fundamentals functions), within 0.5 % from 0 to 40 °C."""
    psychrolib.SetUnitSystem(psychrolib.SI)
    t = np.arange(0.5, 40.1, 0.5)
    theirs = np.array([psychrolib.GetSatVapPres(v) for v in t])
    assert saturation_pressure(t) == pytest.approx(theirs, rel=0.005)


@pytest.mark.parametrize(("climate", "row"), [("verrin-plain", (0.30, 0.026, 0.060)), ("hallin-fell", (0.30, 0.024, 0.045))])
def test_trade_off_limit_by_hand_in_two_zones(climate: str, row: tuple[float, float, float]) -> None:
    """IECC 2021, table R402.1.2 (from memory): zones 3 and 6; areas of the simple home by hand; slab on ground stays out."""
    home = simple_home(climate, "residential-code")
    a = assess(home, climate_for(home, None))
    assert a.zone[0] == {"verrin-plain": "3", "hallin-fell": "6"}[climate]
    ip = 1055.05585262 / 3600 / (0.3048**2 / 1.8)  # Btu/(h·ft²·°F) in W/(m²·K), from the definitions of the units
    window, roof, wall = 3 * 3.0 + 2 * 1.2, 80.0, 108 - 3 * 3.0 - 2 * 1.2
    assert a.figures["ua_limit"].value == pytest.approx(ip * (row[0] * window + row[1] * roof + row[2] * wall), rel=1e-6)
    u_wall, u_roof = 1 / (0.17 + 0.2 / 0.035 + 0.2), 1 / (0.14 + 0.3 / 0.04 + 0.02 / 0.13)
    u = {e.id: e.u.value for e in a[ELEMENTS] if e.category == "openings"}
    assert a.figures["ua_proposed"].value == pytest.approx(u_wall * wall + u_roof * roof + u["south"] * 9.0 + u["north"] * 2.4, rel=1e-6)


def test_code_rows_for_marine_four_and_zone_zero() -> None:
    """IECC 2021, table R402.1.2 notes: marine 4 uses the row of 5, zone 0 that of 1 (from memory)."""
    table = next(s.ua_table for s in target_sets() if s.ua_table)
    assert code.zone_row(table, "4C") == code.zone_row(table, "5A") != code.zone_row(table, "4A")
    assert code.zone_row(table, "0A") == code.zone_row(table, "1A")
    assert code.zone_row(table, "4A")["floor"] == pytest.approx(0.047 * 5.678263, rel=1e-6)


def test_cavity_r_continuous_r_and_framing_share() -> None:
    """“R-21 cavity, R-5 continuous, 25 % framing” with 140 mm of wood λ 0.13, films 0.13 and 0.04: upper 3.631, lower 3.350, U 0.287."""
    home = apply(from_cavity(simple_home(), 21 / 5.678263, 5 / 5.678263, 0.25, 0.14), simple_home())
    wall = home.buildups[-1]
    plain, shares, frames = (tuple(n.value for n in group) for group in fabric.resistances(wall, "across"))
    upper, lower = fabric.limits_r(0.13, 0.04, plain, shares, frames)
    assert (round(upper, 3), round(lower, 3)) == (3.631, 3.350)
    assert round(float(fabric.transmittance(wall, "across", "outside air").value or 0), 3) == 0.287
    with pytest.raises(ChangeRefused):
        from_cavity(simple_home(), 0.0, 1.0, 0.25, 0.14)


def test_fasteners_by_what_they_are_and_rain_on_an_inverted_roof() -> None:
    """ISO 6946:2017, annex F.3 by hand: 0.8·λ_f·A_f·n_f/d·(R₁/R_T)², recessed 0.8·d₁/d; F.4: 0.04·p·(R₁/R_T)²; from 3 % of U on."""
    wall = BuildUp(
        id="f", name="F", layers=(layer("f.1", 160, 0.035), layer("f.2", 150, 1.8)), fastener_count=g(6), fastener_section=g(12.6e-6),
        fastener_conductivity=g(50),
    )  # fmt: skip
    r1 = 0.16 / 0.035
    r = 0.17 + r1 + 0.15 / 1.8
    extra = 0.8 * 50 * 12.6e-6 * 6 / 0.16 * (r1 / r) ** 2
    assert extra > 0.03 / r
    assert fabric.transmittance(wall, "across", "outside air").value == pytest.approx(1 / r + extra)
    half = replace(wall, fastener_depth=g(0.08))
    assert fabric.transmittance(half, "across", "outside air").value == pytest.approx(1 / r + extra / 2)
    typed = replace(wall, fasteners=g(0.02))
    assert fabric.transmittance(typed, "across", "outside air").value == pytest.approx(1 / r + 0.02), "a ΔU that is typed counts"
    lost = fabric.transmittance(replace(wall, fastener_section=None), "across", "outside air")
    assert isinstance(lost, Unknown) and lost.needs[0].field == "fastener_section"
    inverted = BuildUp(id="i", name="I", layers=wall.layers, inverted_rain=g(2.5))
    assert fabric.transmittance(inverted, "up", "outside air").value == pytest.approx(1 / (r - 0.03) + 0.04 * 2.5 * (r1 / (r - 0.03)) ** 2)
