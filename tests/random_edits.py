"""Random edits of a drawn home, each applied, assessed and taken back: `python -m tests.random_edits SEED STEPS`.

After every edit: no exception, no opening lost, the solid closed or a question that says why not; every undo gives the same home again.
"""

from __future__ import annotations

import random
import sys
from collections.abc import Iterator

from nuthatch.core.assess import Assessment, assess
from nuthatch.core.changes.changes import Batch, Change, ChangeRefused, Remove, SetValue
from nuthatch.core.changes.history import Session
from nuthatch.core.edits import plan_edits, plan_storeys, roof_edits
from nuthatch.core.model.home import Home
from nuthatch.core.model.plans import Plans, Side
from nuthatch.core.solid.built_stages import BUILT
from nuthatch.core.solid.stages import GAPS
from tests.plan_home import other_plan_homes, plan_home
from tests.simple_home import g

KINDS = ("gable", "hip", "half-hip", "mono", "flat")


def plans_of(home: Home) -> Plans:
    assert home.shape.plans is not None
    return home.shape.plans


class Walk:
    """One walk through a home. `faults`: what went wrong, in words."""

    def __init__(self, seed: int) -> None:
        self.rng = random.Random(seed)
        self.session = Session(self.rng.choice((plan_home(), *other_plan_homes())))
        self.a: Assessment = assess(self.home, None)
        self.done: dict[str, int] = {}
        self.faults: list[str] = []

    @property
    def home(self) -> Home:
        home = self.session.home
        assert isinstance(home, Home)
        return home

    def edit(self) -> tuple[str, Change | None]:
        """Something a person may do next."""
        rng, home, plans = self.rng, self.home, plans_of(self.home)
        sides = [s for st in plans.storeys for o in st.outlines for s in o.sides]
        side, storey = rng.choice(sides), rng.choice(plans.storeys)
        u = rng.uniform
        acts = {
            "split": lambda: plan_edits.split(home, side.id, u(0.15, 0.85)),
            "corner out": lambda: plan_edits.without_corner(home, side.id),
            "wall": lambda: plan_edits.moved(home, side.id, (u(-0.6, 0.6), u(-0.6, 0.6))),
            "length": lambda: plan_edits.with_length(home, side.id, u(1, 9)),
            "corner": lambda: self._corner(side),
            "mirror": lambda: plan_storeys.mirrored(home),
            "turn": lambda: plan_storeys.turned(home),
            "storey up": lambda: plan_storeys.copied_up(home, storey.id) if len(plans.storeys) < 4 else None,
            "level": lambda: SetValue(part=storey.id, field="height", value=g(round(u(2.2, 3.6), 2))),
            "ground": lambda: plan_storeys.ground_heights(home),
            "height": lambda: (
                SetValue(part=rng.choice(plans.heights).id, field="z", value=g(round(u(-2, 2), 2))) if plans.heights else None
            ),
            "pitch": lambda: SetValue(part=rng.choice(plans.roofs).id, field="pitch", value=g(round(u(5, 60)))) if plans.roofs else None,
            "kind": lambda: SetValue(part=rng.choice(plans.roofs).id, field="kind", value=rng.choice(KINDS)) if plans.roofs else None,
            "roof": lambda: roof_edits.roof_over(home, storey.id) if len(plans.roofs) < 4 else Remove(part=rng.choice(plans.roofs).id),
            "roof part": lambda: self._part(storey.id) if len(plans.roofs) < 6 else None,
            "place": lambda: self._place(),
            "dimensions": lambda: SetValue(part="shape", field="dimensions", value=rng.choice(("internal", "external"))),
            "reaches": lambda: self._reaches(),
        }
        name = rng.choice(list(acts))
        return name, acts[name]()

    def _corner(self, side: Side) -> Change | None:
        if side.x is None or side.y is None:
            return None
        moves = [
            SetValue(part=side.id, field=f, value=g(round(v.value + self.rng.uniform(-0.5, 0.5), 2)))
            for f, v in (("x", side.x), ("y", side.y))
        ]
        return Batch(label="corner", changes=tuple(moves))

    def _part(self, storey: str) -> Change:
        u = self.rng.uniform
        a, b = (u(0, 8), u(0, 8)), (u(0, 8), u(0, 8))
        return roof_edits.roof_front(self.home, storey, (a, b, (u(0, 10), u(0, 10))), self.rng.choice((None, 6.0, 4.5)))

    def _place(self) -> Change | None:
        openings = self.home.openings
        return (
            SetValue(part=self.rng.choice(openings).id, field="position", value=g(round(self.rng.uniform(0, 6), 2))) if openings else None
        )

    def _reaches(self) -> Change:
        outline = self.rng.choice([o for s in plans_of(self.home).storeys for o in s.outlines])
        return SetValue(part=outline.id, field="reaches", value=self.rng.choice(("its ceiling", "the roof")))

    def step(self) -> bool:
        """One edit; False where it was refused."""
        before, number = self.home, len(self.home.openings)
        name = "?"
        try:
            name, change = self.edit()
            if change is None:
                return False
            if self.session.apply(roof_edits.followed(before, change)) is None:
                return False
        except ChangeRefused:
            return False
        self.done[name] = self.done.get(name, 0) + 1
        after = self.home
        if len(after.openings) != number:
            self.faults.append(f"{name}: an opening is lost")
        was, self.a = self.a, assess(after, None, self.a)
        self.faults += [f"{name}: {w}" for w in self.look()]
        self.session.undo()
        if self.home is not before:
            self.faults.append(f"{name}: undone it is another home")
        built = self.a[BUILT]
        usable = built is not None and not any(f.fatal for f in built.faults)
        if usable and self.rng.random() < 0.8:
            self.session.redo()
            if self.home is not after:
                self.faults.append(f"{name}: done again it is another home")
        else:
            self.a = was
        return True

    def look(self) -> Iterator[str]:
        """What is wrong with the home as it is."""
        built = self.a[BUILT]
        if built is None:
            yield "no shape"
        elif self.a[GAPS] and not any(q.step == "shape" for q in self.a.questions):
            yield f"open, and no question says so: {self.a[GAPS][:1]}"
        elif not built.solid.boundaries and not built.faults:
            yield "no faces, and nothing says why"

    @property
    def open_unsaid(self) -> bool:
        """Whether it is open without another question than that it is open."""
        built = self.a[BUILT]
        return bool(self.a[GAPS]) and built is not None and not built.faults


def main() -> None:
    seed, steps = int(sys.argv[1]), int(sys.argv[2])
    walk, n, opened = Walk(seed), 0, 0
    while n < steps:
        n += walk.step()
        opened += walk.open_unsaid
    print(f"seed {seed}: {n} edits {walk.done}; {len(walk.faults)} faults; {opened} times only “not closed” is said")
    for fault in walk.faults[:20]:
        print("  ", fault)
    sys.exit(bool(walk.faults))


if __name__ == "__main__":
    main()
