"""The run against a simulated house: the ladder fits it, hands are waited for, nothing false is kept, nothing is lost."""

from __future__ import annotations

import pytest

from nuthatch.core.airtest.instrument import NoAnswer, Sample, reading_of, taken, who_of
from nuthatch.core.airtest.ladder import FEWEST, LADDER, Act, Aim, Keep, PutRing, ladder_for, lowest_for
from nuthatch.core.airtest.run import Run
from nuthatch.core.airtest.worked import Zero
from nuthatch.standins.practice_gauge import PracticeHouse
from tests.core.airtest.test_air_tests import CALM, RINGS, TRUTH, Measuring

BOTTOM = PracticeHouse(wind=0.0, scatter=0.0, drift=0.0, zero=0.0)


def points(m: Measuring) -> list[Keep]:
    return [k for k in m.kept if k.moment == "point"]


def waiting(m: Measuring, most: int = 8000) -> str:
    m.until(lambda run: run.paused or run.done, most)
    return str(m.run.paused)


# the ladder


@pytest.mark.parametrize(
    ("zero", "lowest"),
    [(None, 11.0), (Zero(-0.8, 0.0, -0.8), 11.8), (Zero(2.0, 2.0, 0.0), 13.0), (Zero(-4.0, 0.5, -4.2), 26.0), (Zero(0.0, 3.0, -3.0), 16.0)],
)
def test_the_lowest_rung_by_the_zero_flow_pressure(zero: Zero | None, lowest: float) -> None:
    """The larger of 10 Pa and five times the zero-flow pressure (ISO 9972:2015, 5.3.4, from memory), its mean on top, 1 Pa to spare."""
    assert lowest_for(zero) == pytest.approx(lowest)


@pytest.mark.parametrize(("lowest", "highest"), [(11.0, 60.0), (26.0, 60.0), (11.8, 37.0), (11.0, 20.0), (45.0, 60.0), (11.0, 60.5)])
def test_a_ladder_holds_five_points_no_further_apart_than_ten_pascal(lowest: float, highest: float) -> None:
    made = ladder_for(lowest, highest)
    assert len(made) >= FEWEST and made[0] <= highest and made[-1] >= lowest - 0.05 and list(made) == sorted(made, reverse=True)
    assert max(a - b for a, b in zip(made, made[1:], strict=False)) <= 10.0
    if lowest <= 12 and highest >= 60:
        assert made == LADDER


def test_no_ladder_where_five_points_do_not_fit() -> None:
    assert ladder_for(26.0, 33.0) == () and ladder_for(30.0, 20.0) == () and len(ladder_for(26.0, 34.0)) == FEWEST


def test_a_windy_zero_lifts_the_lowest_rung() -> None:
    m = Measuring(PracticeHouse(wind=0.0, scatter=0.0, drift=0.0, zero=-3.6), ways=("depressurising",))
    m.whole()
    assert m.run.rungs[-1].target >= 5 * 3.6 + 3.6 and m.lines["depressurising: lowest point"] and m.lines["depressurising: points"]


@pytest.mark.parametrize("coefficient", [200.0, 250.0, 320.0])
def test_a_leaky_house_keeps_five_points_in_reach_and_says_so(coefficient: float) -> None:
    m = Measuring(PracticeHouse(coefficient=coefficient, exponent=0.6, wind=0.0, scatter=0.0, drift=0.0), ways=("depressurising",))
    result = m.whole()
    highest = max(p.pressure for p in result.halves[0].points)
    assert len(points(m)) >= FEWEST and highest < 55 and any("is not reached" in s and "is the most" in s for s in m.said)
    assert result.q50 == pytest.approx(coefficient * 50**0.6, rel=0.01)
    assert m.lines["depressurising: points"] and m.lines["depressurising: lowest point"] and m.lines["rings in their range"]


def test_a_house_no_fan_can_hold_waits_with_words_and_never_ends_with_nothing() -> None:
    m = Measuring(PracticeHouse(coefficient=700.0, exponent=0.6, wind=0.0, scatter=0.0, drift=0.0), ways=("depressurising",))
    assert "larger ring" in waiting(m) and not m.run.done and not points(m)
    m.step(20)
    assert abs(m.practice.held) < 1, "the fan stands"
    m.do(m.run.resume())
    assert "larger ring" in waiting(m), "and again, not done"
    m.do(m.run.stop())
    assert m.run.done


