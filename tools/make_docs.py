"""Writes docs/file-format.md and docs/home.schema.json from the model. A test keeps them current."""

from __future__ import annotations

import json
from pathlib import Path

from nuthatch.core.assess import assess
from nuthatch.core.model.home import SCHEMA, Home, walk_parts
from nuthatch.core.model.part import kinds_below, specs
from nuthatch.core.steps import ROUTE
from nuthatch.core.units import KINDS

DOCS = Path(__file__).parents[1] / "docs"
HEAD = """# The home file

A `.nuthatch` file is a zip: `home.json`; where a climate is chosen, `climate.epw`, the weather file the home was computed with; and `evidence/<sha256>`, the
attached files, each named by the SHA-256 of its content and listed under `evidence` in the home. Nothing else may be in it. `home.json` is UTF-8, in stable order, empty fields left out:

```json
{{"nuthatch": "home", "schema": {schema}, "home": {{"id": "home", "name": "…", …}}}}
```

All values are SI: lengths in m, areas in m², temperatures in °C, shares and percentages from 0 to 1. A value is
`{{"value": number, "basis": "assumed" | "declared" | "calculated" | "measured", "source": text, "evidence": text, "files": [ids of attached files]}}`.
Every part has an `id` that stands once in the home. The schema version is a whole number; an older file is brought up to date on opening, a newer one is refused.
The JSON Schema of `home` is in [home.schema.json](home.schema.json). This page is made from the model (`make docs`).

Saving writes a temporary file beside the old one, flushes it and the folder to disk, and renames it. Hidden beside a home `a.nuthatch` may lie: `.a.nuthatch.1` to `.3`, its last
three versions, newest first; `.a.nuthatch.lock` while it is open; `.a.nuthatch.autosave`, the home.json of work not saved yet; `.a.nuthatch.kept-…` work of an earlier session that is offered, `.a.nuthatch.left-…` work somebody left. What else is open and documented: [target sets](target-sets.md);
an office profile (`.nuthatch-office`) is a zip of `profile.json`, `logo.png`, `.jpg` or `.svg`, `climate.epw` and `target-sets/<id>.json`;
an office library (`.json`) is `{{"nuthatch": "library", "schema": number, "materials": [], "buildups": [], "opening_types": []}}` with parts as below.

Readings of an air test (`nuthatch air-test`, `.csv` or `.json`). In CSV (separated by `;`, tab or `,`; decimal point or comma; lines that begin with `#` are skipped) lines of
`what;value` stand first: `volume`, `envelope`, `floor`, `height`, `inside`, `outside` (temperatures), `humidity inside`, `humidity outside`, `barometer`, `wind`, `calibrated at` (°C), `tested`, `calibrated`, `calibrated until`
(dates such as 2026-11-20), `method` (1, 2, 3), `flow is` (`as read` or `corrected` for the fan's air), `ring NAME;coefficient [m³/h];exponent;least;most [Pa]`. The table follows, its first line
names the columns: `series` (`zero before`, `depressurising`, `pressurising`, `zero after`), `pressure` (inside over outside; a gauge without a sign is taken so), `flow`, or `fan pressure` and `ring`; `seconds`; `left out`
(the reason). A unit stands in brackets behind a name, or in the cell: Pa, hPa, in. w.c.; m³/h, l/s, cfm. JSON has the same names: `{{"nuthatch": "air test", "setup": {{}}, "rings": [{{"name", "coefficient", "exponent", "least", "most"}}], "readings": [{{"series", "pressure", …}}]}}`.
`examples/weir-cottage-air-test.csv` in the installed data is one to try. A bare air pressure is taken in the one unit it can be (Pa, hPa, kPa, mmHg, inHg), else its unit is asked for.

A detail (`nuthatch detail`, `.json`) is a cross-section: `{{"nuthatch": "detail", "name": "…", "plane": "vertical" or "horizontal", "blocks": [], "spaces": [], "flanks": []}}`, lengths in metres, y upward.
A block has `name`, `outline` (corners `[x, y]`) or `rectangle` (`[left, low, right, high]`), and `conductivity` (λ in W/(m·K)) or `"cavity": true` for closed air; `"glazing": true` for frame and glass. A space has `name`, `kind`
(`inside`, `outside`, `unheated`), an outline or rectangle that reaches up to the blocks (where it lies under one, the block counts), and if wanted `temperature` (°C), `film` (R_s in m²·K/W, 0 for a held surface; else by place as ISO 6946), `b` of an unheated one.
Where blocks end at the rim of the drawing beside no space they are cut planes. A flank is a plane part that ψ takes off: `name`, `inner` and `outer` (its length by internal and external dimensions), `u` or `across` (a line `[[x, y], [x, y]]` from inside to its other side, whose layers and films give U),
`to` (the space on its other side, where that is unheated). `examples/slab-edge.json` in the installed data is one to try. The code is 0 where f_Rsi is at least 0.70, 1 below, 3 where the grid cannot be made fine enough.

Files taken in (shapes, readings of a test) are read in a process of their own, which may take 300 s and 4 GB; whatever befalls it there is a sentence, and nothing in the home changes.

"""


