"""A test put into a home: its sizes are the home's, its n50 is measured, its file the evidence."""

from __future__ import annotations

from dataclasses import replace

from nuthatch.core.airtest.readings import AirTest
from nuthatch.core.airtest.validity import lines
from nuthatch.core.airtest.worked import worked
from nuthatch.core.assess import Assessment
from nuthatch.core.edits.changes import Batch, Change, ChangeRefused, Insert, SetValue
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.model.home import EvidenceFile
from nuthatch.core.model.part import Basis, Given
from nuthatch.core.results.figure import CannotKnow


def sized(a: Assessment, test: AirTest) -> AirTest:
    """The test with the sizes of the home where they are known; else as the file says."""
    volume, envelope = a.figures["air_volume"].value, a.figures["inner_envelope_area"].value
    return replace(
        test,
        volume=float(volume) if volume is not None else test.volume,
        envelope=float(envelope) if envelope is not None else test.envelope,
    )


def taken_in(a: Assessment, test: AirTest, proof: EvidenceFile) -> Batch:
    """n50 of a test as measured, with its file as evidence, as one step. Raises ChangeRefused where it cannot be worked out."""
    test = sized(a, test)
    try:
        result = worked(test)
    except CannotKnow as why:
        raise ChangeRefused(f"{proof.name}: {why} is wanted") from why
    if result.n50 is None:
        raise ChangeRefused(f"{proof.name}: the volume is wanted, from the shape or in the file")
    failing = [line.name for line in lines(test, result) if line.holds is False]
    when = f" of {test.tested}" if test.tested else ""
    source = f"air test{when}, ISO 9972 method {test.method}" + (f"; does not hold: {', '.join(failing)}" if failing else "")
    home = a.home
    changes: list[Change] = []
    known = next((e for e in home.evidence if e.sha256 == proof.sha256), None)
    if known is None:
        known = proof.model_copy(update={"id": fresh_ids(home, "evidence", 1)[0]})
        changes.append(Insert(owner="home", field="evidence", value=known))
    value = Given(value=round(result.n50, 3), basis=Basis.MEASURED, source=source, files=(known.id,))
    return Batch(label=f"n50 from {proof.name}", changes=(*changes, SetValue(part="air", field="n50", value=value)))