def test_a_series_left_out_rung_by_rung_asks_before_it_ends() -> None:
    m = Measuring(CALM, ways=("depressurising",))
    m.until(lambda run: run.phase == "readings")
    for _ in range(len(LADDER)):
        m.do(m.run.leave_out())
    assert "no reading was kept" in m.run.paused and not m.run.done
    m.do(m.run.resume())
    assert m.run.now is not None and m.run.now.target == 60
    m.until(lambda run: sum(r.state == "kept" for r in run.rungs) == 3)
    for _ in range(4):
        m.do(m.run.leave_out())
    assert "only 3 of 5" in m.run.paused
    m.do(m.run.leave_out())
    assert m.run.phase == "zero after" and not m.run.paused, "the person has said that it is enough"


@pytest.mark.parametrize("when", ["zero after", "done"])
def test_any_rung_is_taken_again_until_the_end(when: str) -> None:
    m = Measuring(CALM, ways=("depressurising",))
    m.until(lambda run: run.done if when == "done" else run.phase == "zero after" and len(m.kept) > 15)
    m.do(m.run.retake(2))
    assert not m.run.done and m.run.now is not None and m.run.now.target == LADDER[2] and m.aside[-1].number == 2
    m.until(lambda run: run.done)
    assert m.run.rungs[2].state == "kept" and len(points(m)) == len(LADDER) + 1


# what is noticed


def test_a_tube_that_is_off_during_the_zero_is_noticed_once() -> None:
    m = Measuring(CALM, ways=("depressurising",))
    m.practice.tube = False
    assert "tube" in waiting(m) and not m.kept, "nothing false is kept"
    m.practice.tube = True
    m.do(m.run.resume())
    assert m.whole().q50 == pytest.approx(TRUTH, rel=1e-3)
    calm = Measuring(BOTTOM, ways=("depressurising",))
    assert "tube" in waiting(calm)
    calm.do(calm.run.resume())
    calm.until(lambda run: run.done)
    assert len(points(calm)) == len(LADDER), "a dead calm day is asked about once"


def test_a_gauge_whose_clock_begins_again_goes_on() -> None:
    m = Measuring(CALM, ways=("depressurising",))
    m.until(lambda run: run.phase == "readings" and run.held > 12)
    m.practice.seconds = 0.0
    m.step()
    assert m.run.held == 0.0, "the reading is begun again"
    assert m.whole().q50 == pytest.approx(TRUTH, rel=1e-3) and len(points(m)) == len(LADDER)
    times = [s.seconds for s in m.run.trace(1e6)]
    assert times == sorted(times)
    assert all(k.reading.seconds is not None and k.reading.seconds >= 30 for k in points(m))


def test_what_is_undone_is_taken_again_and_what_is_redone_counts() -> None:
    m = Measuring(CALM, ways=("depressurising",))
    m.until(lambda run: sum(r.state == "kept" for r in run.rungs) == 3)
    m.do(m.run.taken_back(2))
    assert m.run.now is not None and m.run.now.target == LADDER[2]
    m.do(m.run.put_back(2))
    assert m.run.rungs[2].state == "kept" and m.run.now.target == LADDER[3]
    m.do(m.run.taken_back(0))
    m.until(lambda run: run.rungs[0].state == "kept")
    assert m.run.rungs[0].number == 3
    m.do(m.run.put_back(0))  # its rung is measured again: the reading that is back is one more
    assert m.run.rungs[0].number == 3
    m.do(m.run.pause())
    m.do(m.run.taken_back(1))
    assert m.run.paused == "paused" and m.run.rungs[1].state in ("now", "to come"), "a pause stays one"
    m.do(m.run.resume())
    m.until(lambda run: run.done)
    assert all(r.state == "kept" for r in m.run.rungs)
    number = m.run.rungs[4].number
    m.do(m.run.taken_back(number))
    m.step(20)
    assert m.run.done and m.run.rungs[4].state == "to come" and m.practice.aim == 0.0, "no fan starts because something is undone"
    m.do(m.run.put_back(number))
    assert m.run.rungs[4].state == "kept" and m.run.done
    m.do(m.run.taken_back(number))
    m.do(m.run.retake(4))
    m.until(lambda run: run.done)
    assert m.run.rungs[4].state == "kept"


# hands


