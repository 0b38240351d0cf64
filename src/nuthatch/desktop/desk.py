"""What cards, lists and drawings use to change the home: the edit desk bound to a history. Boards know nothing else of it."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from typing import Any, Protocol

from PyQt6.QtCore import QObject, pyqtSignal

from nuthatch.core.assess import Snapshot
from nuthatch.core.changes.changes import Change, ChangeRefused, SetValue
from nuthatch.core.changes.history import Session
from nuthatch.core.edits import desk
from nuthatch.core.edits.desk import Block, Listing
from nuthatch.core.edits.detail_edits import with_detail
from nuthatch.core.edits.placed import in_place
from nuthatch.core.edits.roof_edits import followed
from nuthatch.core.edits.starts import Names
from nuthatch.core.edits.whole_parts import detached, pulled
from nuthatch.core.model.home import EvidenceFile, Home, find
from nuthatch.core.model.part import FieldSpec, Given, Part, specs
from nuthatch.core.sketch import Pull
from nuthatch.core.solid.stages import BOUNDARY, OUTLINES

Edit = Change | Callable[[], Change | None] | None
"""A change, or what makes one once it is known that anything may be changed; None where there is nothing to do."""


def _of_drag(pulls: Sequence[Pull]) -> str:
    return "drag " + " ".join(f"{p.part}.{p.field}" for p in pulls)


class Owner(Protocol):
    """What a desk stands in: it assesses the root, says whether it may be changed, and holds the files that belong to it."""

    @property
    def snapshot(self) -> Snapshot:
        """The root and its assessment, always of each other."""

    @property
    def keeps_evidence(self) -> bool:
        """Whether files can be attached to values."""

    def refusal(self) -> str:
        """Why nothing may be changed, or ''."""

    def follow(self, label: str, joined: bool) -> None:
        """The root has changed."""

    def keep_work(self) -> None:
        """Keep what is done against a crash, at once."""

    def taken(self, path: Path) -> EvidenceFile | str:
        """A file the root is to hold; or why it cannot."""

    def attached(self, path: Path, part: str, field: str) -> Change | None:
        """What attaches a file to a value. Raises ChangeRefused."""

    def evidence_bytes(self, sha: str) -> bytes | None:
        """An attached file's bytes; None where they are lost."""

    def add_weather(self, sha256: str, data: bytes) -> None:
        """Keep a weather file's bytes so that the root can refer to it."""

    def weather_bytes(self) -> bytes | None:
        """The weather file of the root's climate; None where there is none, or it is lost."""


TRYING = "trying"
"""Where what is tried on the root is kept beside the boards."""


