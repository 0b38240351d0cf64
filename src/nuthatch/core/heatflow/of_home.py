"""Details of a home as sections, and sections as details."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from nuthatch.core.heatflow.section import Block, Flank, Section, SectionFault, Space
from nuthatch.core.model.details import Detail, DetailBlock, DetailFlank, DetailLie, DetailSpace
from nuthatch.core.model.part import Basis, Given

USUAL = {"inside": 20.0, "outside": -5.0, "unheated": 5.0}
"""Temperatures where a space says none [°C]; ψ and f_Rsi do not depend on them."""


def section_of(detail: Detail) -> Section:
    """The section a detail is. Raises SectionFault where a block has no λ, or a flank no lengths."""
    return Section(
        detail.name, tuple(map(_block, detail.blocks)), tuple(map(_space, detail.spaces)), tuple(map(_flank, detail.flanks)), detail.plane
    )


def _block(b: DetailBlock) -> Block:
    if not b.cavity and b.conductivity is None:
        raise SectionFault(f"“{b.name}” has no λ: type it, or say that it is closed air")
    return Block(b.name, b.outline, None if b.cavity or b.conductivity is None else b.conductivity.value, b.glazing)


def _space(s: DetailSpace) -> Space:
    return Space(
        s.name,
        s.kind,
        s.outline,
        s.temperature.value if s.temperature is not None else USUAL[s.kind],
        s.film.value if s.film is not None else None,
        s.b.value if s.b is not None else None,
    )


def _flank(f: DetailFlank) -> Flank:
    if f.inner is None or f.outer is None:
        raise SectionFault(f"“{f.name}” has no length: ψ takes off U times its length, internal and external")
    across = (f.across[0], f.across[1]) if len(f.across) == 2 else None
    return Flank(f.name, f.inner.value, f.outer.value, f.u.value if f.u is not None else None, across, f.to)


Valued = Callable[[float | None], Given | None]


@dataclass(frozen=True)
class Ties:
    """What a section follows: the layer of each block, '' for its own; how each flank lies; plane parts that are no flanks; the blocks whose
    material is only assumed; B′ of the ground in it [m]."""

    follows: tuple[str, ...] = ()
    lies: tuple[DetailLie | None, ...] = ()
    beside: tuple[DetailLie, ...] = ()
    assumed: frozenset[int] = frozenset()
    width: float = 0.0


def detail_of(section: Section, ident: str, basis: Basis = Basis.DECLARED, source: str = "", ties: Ties | None = None) -> Detail:
    """A section as a detail of a home; its values have this basis and source."""
    ties = ties or Ties()

    def given(value: float | None) -> Given | None:
        return Given(value=value, basis=basis, source=source) if value is not None else None

    return Detail(
        id=ident,
        name=section.name,
        plane=section.plane,
        blocks=_blocks_of(section, ident, given, ties),
        spaces=_spaces_of(section, ident, given),
        flanks=_flanks_of(section, ident, given, ties),
        beside=ties.beside,
        ground_width=ties.width,
    )


def _blocks_of(section: Section, ident: str, given: Valued, ties: Ties) -> tuple[DetailBlock, ...]:
    follows = ties.follows or ("",) * len(section.blocks)
    return tuple(
        DetailBlock(
            id=f"{ident}.b{n}",
            name=b.name,
            outline=b.outline,
            conductivity=given(b.conductivity) if n - 1 not in ties.assumed else _assumed(b.conductivity),
            cavity=b.conductivity is None,
            glazing=b.glazing,
            follows=of,
        )
        for n, (b, of) in enumerate(zip(section.blocks, follows, strict=True), 1)
    )


def _spaces_of(section: Section, ident: str, given: Valued) -> tuple[DetailSpace, ...]:
    return tuple(
        DetailSpace(
            id=f"{ident}.s{n}",
            name=s.name,
            kind=s.kind,
            outline=s.outline,
            temperature=given(s.temperature),
            film=given(s.film),
            b=given(s.b),
        )
        for n, s in enumerate(section.spaces, 1)
    )


def _flanks_of(section: Section, ident: str, given: Valued, ties: Ties) -> tuple[DetailFlank, ...]:
    lies = ties.lies or (None,) * len(section.flanks)
    return tuple(
        DetailFlank(
            id=f"{ident}.f{n}",
            name=f.name,
            inner=given(f.inner),
            outer=given(f.outer),
            u=given(f.u),
            across=f.across or (),
            to=f.to,
            lie=lie,
        )
        for n, (f, lie) in enumerate(zip(section.flanks, lies, strict=True), 1)
    )


def _assumed(value: float | None) -> Given | None:
    return Given(value=value, basis=Basis.ASSUMED, source="common practice") if value is not None else None
