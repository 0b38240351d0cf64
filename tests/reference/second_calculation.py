"""The monthly balance a second time, from the published formulas alone. Imports nothing of Nuthatch.

Weather is read with the csv module and put on planes by pvlib directly. Plain loops, no sharing of code.
"""

from __future__ import annotations

import cmath
import csv
import math
from pathlib import Path

import pandas as pd
import pvlib

DAYS = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31]
HOURS = [d * 24 for d in DAYS]


def stored(*layers: tuple[float, float, float, float]) -> float:
    """J/(m²·K) from inside, by the waves cosh γ and sinh γ of each layer, γ = (1 + i)·d·√(πρc/(λT))."""
    m = [[1 + 0j, 0j], [0j, 1 + 0j]]
    for d, lam, rho, c in layers:
        if rho == 0:
            z = [[1, -d / lam], [0, 1]]
        else:
            gamma = (1 + 1j) * d * math.sqrt(math.pi * rho * c / (lam * 86400))
            z = [[cmath.cosh(gamma), -cmath.sinh(gamma) * d / (lam * gamma)], [-lam * gamma / d * cmath.sinh(gamma), cmath.cosh(gamma)]]
        m = [[sum(z[i][k] * m[k][j] for k in range(2)) for j in range(2)] for i in range(2)]
    return 86400 / (2 * math.pi) * abs((m[0][0] - 1) / m[0][1])


def weather(path: Path) -> dict:
    with open(path, newline="") as stream:
        rows = list(csv.reader(stream))
    head = rows[0]
    hours = rows[8:]
    return {
        "lat": float(head[6]),
        "lon": float(head[7]),
        "zone": float(head[8]),
        "elev": float(head[9]),
        "t": [float(r[6]) for r in hours],
        "ghi": [float(r[13]) for r in hours],
        "dni": [float(r[14]) for r in hours],
        "dhi": [float(r[15]) for r in hours],
    }


def plane(w: dict, tilt: float, azimuth: float, reflectance: float) -> list[float]:
    """Hourly radiation on a plane by pvlib's own chain."""
    return [sum(parts[:3]) for parts in in_parts(w, tilt, azimuth, reflectance)]


def in_parts(w: dict, tilt: float, azimuth: float, reflectance: float) -> list[tuple[float, float, float, float]]:
    """By hour: beam with the circumsolar part, the rest of the sky, ground; the cosine of incidence. Light while the sun is down is even sky."""
    start = pd.Timestamp("2001-01-01") - pd.Timedelta(hours=w["zone"]) + pd.Timedelta(minutes=30)
    index = pd.date_range(start, periods=8760, freq="h", tz="UTC")
    sun = pvlib.solarposition.get_solarposition(index, w["lat"], w["lon"], altitude=w["elev"])
    extra, mass = pvlib.irradiance.get_extra_radiation(index), pvlib.atmosphere.get_relative_airmass(sun["apparent_zenith"])
    dhi, dni = (pd.Series(w[k], index=index) for k in ("dhi", "dni"))
    sky = pvlib.irradiance.perez(tilt, azimuth, dhi, dni, extra, sun["apparent_zenith"], sun["azimuth"], mass, return_components=True)
    found = []
    zeniths, azimuths, whole, around = (
        list(sun["apparent_zenith"]),
        list(sun["azimuth"]),
        list(sky["poa_sky_diffuse"]),
        list(sky["poa_circumsolar"]),
    )
    b = math.radians(tilt)
    for n in range(8760):
        z, off = math.radians(zeniths[n]), math.radians(azimuths[n] - azimuth)
        cosine = math.cos(z) * math.cos(b) + math.sin(z) * math.sin(b) * math.cos(off)
        ground = w["ghi"][n] * reflectance * (1 - math.cos(b)) / 2
        if zeniths[n] >= 90 or math.isnan(whole[n]):
            found.append((0.0, w["dhi"][n] * (1 + math.cos(b)) / 2, ground, cosine))
            continue
        up = zeniths[n] < 89
        beam = w["dni"][n] * max(cosine, 0.0) + around[n] if up else 0.0
        found.append((beam, max(whole[n] - (around[n] if up else 0.0), 0.0), ground, cosine))
    return found


def karlsson_roos(theta: float, panes: float, q: float) -> float:
    """g(θ)/g, θ in degrees."""
    z = theta / 90
    return 1 - 8 * z ** (5.2 + 0.7 * q) - 0.25 / q * z**2 - (1 - 8 - 0.25 / q) * z ** (5.26 + 0.06 * panes + (0.73 + 0.04 * panes) * q)