class Desk(QObject):
    """`changed(label)` after every change of the root, `ending` when the person is done with it. Edits return why they were refused, or ''."""

    changed = pyqtSignal(str)
    failed = pyqtSignal(str)
    ending = pyqtSignal()

    def __init__(self, root: object, owner: Owner) -> None:
        super().__init__()
        self.session = Session(root)
        self._owner = owner
        self.under_way: dict[str, Any] = {}
        """What goes on beside the boards, by name: boards come and go with units and colours."""

    @property
    def home(self) -> Any:
        return self.session.home

    @property
    def snapshot(self) -> Snapshot:
        """The root and its assessment, always of each other."""
        return self._owner.snapshot

    def part(self, ident: str) -> Part | None:
        """A part of the root as it is now."""
        return find(self.home, ident) if ident else None

    def refusal(self) -> str:
        """Why nothing may be changed, or ''."""
        return self._owner.refusal()

    def after(self, label: str, joined: bool = False) -> None:
        """The root has changed."""
        self._owner.follow(label, joined)
        self.changed.emit(label)

    # edits

    def apply(self, change: Edit, merge: str = "") -> str:
        """Apply a change, or what makes one. merge: see Session.apply."""
        if self.refusal():
            return self.refusal()
        joined = self.session.merges(merge)
        try:
            made = change() if callable(change) else change
            if made is None:
                return ""
            base = self.session.base(merge)
            label = self.session.apply(with_detail(base, followed(base, made)) if isinstance(base, Home) else made, merge)
        except ChangeRefused as reason:
            return str(reason)
        if label is not None:
            self.after(label, joined)
        return ""

    def typed(self, part: str, field: str, value: float | None) -> str:
        """A number typed into a field; the keystrokes of one field are one step."""
        return self.apply(lambda: self._in_place(desk.typed_number(self.home, part, field, value)), merge=f"{part}.{field}")

    def _in_place(self, change: Change) -> Change:
        """A change, where what it concerns has room for it. Raises ChangeRefused."""
        a = self.snapshot.assessment
        return in_place(self.home, change, a[OUTLINES]) if a is not None else change

    def drag(self, pulls: Sequence[Pull], values: Sequence[float]) -> str:
        """What a drawing pulls, at its new values; all moves of one drag are one step."""
        return self.apply(lambda: pulled(self.home, pulls, values), merge=_of_drag(pulls))

    def let_be(self, pulls: Sequence[Pull]) -> None:
        """A drag given up: no step is left."""
        if self.session.merges(_of_drag(pulls)):
            label = self.session.take_back()
            if label is not None:
                self.after(label, True)

    def withdraw(self, part: str, field: str, given: Given | None) -> str:
        """Back to the value before the typing; joined with it, so that no step is left."""
        now = self.part(part)
        if now is None or getattr(now, field, None) == given:
            return ""
        if self.session.merges(f"{part}.{field}"):
            label = self.session.take_back()
            if label is not None:
                self.after(label, True)
            return ""
        return self.apply(SetValue(part=part, field=field, value=given), merge=f"{part}.{field}")

    def choose(self, part: str, field: str, value: object, by_key: bool = False) -> str:
        """A choice, flag, reference or text. by_key: gone through with the arrow keys, which is one step however many there are."""
        return self.apply(SetValue(part=part, field=field, value=value), merge=f"{part}.{field}" if by_key else "")

    def entered(self, part: str, field: str, text: str) -> str:
        """The text of a cell. Raises BadText, or Asked where it has two readings."""
        now = self.part(part)
        spec = specs(type(now))[field] if now is not None else None
        return self.apply(lambda: self._in_place(desk.typed_text(self.home, part, field, text, self.names(spec) if spec else ())))

    def proof(self, part: str, field: str, **changed: object) -> str:
        """Basis, source, evidence or files of a value."""
        return self.apply(lambda: desk.proof(self.home, part, field, **changed))

    def settle(self) -> None:
        """The field is left: the next keystroke is a step of its own."""
        self.session.settle()

    # rows

    def add(self, listing: Listing, **values: object) -> tuple[str, str]:
        """(id of a new part at the end of a list, why it was refused)."""
        return self._inserted(lambda: desk.new_part(self.home, listing, self.faces(), **values))

    def _inserted(self, make: Callable[[], Any]) -> tuple[str, str]:
        """(id of a part put into a list, why it was refused)."""
        try:
            change = make()
        except ChangeRefused as reason:
            return "", str(reason)
        if change is None:
            return "", "there is no row to duplicate"
        refused = self.apply(change)
        return ("", refused) if refused else (change.value.id, "")

    def duplicate(self, listing: Listing, part: str) -> tuple[str, str]:
        """(id of a copy below a part, why it was refused)."""
        return self._inserted(lambda: desk.duplicate(self.home, listing, part))

    def paste(self, listing: Listing, block: Block, answers: Mapping[str, str | int] | None = None) -> str:
        """A block from a spreadsheet as one step. Raises BadCell, and AskedColumn where a column is not answered yet."""
        kinds = specs(listing.kind)
        names = {f: self.names(kinds[f]) for f in block.fields if f and kinds[f].kind == "ref"}
        return self.apply(lambda: desk.pasted(self.home, listing, block, {"face": self.faces(), **names}, answers or {}))

    def fill(self, listing: Listing, ids: list[str], fields: list[str]) -> str:
        """The first row's values into the rows below it, as one step."""
        return self.apply(lambda: desk.filled(self.home, listing, ids, fields))

    def remove(self, ids: list[str]) -> str:
        """Rows taken out as one step."""
        return self.apply(desk.removed(ids))

    # names

    def faces(self) -> Names:
        """(id, name) of the shape's faces, walls to outside air first."""
        assessment = self.snapshot.assessment
        if assessment is None:
            return ()
        found = sorted(assessment.all_of(BOUNDARY).values(), key=lambda b: (b.role != "wall", b.borders != "outside air"))
        return [(b.id, b.name) for b in found]

    def names(self, spec: FieldSpec) -> Names:
        """(id, name) of what a reference field may name."""
        if spec.refers == "faces":
            assessment = self.snapshot.assessment
            return [(b.id, b.name) for b in assessment.all_of(BOUNDARY).values()] if assessment else ()
        if spec.refers == "outlines":
            plans = self.home.shape.plans
            storeys = plans.storeys if plans is not None else ()
            return [(o.id, f"{o.name or o.id}, {s.name}") for s in storeys for o in s.outlines]
        if spec.refers == "storeys":
            return [(s.id, s.name) for s in self.home.shape.plans.storeys] if self.home.shape.plans is not None else ()
        if spec.refers == "rooms":
            plans = self.home.shape.plans
            return [(r.id, r.name) for s in plans.storeys for r in s.rooms] if plans is not None else ()
        if spec.refers == "spaces":
            return self._unheated()
        if spec.refers == "units":
            return [(u.id, u.name) for u in self.home.air.units]
        if spec.refers == "chapters":
            from nuthatch.core.dossier.chapters import CHAPTERS  # the report is no part of a start

            return [(kind.key, kind.title) for kind in CHAPTERS.values() if kind.key not in ("pinned", "index")]
        return [(part.id, part.name) for part in getattr(self.home, spec.refers, ())]

    def _unheated(self) -> Names:
        """(id, name) of the unheated spaces beside the home, each once."""
        assessment = self.snapshot.assessment
        faces = assessment.all_of(BOUNDARY).values() if assessment is not None else ()
        return list(dict.fromkeys((b.beyond.id, b.beyond.name) for b in faces if b.beyond.kind == "unheated"))

    def keep_work(self) -> None:
        """Keep what is done against a crash, at once."""
        self._owner.keep_work()

    # history

    def undo(self) -> None:
        label = self.session.undo()
        if label is not None:
            self.after(f"Undone: {label}")

    def redo(self) -> None:
        label = self.session.redo()
        if label is not None:
            self.after(f"Done again: {label}")

    # evidence and weather: what belongs to the root and stands in no field

    @property
    def keeps_evidence(self) -> bool:
        return self._owner.keeps_evidence

    def taken(self, path: Path) -> EvidenceFile | str:
        """A file the root is to hold; or why it cannot."""
        return self._owner.taken(path)

    def attach(self, path: Path, part: str, field: str) -> str:
        """Attach a file as evidence of a value."""
        return self.apply(lambda: self._owner.attached(path, part, field))

    def detach(self, ident: str) -> str:
        """Take an attached file out of the root and off every value it proves."""
        return self.apply(lambda: detached(self.home, ident))

    def evidence_bytes(self, sha: str) -> bytes | None:
        """An attached file's bytes; None where they are lost."""
        return self._owner.evidence_bytes(sha)

    def add_weather(self, sha256: str, data: bytes) -> None:
        """Keep a weather file's bytes so that the root can refer to it."""
        self._owner.add_weather(sha256, data)

    def weather_bytes(self) -> bytes | None:
        """The weather file of the root's climate; None where there is none, or it is lost."""
        return self._owner.weather_bytes()


class NoFiles:
    """What an owner that holds no files says of them."""

    keeps_evidence = False

    def taken(self, path: Path) -> EvidenceFile | str:
        return "files are kept with homes"

    def attached(self, path: Path, part: str, field: str) -> Change | None:
        raise ChangeRefused("files are attached to values of a home")

    def evidence_bytes(self, sha: str) -> bytes | None:
        return None

    def add_weather(self, sha256: str, data: bytes) -> None:
        """Nothing refers to it."""

    def weather_bytes(self) -> bytes | None:
        return None

    def refusal(self) -> str:
        return ""

    def keep_work(self) -> None:
        """What has no file keeps nothing."""
