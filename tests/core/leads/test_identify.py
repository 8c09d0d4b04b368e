"""From readings to labels, up to what no test can tell."""

import random
from collections import Counter
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from grimcoil.core.leads.coupling import Coupling
from grimcoil.core.leads.identify import Puzzle, identify
from grimcoil.core.leads.next_reading import NextTest
from grimcoil.core.leads.ohms import OhmReading, Path
from grimcoil.core.stator.network import Fault
from grimcoil.core.stator.schemes import SCHEMES
from tests.core.leads.simulated import Motor, solve

SIX = ("A", "B", "C", "D", "E", "F")


def value(i, j, ohm, half=0.005):
    return OhmReading(i, j, Path.VALUE, ohm, half)


def opened(i, j):
    return OhmReading(i, j, Path.OPEN)


@settings(max_examples=40)
@given(st.sampled_from(list(SCHEMES)), st.integers(0, 10_000))
def test_hidden_labels_come_back(scheme, seed):
    """Asking only what it proposes, through a meter with digits, contacts and an unknown coupling."""
    motor = Motor(scheme, seed)
    found, ohms, _ = solve(motor)
    assert motor.is_among(found.candidates)
    assert found.candidates[0].misfit <= 1
    assert not found.contradictions
    assert len(ohms) <= len(motor.leads) * (len(motor.leads) - 1) / 2
    if scheme not in ("three-lead-wye", "three-lead-delta"):
        assert [c.scheme for c in found.candidates] == [scheme]
        assert found.candidates[0].ways == 1


@settings(max_examples=200)
@given(st.sampled_from(list(SCHEMES)), st.integers(0, 10_000), st.data())
def test_any_part_of_the_readings_in_any_order_never_rules_out_the_truth(scheme, seed, data):
    motor = Motor(scheme, seed)
    readings = data.draw(st.permutations(motor.all_ohms()))[: data.draw(st.integers(0, 20))]
    found = identify(Puzzle(motor.leads, tuple(readings)))
    assert motor.is_among(found.candidates)


@pytest.mark.parametrize(("scheme", "most"), [("six-lead", 9), ("nine-lead-wye", 20), ("twelve-lead", 34)])
def test_few_readings_do(scheme, most):
    counts = [len(solve(Motor(scheme, seed))[1]) for seed in range(6)]
    assert sum(counts) / len(counts) <= most


def test_ohms_alone_leave_start_and_finish_open():
    ohms = (value(0, 3, 1.91), value(1, 4, 1.90), value(2, 5, 1.91), opened(0, 1))
    found = identify(Puzzle(SIX, ohms))
    (six,) = found.candidates
    assert six.groups == (("A", "D"), ("B", "E"), ("C", "F"))
    assert six.markings["A"] == ("1",)
    assert six.markings["D"] == ("4",)
    assert six.markings["B"] == six.markings["E"] == ("2", "5")
    assert found.next_test.test in ("joined", "kick")


PAIRS = (value(0, 3, 1.91), value(1, 4, 1.90), value(2, 5, 1.91), opened(0, 1))


@pytest.mark.parametrize(
    ("tests", "b"),
    [
        ((Coupling((0, 3), (0, 1), (3, 4), 1.43), Coupling((0, 3), (0, 2), (3, 5), 1.43)), "2"),
        ((Coupling((0, 3), (0, 1), (3, 4), 0.57), Coupling((0, 3), (0, 2), (3, 5), 1.43)), "5"),
        ((Coupling((0, 3), (1, 4), up=True), Coupling((0, 3), (2, 5), up=True)), "2"),
        ((Coupling((0, 3), (1, 4), up=False), Coupling((0, 3), (2, 5), up=True)), "5"),
        ((Coupling((0, 1), (2, 5), (3, 4), 0.02), Coupling((0, 3), (2, 5), up=True)), "2"),
        ((Coupling((0, 1), (2, 5), (3, 4), 0.75), Coupling((0, 3), (2, 5), up=True)), "5"),
    ],
)
def test_each_kind_of_coupling_test_turns_a_coil_round(tests, b):
    """Joined: about 1.5 like ends, 0.5 unlike; series: near 0 like ends in the middle; kick: up on a start."""
    (six,) = identify(Puzzle(SIX, PAIRS, tests)).candidates
    assert (six.ways, six.markings["B"]) == (1, (b,))


def test_coupling_alone_says_which_leads_belong_together():
    tests = (Coupling((0, 3), (1, 4), (), 0.43), Coupling((0, 3), (2, 5), (), 0.43))
    found = identify(Puzzle(SIX, (), tests))
    best = found.candidates[0]
    assert (best.scheme, best.groups) == ("six-lead", (("A", "D"), ("B", "E"), ("C", "F")))


def test_the_contradicting_reading_is_named():
    motor = Motor("nine-lead-wye", 4)
    readings = motor.all_ohms()
    wrong = next(i for i, r in enumerate(readings) if r.path is Path.VALUE)
    bad = readings[wrong]
    readings[wrong] = value(bad.first, bad.second, bad.ohm * 1.25)
    found = identify(Puzzle(motor.leads, tuple(readings)))
    named = [c for c in found.contradictions if c.code in ("odd-reading", "triangle")]
    assert {motor.leads[bad.first], motor.leads[bad.second]} <= set(named[0].between)


