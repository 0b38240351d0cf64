"""A value's own half-width, typed as a share or in its unit, in both unit systems."""

from __future__ import annotations

import pytest

from nuthatch.core.edits.half_widths import half_read, half_words
from nuthatch.core.model.part import Given
from nuthatch.core.reading import BadText
from nuthatch.core.units import using, with_unit


@pytest.mark.parametrize(
    ("text", "value", "kind", "half"),
    [
        ("10 %", 0.04, "conductivity", 0.004), ("± 0.002", 0.04, "conductivity", 0.002), ("", 0.04, "conductivity", None), ("1 K", 20.0, "temperature", 1.0),
        ("1.8 °F", 20.0, "temperature", 1.0), ("5 %", 0.85, "percent", 0.05), ("0", 2.0, "u", 0.0),
    ],
)  # fmt: skip
def test_what_is_typed(text: str, value: float, kind: str, half: float | None) -> None:
    assert half_read(text, Given(value=value), kind) == (pytest.approx(half) if half is not None else None)


def test_what_cannot_be_is_said() -> None:
    for text in ("wide", "-3", "5 kg"):
        with pytest.raises(BadText):
            half_read(text, Given(value=0.04), "conductivity")


def test_it_is_shown_as_a_difference() -> None:
    with using("inch-pound"):
        assert half_words(Given(value=20.0, half=1.0), "temperature") == f"± {with_unit(1.0, 'difference')}" and "1.8" in with_unit(
            1.0, "difference"
        )
    assert half_words(Given(value=20.0, half=1.0), "temperature").startswith("± 1.0") and half_words(Given(value=1.0), "u") == ""
