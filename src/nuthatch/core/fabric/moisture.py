"""Vapour: ISO 13788:2012. The saturation pressure now; the yearly condensation balance follows with its board."""

from __future__ import annotations

import numpy as np


def saturation_pressure(temperature: float | np.ndarray) -> float | np.ndarray:
    """Saturation vapour pressure [Pa] of air at a temperature [°C], ISO 13788:2012, annex E, over water from 0 °C, over ice below."""
    t = np.asarray(temperature, dtype=float)
    water = 610.5 * np.exp(17.269 * t / (237.3 + t))
    ice = 610.5 * np.exp(21.875 * t / (265.5 + t))
    found = np.where(t >= 0, water, ice)
    return found if isinstance(temperature, np.ndarray) else float(found)