def test_the_contradicting_coupling_test_is_named():
    tests = tuple(Coupling((0, 3), (1, 4), up=up) for up in (True, True, False))
    found = identify(Puzzle(SIX, PAIRS, tests))
    assert not found.candidates
    assert "odd-coupling" in [c.code for c in found.contradictions]


@pytest.mark.parametrize(
    ("scheme", "fault", "kind"),
    [
        ("three-lead-wye", Fault(opened=("1-4",)), {"open-coil", "lead-off"}),
        ("nine-lead-wye", Fault(opened=("9-12",)), {"open-coil", "lead-off"}),
        ("nine-lead-delta", Fault(opened=("7-10",)), {"open-coil"}),
        ("twelve-lead", Fault(lifted=("5",)), {"open-coil", "lead-off"}),
        ("six-lead", Fault(leaks=(("1", "2", 40.0),)), {"leak"}),
        ("nine-lead-wye", Fault(scaled=(("2-5", 0.7),)), {"coil-off"}),
    ],
)
def test_a_fault_that_mimics_another_scheme_is_told_with_its_leads(scheme, fault, kind):
    motor = Motor(scheme, 7, resolution=0.001, fault=fault)
    found = identify(Puzzle(motor.leads, tuple(motor.all_ohms())))
    best = found.candidates[0]
    assert best.scheme == scheme
    assert best.fault.kind in kind
    assert best.misfit <= 1
    assert set(best.fault_between) <= set(motor.leads)
    assert best.fault_between


@pytest.mark.parametrize(
    ("leads", "readings", "code"),
    [
        (tuple("ABCDEFGHIJK"), (opened(0, 1),), "no-scheme"),
        (("A", "B", "C"), (opened(0, 1), opened(1, 2), opened(0, 2)), "all-open"),
        (("A", "B", "C"), (value(0, 1, 0.0), value(1, 2, 0.0), value(0, 2, 0.01)), "all-zero"),
        (("A", "B", "C"), (value(0, 1, 1.0), value(1, 2, 1.0), opened(0, 2)), "path-broken"),
        (("A", "B", "C"), (value(0, 1, 1.0), value(1, 2, 1.0), value(0, 2, 2.6)), "triangle"),
    ],
)
def test_what_no_motor_gives_is_said_with_the_next_step(leads, readings, code):
    found = identify(Puzzle(leads, readings))
    (told,) = [c for c in found.contradictions if c.code == code]
    assert len(told.text) > 40


readings = st.builds(
    OhmReading, st.integers(0, 4), st.just(5), st.sampled_from(Path), st.floats(0, 5000), st.floats(0, 1)
)
couplings = st.builds(
    Coupling,
    st.sampled_from([(0, 3), (1, 4)]),
    st.sampled_from([(1, 4), (2, 5), (0, 2)]),
    st.sampled_from([(), (3, 4)]),
    st.none() | st.floats(0, 3),
    st.booleans(),
)


@given(st.lists(readings, max_size=5), st.lists(couplings, max_size=3))
def test_nothing_makes_it_raise(ohms, tests):
    found = identify(Puzzle(SIX, tuple(ohms), tuple(tests)))
    assert all(c.text for c in found.contradictions)
    assert found.candidates or found.contradictions or ohms


def faults_of(scheme, seed):
    """A fault of each kind on a scheme, seeded."""
    made, dice = SCHEMES[scheme], random.Random(seed)
    coil, label = dice.choice(made.coils).name, dice.choice(made.labels)
    a, b = dice.sample(list(made.labels), 2)
    yield "open", Fault(opened=(coil,))
    yield "off", Fault(lifted=(label,))
    yield "leak", Fault(leaks=((a, b, dice.uniform(0.5, 20)),))
    yield "joint", Fault(scaled=((coil, dice.uniform(1.3, 8)),))
    yield "two", Fault(opened=(coil,), lifted=(label,))


MANY_LEADS = [scheme for scheme in SCHEMES if not scheme.startswith("three")]


@pytest.mark.parametrize("scheme", MANY_LEADS)
def test_a_faulty_motor_is_never_met_with_silence(scheme):
    """Candidate or contradiction, and a next reading wherever nothing sound is left."""
    for seed in (3, 8):
        for kind, fault in faults_of(scheme, seed):
            motor = Motor(scheme, seed, resolution=0.001, fault=fault)
            found = identify(Puzzle(motor.leads, tuple(motor.all_ohms())))
            assert found.candidates or found.contradictions, (kind, fault)
            if all(one.fault for one in found.candidates):
                assert found.contradictions, (kind, fault)
                assert found.next_test is not None, (kind, fault)


