"""Air and its vapour: saturation pressure over water and ice, heat capacity by volume."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

AIR_HEAT = 0.34
"""Heat capacity of air at sea level [Wh/(m³·K)]."""


def saturation_pressure(temperature: float | NDArray[np.float64]) -> float | NDArray[np.float64]:
    """Saturation vapour pressure [Pa] of air at a temperature [°C], ISO 13788:2012, annex E, over water from 0 °C, over ice below."""
    t = np.asarray(temperature, dtype=float)
    water = 610.5 * np.exp(17.269 * t / (237.3 + t))
    ice = 610.5 * np.exp(21.875 * t / (265.5 + t))
    found = np.where(t >= 0, water, ice)
    return np.asarray(found) if isinstance(temperature, np.ndarray) else float(found)


def temperature_at(pressure: float) -> float:
    """The temperature at which a vapour pressure [Pa] is that of saturation [°C]: annex E, turned round."""
    x = np.log(max(pressure, 1e-6) / 610.5)
    return float(237.3 * x / (17.269 - x) if pressure >= 610.5 else 265.5 * x / (21.875 - x))
