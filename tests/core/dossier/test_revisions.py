"""Revisions: what went out is remembered with the home as it was; the next one says what has changed and what it did to each target."""

from __future__ import annotations

import hashlib
import json
from pathlib import Path

import pytest

from nuthatch import cli
from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import Remove, SetValue, apply
from nuthatch.core.dossier.makeup import made_for, profiles
from nuthatch.core.dossier.record import enclosed
from nuthatch.core.dossier.report import Made, shown_files, to_html
from nuthatch.core.dossier.revisions import NEVER, OUT_OF_DATE, bare, content_hash, issue, kept_state, standing_of, told
from nuthatch.core.dossier.verify import verify, verify_home
from nuthatch.core.files.homefile import HomeFile, HomeFileError, from_bytes, home_hash, to_bytes, write
from nuthatch.core.model.home import EvidenceFile, Home
from nuthatch.core.model.part import Basis, Given, replace
from nuthatch.core.register import check
from nuthatch.core.units import with_unit


def given_(value: float) -> Given:
    return Given(value=value, basis=Basis.DECLARED)


@pytest.fixture(scope="module")
def issued(osier_assessed: Assessment) -> tuple[Home, bytes]:
    """Osier Lane 7 with one revision issued, and the home it kept."""
    state = kept_state(osier_assessed.home)
    file = EvidenceFile(id="state-1", name="Osier Lane 7, revision 1.json", sha256=hashlib.sha256(state).hexdigest(), size=len(state))
    made = issue(osier_assessed, "first.pdf", "2026-12-01", "for the certifier", "0.2.0", file)
    assert made.label == "revision 1 issued"
    return apply(made, osier_assessed.home), state


def again(home: Home, base: Assessment) -> Assessment:
    return assess(home, base.climate, base)


def test_a_home_that_was_issued_is_the_same_home(issued: tuple[Home, bytes], osier_assessed: Assessment) -> None:
    home, state = issued
    assert content_hash(home) == home_hash(osier_assessed.home) == home.issued[0].sha256 and bare(home) == osier_assessed.home
    assert json.loads(state)["home"]["name"] == home.name and standing_of(osier_assessed.home) == NEVER
    assert standing_of(home) == "revision 1, 2026-12-01"
    results = {r.key: r.value for r in home.issued[0].results}
    shown = next(v for k, v in results.items() if k.endswith("Heating demand"))
    judged = next(w.value for v in osier_assessed.verdicts for w in v.ways if w.label == "Heating demand")
    assert shown == pytest.approx(float(judged))  # type: ignore[arg-type]
    kept = to_bytes(HomeFile(home, None, {home.evidence[-1].sha256: state}), whole=False)
    assert from_bytes(kept).home == home and list(from_bytes(kept).evidence.values()) == [state]


def test_what_has_changed_is_told_with_what_it_did(issued: tuple[Home, bytes], osier_assessed: Assessment) -> None:
    home, state = issued
    wall = home.buildups[0].layers[2]
    assert wall.thickness is not None
    thinner = apply(SetValue(part=wall.id, field="thickness", value=given_(wall.thickness.value - 0.1)), home)
    thinner = apply(Remove(part="w-09"), apply(SetValue(part="brief", field="project", value="retrofit"), thinner))
    lines = told(osier_assessed.home, thinner)
    assert len(lines) == 3
    was, now = with_unit(wall.thickness.value, "thickness"), with_unit(wall.thickness.value - 0.1, "thickness")
    assert any(f"{was} → {now}" in line and wall.name in line for line in lines)
    assert any("new build → retrofit" in line for line in lines) and any("removed" in line for line in lines)
    a = again(thinner, osier_assessed)
    files = {home.evidence[-1].sha256: state}
    page = to_html(a, Made(date="2026-12-02", files=files))
    chapter = page[page.index(">Revisions</h2>") : page.index(">Assumptions</h2>")]
    assert "for the certifier" in chapter and "Since revision 1" in chapter and all(line.split(" → ")[0] in chapter for line in lines)
    before = next(float(w.value) for v in osier_assessed.verdicts for w in v.ways if w.label == "Heating demand")  # type: ignore[arg-type]
    after = next(float(w.value) for v in a.verdicts for w in v.ways if w.label == "Heating demand")  # type: ignore[arg-type]
    assert f"+{after - before:.1f} kWh/(m²·a)" in chapter and OUT_OF_DATE in standing_of(thinner)
    lost = to_html(a, Made(date="2026-12-02"))
    assert "is not at hand" in lost[lost.index(">Revisions</h2>") :]
    same = to_html(again(home, osier_assessed), Made(date="2026-12-02", files=files))
    assert "Nothing of the home has changed." in same


def test_no_revision_no_chapter(osier_assessed: Assessment) -> None:
    assert ">Revisions</h2>" not in to_html(osier_assessed, Made(date="2026-12-02"))


def test_a_second_revision_is_checked_with_the_first_inside(issued: tuple[Home, bytes], osier_assessed: Assessment) -> None:
    home, state = issued
    client = next(p for p in profiles() if p.id == "client")
    short = apply(made_for(home, client), home)
    chapters = (*short.dossier.chapters, next(c for c in profiles()[0].chapters if c.chapter == "revisions"))
    short = replace(short, dossier=replace(short.dossier, chapters=chapters))
    files = shown_files(short, {home.evidence[-1].sha256: state}.get)
    assert list(files.values()) == [state]
    data = enclosed(again(short, osier_assessed), Made(date="2026-12-02", state="revision 2", files=files))
    found = verify(data, "second.pdf")
    assert found.standing == "agrees", found.as_text()


def test_a_home_against_what_was_issued(
    issued: tuple[Home, bytes], osier_assessed: Assessment, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    home, state = issued
    assert verify_home(HomeFile(home, None), "x").standing in ("agrees", "cannot be told")
    with pytest.raises(HomeFileError, match="no dossier of this home was issued"):
        verify_home(HomeFile(osier_assessed.home, None), "x")
    other = apply(SetValue(part="w-01", field="width", value=given_(1.0)), home)
    found = {line.what: line.says for line in verify_home(HomeFile(other, None), "x").lines if line.standing == "differs"}
    assert any(k.endswith("Heating demand") for k in found) and "revision 1 of 2026-12-01" in found
    # the register and the command line say so
    own = replace(other, evidence=(home.evidence[-1],), air_tests=(), air=replace(other.air, test=""))
    write(tmp_path / "h.nuthatch", HomeFile(own, None, {home.evidence[-1].sha256: state}))
    row = check(tmp_path / "h.nuthatch", (tmp_path / "h.nuthatch").read_bytes())
    assert OUT_OF_DATE in row.issued
    assert cli.main(["homes", str(tmp_path), "--csv"]) == 0 and OUT_OF_DATE in capsys.readouterr().out
    assert cli.main(["verify", str(tmp_path / "h.nuthatch"), "--json"]) == 1
    assert json.loads(capsys.readouterr().out)["standing"] == "differs"