def even_light(panes: float, q: float) -> float:
    """g of light from everywhere over g, in steps of half a degree."""
    steps = [math.radians((n + 0.5) / 2) for n in range(180)]
    return 2 * sum(karlsson_roos(math.degrees(x), panes, q) * math.cos(x) * math.sin(x) for x in steps) * math.radians(0.5)


def behind_glass(parts: list, let: float, aslant: float | None) -> list[float]:
    """W/m² by hour that counts at the glass, one share for all three parts of the light."""
    if aslant is not None:
        return [let * aslant * (b + s + r) for b, s, r, _ in parts]
    even = even_light(3, 2)
    out = []
    for b, s, r, cosine in parts:
        angle = math.degrees(math.acos(min(max(cosine, 0.0), 1.0)))
        out.append(let * (b * karlsson_roos(angle, 3, 2) + even * (s + r)))
    return out


def monthly(values: list[float]) -> list[float]:
    out, at = [], 0
    for hours in HOURS:
        out.append(sum(values[at : at + hours]))
        at += hours
    return out


def eta_heating(gain: float, loss: float, tau: float) -> float:
    a = 1 + tau / 15
    gamma = gain / loss
    if gamma < 0:
        return 1 / gamma
    if gamma == 1:
        return a / (a + 1)
    return (1 - gamma**a) / (1 - gamma ** (a + 1))


def heating(gain: float, loss: float, tau: float) -> float:
    """Q_H of one month: nothing where there is no loss, nothing where the gains are more than twice the losses."""
    if loss <= 0 or gain / loss > 2:
        return 0.0
    return max(0.0, loss - eta_heating(gain, loss, tau) * gain)


def cooling(gain: float, loss: float, tau: float) -> float:
    """Q_C of one month: nothing where the losses are more than twice the gains."""
    if loss > 2 * gain:
        return 0.0
    a = 1 + tau / 15
    gamma = gain / loss if loss else math.inf
    if gamma <= 0 or math.isinf(gamma):
        eta = 1.0
    elif gamma == 1:
        eta = a / (a + 1)
    else:
        eta = (1 - gamma**-a) / (1 - gamma ** -(a + 1))
    return max(0.0, gain - eta * loss)


def two_days(hourly: list, first: int) -> float:
    """Mean over a calendar day and the one after it; after 31 December comes 1 January."""
    hours = [*range(first * 24, first * 24 + 24), *range((first + 1) % 365 * 24, (first + 1) % 365 * 24 + 24)]
    return sum(hourly[h] for h in hours) / 48


AS_DESIGNED = {
    "people": 3.0,
    "lump": True,
    "heat": 20.0,
    "cool": 25.0,
    "power": 2.0,
    "gas": 1.1,
    "higher": 0.0,
    "edge": None,
    "unit": True,
    "aslant": 0.9,
}


