"""A detail: the drawn cross-section of a junction for the calculation in two dimensions, kept in the home."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nuthatch.core.model.part import Given, IdentifiedPart, Part, choice, flag, quantity, ref, text

Number = Annotated[float, Field(allow_inf_nan=False, ge=-1000, le=1000)]
Corner = tuple[Number, Number]
MOST_CORNERS = 2000


class DetailBlock(IdentifiedPart):
    """A material of a section; its outline [m], y upward in a vertical one."""

    name: str = text("Block")
    outline: tuple[Corner, ...] = Field(default=(), max_length=MOST_CORNERS)
    conductivity: Given | None = quantity("conductivity", "Conductivity λ", above=0, most=1000, short="λ")
    cavity: bool = flag("Closed air", help="its λ follows from its size")
    glazing: bool = flag("Frame or glass", help="keeps its film where mould is judged")
    follows: str = text("Follows the layer")


class DetailSpace(IdentifiedPart):
    """Air beside the blocks of a section."""

    name: str = text("Space")
    kind: Literal["inside", "outside", "unheated"] = choice("Space is", "inside", short="Is")
    outline: tuple[Corner, ...] = Field(default=(), max_length=MOST_CORNERS)
    temperature: Given | None = quantity("temperature", "Temperature", least=-60, most=60)
    film: Given | None = quantity("resistance", "Surface resistance", least=0, most=10, help="by place where empty", short="R_s")
    b: Given | None = quantity("fraction", "b factor", least=0, most=1)


class DetailLie(Part):
    """How a plane part lies in a section: the build-up it follows and its layers as drawn, (id, thickness [m]) from `start` on along the
    normal, which is a quarter turn from `away` to the left (`side` 1) or right (−1); where its faces begin, which way it goes from there [°],
    where it is cut off [m along it]; which end is inside; what its U-value goes by."""

    buildup: str = ref("Build-up", "buildups")
    layers: tuple[tuple[str, Number], ...] = Field(default=(), max_length=100)
    corner: Corner = (0.0, 0.0)
    away: Number = 0.0
    side: Literal[-1, 1] = 1
    start: Number = 0.0
    cut: Number = 1.0
    inside_first: bool = True
    direction: Literal["up", "across", "down"] = "across"
    borders: str = Field(default="outside air", max_length=40)


class DetailFlank(IdentifiedPart):
    """A plane part that ψ takes off: its U, or a line across it that says it; its lengths by both dimensions."""

    name: str = text("Flank")
    inner: Given | None = quantity("length", "Length, internal", least=0, most=200, short="Internal")
    outer: Given | None = quantity("length", "Length, external", least=0, most=200, short="External")
    u: Given | None = quantity("u", "U-value", least=0, most=100)
    across: tuple[Corner, ...] = Field(default=(), max_length=2)
    to: str = text("Space on its other side", short="To")
    lie: DetailLie | None = None


class Detail(IdentifiedPart):
    name: str = text("Detail")
    plane: Literal["vertical", "horizontal"] = choice("Section is", "vertical")
    of_type: str = ref("Opening type", "opening_types", group="Side of an opening", short="Of the type")
    side: Literal["none", "jamb", "head", "sill"] = choice("Side of the opening", "none", short="Side")
    blocks: tuple[DetailBlock, ...] = ()
    spaces: tuple[DetailSpace, ...] = ()
    flanks: tuple[DetailFlank, ...] = ()
    beside: tuple[DetailLie, ...] = ()
    """Plane parts that are no flanks, and yet follow their build-ups."""
    ground_width: Annotated[float, Field(allow_inf_nan=False, ge=0, le=1000)] = 0.0
    """Characteristic width B′ [m] the ground in it was drawn for; 0 where there is none."""
