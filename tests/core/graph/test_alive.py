"""What is remembered of an object as long as it lives."""

from __future__ import annotations

from nuthatch.core.graph.alive import while_alive


class Thing:
    def __init__(self, name: str) -> None:
        self.name = name


def test_an_object_is_asked_once_as_long_as_it_lives() -> None:
    asked: list[tuple[str, int]] = []

    @while_alive
    def of(thing: Thing, power: int = 1) -> str:
        asked.append((thing.name, power))
        return thing.name * power

    one, alike = Thing("a"), Thing("a")
    assert (of(one), of(one), of(one, 2), of(one, 2), of(alike)) == ("a", "a", "aa", "aa", "a")
    assert asked == [("a", 1), ("a", 2), ("a", 1)], "another object is another, however alike"
    for _ in range(50):  # numbers of objects that are gone are given again
        assert of(Thing("b"), 3) == "bbb"
    assert asked.count(("b", 3)) == 50
