"""Values that cannot be are unknown with a reason and a question, never a target met; what is too long or too many is refused."""

from __future__ import annotations

import base64
import io
from pathlib import Path

import pytest
from pypdf import PdfReader

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import ChangeRefused, Insert, SetValue, apply, declared
from nuthatch.core.climate.climate import Climate
from nuthatch.core.dossier import report
from nuthatch.core.dossier.logo import LogoFault, as_png, looked_through
from nuthatch.core.dossier.printing import fetcher
from nuthatch.core.dossier.report import letterhead, to_pdf
from nuthatch.core.edits import desk
from nuthatch.core.edits import whole_parts as moves
from nuthatch.core.library import demo_home
from nuthatch.core.model.home import EvidenceFile, Junction
from nuthatch.core.model.part import Given, replace
from nuthatch.core.office import Office, OfficeFile
from nuthatch.core.results.calculation import calculation
from nuthatch.core.results.figure import Entered, Known, Unknown
from tests.fuzz.readers import deadline


def test_a_loss_below_zero_is_unknown_and_asked_about(osier_assessed: Assessment) -> None:
    odd = Junction(id="odd", name="Odd", length=declared(10000), psi=declared(-0.5))
    home = apply(Insert(owner="home", field="junctions", value=odd), osier_assessed.home)
    a = assess(home, osier_assessed.climate)
    loss = a.figures["transmission_loss_coefficient"]
    assert (
        isinstance(loss, Unknown) and "not below zero" in loss.needs[0].text and (loss.needs[0].part, loss.needs[0].field) == ("odd", "psi")
    )
    assert all(isinstance(a.figures[k], Unknown) for k in ("heating_demand", "heating_load", "primary_energy", "time_constant"))
    judged = {w.key: w.standing for v in a.verdicts for w in v.ways}
    assert judged["heating_demand"] == judged["heating_load"] == "unknown"
    assert any((q.part, q.field) == ("odd", "psi") and "not below zero" in q.text for q in a.questions)


@pytest.mark.parametrize(("field", "value"), [("storey_height", 1e-12), ("length", 1e-12), ("depth", 1e-9)])
def test_a_home_too_small_for_its_walls(form_assessed: Assessment, field: str, value: float) -> None:
    home = apply(SetValue(part="form", field=field, value=declared(value)), form_assessed.home)
    a = assess(home, form_assessed.climate)
    for key in ("reference_floor_area", "air_volume", "heating_demand", "heating_load", "n50", "q50", "primary_energy", "co2"):
        figure = a.figures[key]
        assert isinstance(figure, Unknown) or figure.value >= 0, key
    assert not any(w.standing == "inside" for v in a.verdicts for w in v.ways if w.key in ("heating_demand", "heating_load"))


@pytest.mark.parametrize("far", [0.3, 0.8, 1e-6])
def test_plans_too_small_for_their_walls(osier_assessed: Assessment, far: float) -> None:
    """Every corner of a storey nearer to the origin than its walls are thick: no room, no figure, never one below zero."""
    home = osier_assessed.home
    for corner in ("low.b", "low.c", "up.b", "up.c", "top.b", "top.c"):
        home = apply(SetValue(part=corner, field="x", value=declared(far)), home)
    a = assess(home, osier_assessed.climate)
    for key in ("reference_floor_area", "air_volume", "heating_demand", "heating_load", "n50", "q50", "primary_energy", "co2"):
        figure = a.figures[key]
        assert isinstance(figure, Unknown) or figure.value >= 0, key
    assert not any(w.standing == "inside" for v in a.verdicts for w in v.ways if w.key in ("heating_demand", "heating_load"))


def test_set_points_that_cross_are_asked_about(osier_assessed: Assessment) -> None:
    home = apply(SetValue(part="site", field="heating_setpoint", value=declared(27)), osier_assessed.home)
    asked = [q.text for q in assess(home, osier_assessed.climate).questions if (q.part, q.field) == ("site", "heating_setpoint")]
    assert asked == ["Heating to 27.0\u00a0°C and cooling to 25.0\u00a0°C at once cannot be"]
    assert not [q for q in osier_assessed.questions if q.field == "heating_setpoint"]


def test_a_code_table_without_a_column_leaves_the_limit_unknown(marrowby: Climate) -> None:
    home = demo_home("sail-loft")
    partial = tuple(replace(s, ua_table={"5": {"fenestration": 0.3}}) if s.ua_table else s for s in home.target_sets)
    a = assess(replace(home, target_sets=partial), marrowby)
    assert isinstance(a.figures["ua_limit"], Unknown)


def test_the_bound_of_a_calculation_holds_for_arrays_and_names_no_place_it_does_not_know() -> None:
    @calculation("Trial", "w_per_k", "x = a", "trial", least=0, a="a: w_per_k")
    def trial(a: float) -> float:
        return a

    assert isinstance(trial.figure(a=Entered("a", 0.0, "w_per_k")), Known)
    below = trial.figure(a=Entered("a", -1e-9, "w_per_k"))
    assert isinstance(below, Unknown) and below.needs[0].part == ""


# too long, too many