@pytest.mark.parametrize("scheme", ["six-lead", "nine-lead-wye", "twelve-lead", "two-speed-one-winding-wye"])
@pytest.mark.parametrize("factor", [0.3, 1.7, 2.9, 7.0])
def test_a_coils_factor_is_searched_not_stepped(scheme, factor):
    coil = SCHEMES[scheme].coils[0].name
    motor = Motor(scheme, 4, resolution=0.0001, fault=Fault(scaled=((coil, factor),)))
    motor.dice.gauss = lambda *_: 0.0
    found = identify(Puzzle(motor.leads, tuple(motor.all_ohms())))
    best = next(one for one in found.candidates if one.scheme == scheme and one.fault and one.fault.kind == "coil-off")
    ratio = best.fault.size / 100
    assert min(abs(ratio / factor - 1), abs(ratio * factor - 1)) < 0.03


@pytest.mark.parametrize("scheme", ["two-speed-one-winding-delta", "two-speed-one-winding-wye", "nine-lead-delta"])
def test_a_leak_within_one_winding_is_told_with_its_leads_and_ohms(scheme):
    a, b = SCHEMES[scheme].labels[0], SCHEMES[scheme].labels[4]
    motor = Motor(scheme, 5, resolution=0.0001, fault=Fault(leaks=((a, b, 3.0),)))
    motor.dice.gauss = lambda *_: 0.0
    found = identify(Puzzle(motor.leads, tuple(motor.all_ohms())))
    leak = next(one.fault for one in found.candidates if one.scheme == scheme and one.fault.kind == "leak")
    assert leak.misfit < 0.5
    assert leak.size == pytest.approx(3.0 * 0.95, rel=0.25)


def test_two_windings_with_one_coil_open_are_told_at_their_own_ohms():
    motor = Motor("two-speed-two-winding", 6, resolution=0.001, fault=Fault(opened=("2",)))
    found = identify(Puzzle(motor.leads, tuple(motor.all_ohms())))
    assert "two-speed-two-winding" in [one.scheme for one in found.candidates if one.fault]


def kicked(motor):
    """Ohms of every pair, and a kick from each coil into each other."""
    ohms = motor.all_ohms()
    coils = [(r.second, r.first) for r in ohms if r.path is Path.VALUE]
    asked = [NextTest("kick", source=a, across=b) for a in coils for b in coils if a != b and not set(a) & set(b)]
    return tuple(ohms), [motor.couple(test) for test in asked]


@pytest.mark.parametrize("seed", range(6))
def test_a_wrong_kick_is_not_swallowed(seed):
    """A needle seen to move shows a coupling: a marking where nothing should have moved is no answer."""
    motor = Motor("six-lead", seed)
    ohms, kicks = kicked(motor)
    right = identify(Puzzle(motor.leads, ohms, tuple(kicks)))
    assert motor.is_among([one for one in right.candidates if one.misfit < 0.5])
    for i, kick in enumerate(kicks):
        odd = (*kicks[:i], replace(kick, up=not kick.up), *kicks[i + 1 :])
        found = identify(Puzzle(motor.leads, ohms, odd))
        assert not any(one.fault is None for one in found.candidates)
        assert {one.code for one in found.contradictions} & {"odd-coupling", "coupling"}


@pytest.mark.parametrize("seed", range(4))
def test_twelve_leads_take_no_kick_where_nothing_should_move(seed):
    motor = Motor("twelve-lead", seed)
    ohms, kicks = kicked(motor)
    for i in range(0, len(kicks), 7):
        odd = (*kicks[:i], replace(kicks[i], up=not kicks[i].up), *kicks[i + 1 :])
        found = identify(Puzzle(motor.leads, ohms, odd))
        assert not any(one.fault is None and one.ways == 1 for one in found.candidates)


def test_a_needle_that_stood_still_counts():
    motor = Motor("six-lead", 2)
    ohms, kicks = kicked(motor)
    still = identify(Puzzle(motor.leads, ohms, (*kicks, replace(kicks[0], up=None))))
    assert not any(one.fault is None for one in still.candidates)
    assert "odd-coupling" in [one.code for one in still.contradictions]


@pytest.mark.parametrize(("resolution", "both"), [(0.001, False), (0.01, False), (0.1, True), (0.5, True)])
def test_two_groups_alike_are_both_schemes_until_the_meter_can_tell(resolution, both):
    """Part winding has two equal halves, two speeds have two windings of their own: a coarse meter can't tell 5 %."""
    motor = Motor("part-winding", 3, resolution=resolution)
    found = identify(Puzzle(motor.leads, tuple(motor.all_ohms())))
    names = {one.scheme for one in found.candidates if one.fault is None}
    assert "part-winding" in names
    assert ("two-speed-two-winding" in names) == both


@pytest.mark.parametrize("scheme", MANY_LEADS)
def test_following_a_faulty_motor_comes_to_an_end_and_asks_each_pair_twice_at_most(scheme):
    for kind, fault in faults_of(scheme, 5):
        motor = Motor(scheme, 5, resolution=0.001, fault=fault)
        found, ohms, _ = solve(motor, most=400)
        assert found.next_test is None, kind
        assert max(Counter(frozenset((r.first, r.second)) for r in ohms).values()) <= 2, kind
