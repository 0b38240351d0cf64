"""Pictures as inline SVG for the dossier."""

from __future__ import annotations

from markupsafe import Markup

from nuthatch.core.assess import Assessment
from nuthatch.core.sketch import Sketch, to_svg, with_room
from nuthatch.core.units import beside
from nuthatch.core.views import charts
from nuthatch.core.views.pictures import PICTURES
from nuthatch.look import FONT, palette


def drawing(sketch: Sketch) -> Markup:
    """A sketch as inline SVG; its texts are escaped by the writer."""
    return Markup(to_svg(sketch, palette(), FONT))


def picture(a: Assessment, key: str, of: str = "") -> Markup:
    """A picture as SVG; a note in its place where its part is gone or its name is not known."""
    found = PICTURES.get(key)
    try:
        if found is None:
            raise KeyError(key)
        if found.sketch is not None:
            sketch = found.sketch(a, of)
            return drawing(with_room(sketch) if beside() else sketch)  # amounts in both units are longer than a drawing was made for
        assert found.chart is not None
        with charts.DRAWING:
            return Markup(charts.to_svg(found.chart(a, *found.size, {**palette(), "paper": "#FFFFFF"})))
    except KeyError:
        return Markup("<p class='muted'>What was pinned here is no longer in the home.</p>")