def test_texts_and_files_beyond_their_room_are_refused() -> None:
    home = demo_home("osier-lane-7")
    for field in ("source", "evidence"):
        assert desk.proof(home, "air", "n50", **{field: "x" * 2000}) is not None
        with pytest.raises(ChangeRefused, match="2000"):
            desk.proof(home, "air", "n50", **{field: "x" * 2001})
    with pytest.raises(ChangeRefused, match="20000"):
        apply(SetValue(part="brief", field="notes", value="x" * 20001), home)
    given = Given(value=0.6, files=tuple(f"file-{n}" for n in range(100)))
    with pytest.raises(ChangeRefused, match="100"):
        moves.attached(home, "air", "n50", given, EvidenceFile(id="new", name="101st", sha256="1" * 64, size=1))


# logos and the writer of the dossier

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="40" height="20">'


def svg(body: str) -> bytes:
    return f"{HEAD}{body}</svg>".encode()


def laughs(tag: str = "use", levels: int = 30) -> bytes:
    """Each level draws the one below ten times: 10³⁰ parts from some kilobytes."""
    rows = ['<g id="l0"><rect width="1" height="1"/></g>']
    rows += [f'<g id="l{n}">' + f'<{tag} xlink:href="#l{n - 1}"/>' * 10 + "</g>" for n in range(1, levels)]
    return svg(f"<defs>{''.join(rows)}</defs><use href='#l{levels - 1}'/>")


HOSTILE = {
    "laughs": laughs(),
    "circle": svg('<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g>'),
    "itself": svg('<pattern id="p"><rect fill="url(#p)" width="9" height="9"/></pattern><rect fill="url(#p)" width="9" height="9"/>'),
    "file": svg('<image href="file:///etc/passwd" width="9" height="9"/>'),
    "network": svg('<image xlink:href="http://127.0.0.1:1/x.png" width="9" height="9"/>'),
    "style": svg('<style>@import url("file:///etc/passwd");</style>'),
    "fill": svg('<rect fill="url(file:///etc/passwd#x)" width="9" height="9"/>'),
    "relative": svg('<image href="../../secret.png" width="9" height="9"/>'),
    "entities": b'<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]>' + svg("<text>&b;</text>"),
    "outside entity": b'<!DOCTYPE svg [<!ENTITY a SYSTEM "file:///etc/passwd">]>' + svg("<text>&a;</text>"),
    "deep": svg("<g>" * 5000 + "</g>" * 5000),
    "many": svg("<rect/>" * 30000),
    "cut": svg("<g>")[:-4],
    "large": svg(" " * 1_100_000),
    "no svg": b"<html></html>"[:5],
}


@pytest.mark.parametrize("name", sorted(HOSTILE))
def test_a_hostile_logo_is_refused_at_once(name: str) -> None:
    with deadline(name), pytest.raises(LogoFault) as fault:
        as_png(HOSTILE[name], "svg")
    assert str(fault.value)
    assert letterhead(OfficeFile(Office(company="C", logo="svg"), HOSTILE[name])).logo == ""


def test_a_good_logo_becomes_a_small_raster() -> None:
    body = '<defs><g id="wing"><path d="M0 0h9v9z" fill="#4B6477"/></g></defs><use href="#wing"/><use x="12" xlink:href="#wing"/>'
    looked_through(svg(body))
    png = as_png(svg(body), "svg")
    assert png.startswith(b"\x89PNG") and int.from_bytes(png[20:24]) <= 240
    assert as_png(png, "png").startswith(b"\x89PNG")
    assert letterhead(OfficeFile(Office(company="C", logo="svg"), svg(body))).logo.startswith("data:image/png;base64,")
    with pytest.raises(LogoFault):
        as_png(b"\x89PNG no picture", "png")


def test_a_picture_of_endless_pixels_is_refused() -> None:
    import struct
    import zlib

    head = struct.pack(">IIBBBBB", 60000, 60000, 8, 2, 0, 0, 0)
    chunk = b"IHDR" + head
    data = b"\x89PNG\r\n\x1a\n" + struct.pack(">I", len(head)) + chunk + struct.pack(">I", zlib.crc32(chunk))
    with deadline("pixels"), pytest.raises(LogoFault):
        as_png(data, "png")


def test_the_writer_of_the_dossier_reads_nothing_but_what_it_is_given(
    osier_assessed: Assessment, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    secret = tmp_path / "secret.png"
    secret.write_bytes(b"secret")
    for url in (secret.as_uri(), "file:///etc/passwd", "http://127.0.0.1:1/x", "https://example.invalid/x", "ftp://127.0.0.1/x"):
        with pytest.raises(ValueError, match="holds everything"):
            fetcher().fetch(url)
    assert fetcher().fetch("data:text/plain;base64," + base64.b64encode(b"x").decode()).read() == b"x"
    page = f'<head></head><body><p>read</p><img src="{secret.as_uri()}"><link rel="stylesheet" href="file:///etc/passwd"><link rel="attachment" href="{secret.as_uri()}"></body>'
    monkeypatch.setattr(report, "to_html", lambda *more: page)
    made = to_pdf(osier_assessed)
    assert made.startswith(b"%PDF") and b"secret" not in made and not PdfReader(io.BytesIO(made)).attachments