def second(path: Path, **given: object) -> dict:
    """All results of the simple house of tests/simple_home.py, its numbers typed here again.

    given: what differs: set-points, people (None: 35 m² each), a lump of gains or 80 W people and 2000 kWh of appliances, primary
    factors, metres the site lies above the station, edge insulation (R, thickness, depth, 1 lying or 2 standing), no unit.
    """
    say = {**AS_DESIGNED, **given}
    w = weather(path)
    w["t"] = [t - 6.5e-3 * say["higher"] for t in w["t"]]
    w["site"] = w["elev"] + say["higher"]
    temp = [v / h for v, h in zip(monthly(w["t"]), HOURS, strict=True)]
    # areas, outer dimensions 10 × 8 × 3; windows 3 × 2.0 × 1.5 south, 2 × 1.0 × 1.2 north
    win_s, win_n = 2.0 * 1.5, 1.0 * 1.2
    wall = 2 * (10 + 8) * 3 - 3 * win_s - 2 * win_n
    u_wall = 1 / (0.13 + 0.2 / 0.035 + 0.1 / 0.5 + 0.04)
    u_roof = 1 / (0.10 + 0.3 / 0.04 + 0.02 / 0.13 + 0.04)

    def u_w(b: float, h: float) -> tuple[float, float]:
        gw, gh = b - 0.2, h - 0.22
        glass = gw * gh
        return (glass * 0.7 + (b * h - glass) * 1.0 + 2 * (gw + gh) * 0.03) / (b * h), glass

    us, glass_s = u_w(2.0, 1.5)
    un, glass_n = u_w(1.0, 1.2)
    h_windows = 3 * (us * win_s + 0.02 * 2 * 3.5) + 2 * (un * win_n + 0.02 * 2 * 2.2)
    # slab, ISO 13370: wall 0.3 m thick, soil 2.0
    b_dash, r_f = 80 / (0.5 * 36), 0.15 / 0.036 + 0.1 / 2.0
    d_t = 0.3 + 2.0 * (0.17 + r_f + 0.04)
    u_g = 2 * 2.0 / (math.pi * b_dash + d_t) * math.log(math.pi * b_dash / d_t + 1) if d_t < b_dash else 2.0 / (0.457 * b_dash + d_t)
    depth = math.sqrt(3.15e7 * 2.0 / (math.pi * 2.0e6))
    h_pe = 0.37 * 36 * 2.0 * math.log(depth / d_t + 1)
    if say["edge"]:
        r_n, d_n, reach, side = say["edge"]
        more, far = (r_n - d_n / 2.0) * 2.0, reach * side
        u_g += 2 * -(2.0 / math.pi) * (math.log(far / d_t + 1) - math.log(far / (d_t + more) + 1)) / b_dash
        near = math.exp(-far / depth)
        h_pe = 0.37 * 36 * 2.0 * ((1 - near) * math.log(depth / (d_t + more) + 1) + near * math.log(depth / d_t + 1))
    h_t = wall * u_wall + 80 * u_roof + h_windows + 36 * 0.05
    # rooms: inner 9.4 × 7.4 m less 6 % partitions; volumes
    area = 9.4 * 7.4 * 0.94
    v_test = 9.4 * 7.4 * (3 - 0.32 - 0.25) * 0.94
    v_ref = area * 2.5
    # air
    density = (1 - 2.25577e-5 * w["site"]) ** 5.256
    outer = 0.16 + 0.1
    psi = 2 * math.pi / (math.log(outer / 0.16) / 0.035 + 2 / (8 * outer))
    eta = 0.8 * math.exp(-psi * 4 / (0.34 * density * 110))
    at_50 = 1.5 * v_test  # m³/h; n50 refers to the volume of the test, the unbalanced flow is compared with this flow
    n_inf = at_50 * 0.07 / (1 + 15 / 0.07 * (abs(110 - 100) / at_50) ** 2) / v_ref
    h_unit = 0.34 * density * (100 * (1 - eta) + 10)
    h_bypass = 0.34 * density * (100 + 10)
    h_inf = 0.34 * density * n_inf * v_ref
    people = say["people"] or area / 35
    if not say["unit"]:
        n_inf = 1.5 * 0.07 * v_test / v_ref
        h_inf = 0.34 * density * n_inf * v_ref
        h_unit = h_bypass = 0.34 * density * max(max(30 * people, 0.3 * v_ref) - n_inf * v_ref, 0)
    # water
    mean = sum(w["t"]) / 8760
    cold = [max(3.0, mean + 0.35 * (temp[m - 1] - mean)) for m in range(12)]
    kwh = 4186 / 3.6e6
    useful = [people * 25 * DAYS[m] * kwh * (60 - cold[m]) for m in range(12)]
    flow, held = 0.2 * 8, 1000 * kwh * 0.2 * 8  # W/K of the ring; Wh/K its water holds at 0.2 l a metre
    ring = flow * 4 + min(flow * 20, held * (1 - math.exp(-flow * 20 / held)))  # Wh/K a day: four hours of running, one stop of twenty
    lost = [2.0 * 40 * HOURS[m] / 1000 + ring * 40 * DAYS[m] / 1000 + people * 6 * DAYS[m] * 0.5 * kwh * 40 for m in range(12)]
    # gains
    parts_s, parts_n = in_parts(w, 90, 180, 0.2), in_parts(w, 90, 0, 0.2)
    sun_s, sun_n = behind_glass(parts_s, 0.8, say["aslant"]), behind_glass(parts_n, 0.9, say["aslant"])
    through = [(3 * s * glass_s + 2 * n * glass_n) * 0.5 * 0.95 for s, n in zip(sun_s, sun_n, strict=True)]
    sun = [v / 1000 for v in monthly(through)]
    # for cooling the summer share in hours of strong sun on warm days
    summer_s = behind_glass(parts_s, 0.6, say["aslant"])
    warm = [sum(w["t"][d * 24 : d * 24 + 24]) / 24 > 14 for d in range(365)]
    strong_s = [sum(p[:3]) > 200 and warm[h // 24] for h, p in enumerate(parts_s)]
    cooled_s = [summer_s[h] if strong_s[h] else sun_s[h] for h in range(8760)]
    cooled = [v / 1000 for v in monthly([(3 * s * glass_s + 2 * n * glass_n) * 0.5 * 0.95 for s, n in zip(cooled_s, sun_n, strict=True)])]
    if say["lump"]:  # the lump holds hot water already
        inside = [2.1 * area * HOURS[m] / 1000 for m in range(12)]
    else:
        inside = [(people * (80 * 0.55 - 25 - 5) + 2000 / 8.76) * HOURS[m] / 1000 + lost[m] for m in range(12)]
    # capacity: ISO 13786, layers from inside as (d, λ, ρ, c)
    kappa = {
        "wall": stored((0.1, 0.5, 1200, 1000), (0.2, 0.035, 0, 0)),
        "roof": stored((0.02, 0.13, 500, 1600), (0.3, 0.04, 0, 0)),
        "slab": stored((0.1, 2.0, 2400, 1000), (0.15, 0.036, 0, 0)),
    }
    c = wall * kappa["wall"] + 80 * kappa["roof"] + 80 * kappa["slab"] + 20000 * area
    tau = c / 3600 / (h_t + u_g * 80 + h_unit + h_inf)
    coldest, swing = temp.index(min(temp)), (max(temp) - min(temp)) / 2
    q_h, q_c, losses = [], [], []
    for m in range(12):
        wave = h_pe * swing * math.cos(2 * math.pi * (m - coldest - 1) / 12)
        ground = (u_g * 80 * (say["heat"] - mean) + wave) * HOURS[m] / 1000
        loss = (h_t + h_unit + h_inf) * (say["heat"] - temp[m]) * HOURS[m] / 1000 + ground
        gain = sun[m] + inside[m]
        q_h.append(heating(gain, loss, tau))
        losses.append(loss)
        ground_c = (u_g * 80 * (say["cool"] - mean) + wave) * HOURS[m] / 1000
        unit = h_unit if temp[m] >= say["cool"] else h_bypass
        tau_c = c / 3600 / (h_t + u_g * 80 + unit + h_inf)
        q_c.append(cooling(cooled[m] + inside[m], (h_t + unit + h_inf) * (say["cool"] - temp[m]) * HOURS[m] / 1000 + ground_c, tau_c))
    # the ground in its coldest month: 20 K of the steady flow and the whole wave
    waves = [h_pe * swing * math.cos(2 * math.pi * (m - coldest - 1) / 12) for m in range(12)]
    deepest = max(0.0, max(u_g * 80 * (say["heat"] - mean) + v for v in waves))
    days = []
    for first in range(365):
        t_day = two_days(w["t"], first)
        day_sun = two_days(through, first)
        days.append(((h_t + h_unit + h_inf) * (say["heat"] - t_day) + deepest - day_sun - 1.6 * area, first))
    heat, water = sum(q_h), sum(useful) + sum(lost)
    gas = 0.7 * heat / 0.9 + water / 0.9
    power = 0.3 * heat / 3.0 + sum(q_c) / 3.0 + 100 + (0.4 * 110 * 8.76 if say["unit"] else 0) + 2000
    return {
        "reference_floor_area": area,
        "heated_volume": 240.0,
        "air_volume": v_test,
        "transmission_loss_coefficient": h_t + u_g * 80,
        "ventilation_loss_coefficient": h_unit + h_inf,
        "time_constant": tau,
        "heating_demand": heat / area,
        "cooling_demand": sum(q_c) / area,
        "heating_load": max(0.0, max(days)[0]) / area,
        "load_first_day": max(days)[1],
        "infiltration_rate": n_inf,
        "effective_heat_recovery": eta if say["unit"] else 0.0,
        "hot_water_demand": water / area,
        "primary_energy": (gas * say["gas"] + power * say["power"]) / area,
        "co2": (gas * 0.2 + power * 0.3) / area,
        "solar_gains": sum(sun),
        "internal_gains": sum(inside),
        "q50": 1.5 * v_test / (2 * (9.4 + 7.4) * 2.43 + 2 * 9.4 * 7.4),
        "months": q_h,
        "cool_months": q_c,
        "losses": losses,
        "temperatures": w["t"],
        "means": temp,
        "cold": cold,
        "water_months": [u + v for u, v in zip(useful, lost, strict=True)],
        "setpoint": say["heat"],
    }