BESIDE = """
Beside figures and months, `--json` prints `elements` (faces and openings: `id`, `name`, `kind`, `borders`, `area` in m², `u` in W/(m²·K), `b`, `loss` in W/K),
`rooms` of drawn plans (`id`, `name`, `storey`, `area` and `counted` in m², mean clear `height` in m, `supply` and `extract`, null until fresh air is worked out room by room)
and `edges` where faces meet (`id`, from what meets there: it stays when other edges come and go; `faces`; `length` in m; `angle` between the faces, measured inside, in degrees: above 180 the edge is re-entrant; `family`, null where it is none, or a person is to say which).
`junctions` are those that count and those only found (`id`, `name`, `family`, `edges`, `length` in m and `psi` in W/(m·K) in the home's dimensions, `psi_external`, `psi_internal`, `tier`, `loss` in W/K, null where it does not count; `counted_with_openings`: installation of openings, listed here and counted there).
Rooms have their flows in m³/h: `supply` and `extract` at normal operation, `low` and `boost`; their `heating_load` and `cooling_load` in W. `air_tests` are the tests of the home (`id`, `name`, `tested`, `counts`, `lacks`, `q50`, `n50`, `q_E50`,
`q_F50`, `area_4` in m², `validity` with `line`, `holds`, `says`, `zones` with `ratio`), `air_paths` every way air crosses the envelope (`id`, `name`, `loss` in W/K, `energy` in kWh/a of the months with heating, `says`).
What is not known is null, with a reason under `questions`.

Ids of faces: the side of an outline for the part of a wall toward outside air, the same with “.ground”, “.neighbour” or the name of an unheated space for its other parts;
`<outline>.floor`, `<outline>.roof`, `<outline>.ceiling`; `<roof part>.<plane>` for slopes."""

CARRIED = """
## What a dossier carries

The PDF (PDF/A-3, ISO 19005-3) encloses two files:

- `home.nuthatch`: the home as an ordinary home file, with its weather. Attached files are listed with their hashes and not held, but for the states of the home that revisions keep.
- `printed.json`: what was printed: `version`, `schema`, `date`, `state` (draft, revision 1 …), `units`, `letterhead`; `home`, the SHA-256 of the canonical home without what was issued of it, named on the foot of every page;
  `file`, the SHA-256 of the enclosed home file; `weather`; `evidence` (name, sha256, size); `figures` (key: value in SI, text as shown); `months`; `targets` (set, name, standing); `sheets`, a digest of each list with its numbers to
  nine digits; `pages`, a digest of each page: of what is drawn on it, the drawings and pictures it calls, and what is laid over it.

`nuthatch verify` compares all of these with the home worked out anew, and, where the version is the same, the words of each page with the page made anew.
"""


def file_format() -> str:
    """The page about the home file and the keys of the results."""
    lines = [HEAD.format(schema=SCHEMA)]
    for kind in kinds_below(Home):
        found = specs(kind)
        if not found:
            continue
        lines.append(f"## {kind.__name__}\n")
        lines.append("| field | meaning | unit stored | bounds or choices |\n| --- | --- | --- | --- |")
        for name, spec in found.items():
            unit = ""
            if spec.is_quantity:
                shown = KINDS[spec.kind]
                unit = {"thickness": "m", "width": "m", "percent": "0–1"}.get(spec.kind, shown.unit)
            bounds = [f"> {spec.above:g}"] if spec.above is not None else []
            bounds += [f"≥ {spec.least:g}"] if spec.least is not None else []
            bounds += [f"≤ {spec.most:g}"] if spec.most is not None else []
            lines.append(f"| `{name}` | {spec.label} | {unit} | {', '.join(spec.choices) or ', '.join(bounds)} |")
        lines.append("")
    lines.append("## Keys of the results\n\nWhat `nuthatch check FILE --json` prints under `figures` and `months`; the keys are stable.\n")
    a = assess(Home(), None)
    lines.append("| key | result | unit |\n| --- | --- | --- |")
    lines += [f"| `{key}` | {f.label} | {f.unit} |" for key, f in a.figures.items()]
    lines.append("\nMonths, 12 values in kWh: " + ", ".join(f"`{key}`" for key in a.months) + ".")
    lines.append(BESIDE)
    lines.append(CARRIED)
    assert list(walk_parts(Home()))
    return "\n".join(lines) + "\n"


def schema() -> str:
    """JSON Schema of the home."""
    return json.dumps(Home.model_json_schema(), ensure_ascii=False, indent=1) + "\n"


def manual() -> str:
    """The manual: the help cards of the steps with their pictures, after the hand-written part."""
    lines = [(DOCS / "manual-head.md").read_text(encoding="utf-8")]
    for step in ROUTE:
        picture = f"![{step.name}](screenshots/{step.key}.png)\n\n" if (DOCS / "screenshots" / f"{step.key}.png").exists() else ""
        lines.append(f"### {step.name}\n\n{picture}{step.about}\n")
        lines += [f"- **{term}**: {meaning}" for term, meaning in step.terms.items()]
        lines.append("")
    return "\n".join(lines)


if __name__ == "__main__":
    (DOCS / "manual.md").write_text(manual(), encoding="utf-8")
    (DOCS / "file-format.md").write_text(file_format(), encoding="utf-8")
    (DOCS / "home.schema.json").write_text(schema(), encoding="utf-8")
