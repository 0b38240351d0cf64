"""A test put into a home: its sizes are the home's, its n50 is measured, its file the evidence."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from nuthatch.core.airtest.readings import AirTest
from nuthatch.core.airtest.validity import Line, lines
from nuthatch.core.airtest.worked import Result, worked
from nuthatch.core.assess import Assessment
from nuthatch.core.edits.changes import Batch, Change, ChangeRefused, Insert, SetValue
from nuthatch.core.edits.desk import fresh_ids
from nuthatch.core.exchange.homefile import HomeFileError
from nuthatch.core.exchange.readings import read
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


@dataclass(frozen=True)
class Tested:
    """A test worked out with the sizes of a home, and whether each line of its validity holds."""

    test: AirTest
    result: Result
    lines: tuple[Line, ...]

    @property
    def failing(self) -> int:
        return sum(line.holds is False for line in self.lines)


def found(a: Assessment, files: Sequence[tuple[str, bytes]]) -> tuple[Tested | None, str]:
    """(the test of the first of the files, name and bytes, that holds readings; what such a file lacks, or ''). A table that is none
    of readings proves n50 in its own way."""
    fault = ""
    for name, data in files:
        try:
            test = sized(a, read(data, name))
            result = worked(test)
            return Tested(test, result, lines(test, result)), ""
        except HomeFileError:
            continue
        except CannotKnow as why:
            fault = f"{name}: {why} is wanted"
    return None, fault
