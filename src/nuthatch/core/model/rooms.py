"""Kinds of rooms: what rooms of a use are held at, and how much of the inner gains they have."""

from __future__ import annotations

from nuthatch.core.model.part import Given, IdentifiedPart, choice, quantity, ref
from nuthatch.core.model.plans import RoomUse


class RoomKind(IdentifiedPart):
    """What holds for every room of a use, unless the room says otherwise; the first of a use counts."""

    use: RoomUse = choice("Rooms used as", "living", short="Rooms")
    temperature: Given | None = quantity("temperature", "Held at", least=0, most=40, help="empty: the heating set-point", short="Held at")
    weight: Given | None = quantity(
        "factor", "Inner gains against other rooms", least=0, most=100, short="Gains", help="for each m², against rooms with 1; empty: 1"
    )
    pattern: str = ref("Gains come by the hours of", "patterns", short="Pattern", help="empty: as the home’s")