def test_hands_are_waited_for_at_every_ring_and_cover() -> None:
    m = Measuring(CALM, ways=("depressurising",), hands=True)
    asked = []
    while not m.run.done:
        words = waiting(m)
        if not words:
            break
        asked.append(words)
        assert m.practice.aim == 0.0, "the fan stands while hands are at it"
        held = len(m.kept)
        m.step(30)
        assert len(m.kept) == held, "nothing is kept while it waits"
        m.do(m.run.resume())
    assert asked[0].startswith("stop the fan and cover it") and asked[1].startswith("put ring open on")
    assert asked[-1].startswith("stop the fan and cover it") and len(asked) >= 4, asked
    rings = [k.reading.ring for k in points(m)]
    assert len(points(m)) == len(LADDER) and len(set(rings)) > 1


def test_a_fan_turned_by_hand_shows_the_aim_and_keeps_what_is_steady() -> None:
    """A person comes within some pascals of the aim, late; what is held steadily is kept at the pressure it had."""
    run = Run({"only": RINGS["open"]}, ways=("depressurising",), hands=True, turned=True)
    acts: list[Act] = list(run.take_over())
    kept: list[Keep] = []
    seconds, pressure, offset = 0.0, 0.0, 0.0
    said = set()
    for n in range(20_000):
        if run.done:
            break
        if run.paused:
            acts += run.resume()
        kept += [a for a in acts if isinstance(a, Keep)]
        aims = [a.pressure for a in acts if isinstance(a, Aim)]
        acts = []
        if aims:
            offset = (-1) ** n * 2.5 if aims[-1] else 0.0
        target = -(run.now.target + offset) if run.now is not None else -0.5
        pressure += (target - pressure) * 0.02  # slowly
        seconds += 0.25
        said.add(run.say)
        fan = (30.0 * abs(pressure) ** 0.65 / 95.0) ** 2 if run.now is not None else 0.0
        acts += run.take(Sample(seconds, pressure + 0.05 * (-1) ** n, max(fan, 30.0) if run.now is not None else 0.0))
    measured = [k for k in kept if k.moment == "point"]
    assert run.done and len(measured) >= FEWEST and any("turn the fan until it holds" in s for s in said)
    assert any(abs(abs(k.reading.pressure) - round(abs(k.reading.pressure))) > 0.05 for k in measured), "the pressure it had, not the aim"


def test_without_hands_no_ring_is_waited_for() -> None:
    m = Measuring(CALM)
    m.until(lambda run: run.done)
    assert not any("go on" in s for s in m.said)
    assert PutRing("open") != PutRing("")


# lines


@pytest.mark.parametrize(
    ("answer", "values"),
    [
        ("T 12.5 P -49.8 F 102.4", (12.5, -49.8, 102.4)),
        ("T 12.5 P +49.8 F +1e+03", (12.5, 49.8, 1000.0)),
        ("t 1 p .5 f 0.", (1.0, 0.5, 0.0)),
        ("  T 1e2  P -1.5E-1 F 0 \r\n", (100.0, -0.15, 0.0)),
    ],
)
def test_readings_as_gauges_write_them(answer: str, values: tuple[float, float, float]) -> None:
    assert reading_of(answer) == Sample(*values)


@pytest.mark.parametrize(
    "answer", ["", "OK", "T 1 P nan F 2", "T 1 P inf F 2", "T 1 P 1e999 F 2", "T 1 P 2", "T 1 P 2 F 3 G 4", "T 1 P 1,5 F 2", "\x00\x1b[2J", "T 1 P 2 F 3\nT 2 P 2 F 3"]
)  # fmt: skip
def test_what_is_no_finite_reading_is_refused(answer: str) -> None:
    with pytest.raises(NoAnswer) as why:
        reading_of(answer)
    assert "\x1b" not in str(why.value) and "\x00" not in str(why.value)


def test_who_is_there_and_what_was_taken() -> None:
    who = who_of("WHO 1 simulated=yes fan=held name=Practice gauge")
    assert (who.simulated, who.held, who.name) == (True, True, "Practice gauge")
    assert who_of("who 1 simulated=no fan=hand").held is False
    for answer, why in (("WHO 2 simulated=no fan=held", "version 2"), ("NO what", "does not say who"), ("", "does not answer")):
        with pytest.raises(NoAnswer, match=why):
            who_of(answer)
    taken("OK\r\n", "AIM 5")
    with pytest.raises(NoAnswer, match="“NO too much” to “AIM 500”"):
        taken("NO too much", "AIM 500")
