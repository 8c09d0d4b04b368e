"""The key tests of every scheme, kind of job and ban, and that they take every coil into account."""

import math

import pytest

from grimcoil.core.choices import LeadScheme, Occasion
from grimcoil.core.decision.needs import OHM_SETS, NeedKind, needs
from grimcoil.core.points import groups_of
from grimcoil.core.resistance.naming import expected_ohms, pair_of
from grimcoil.core.stator.network import Fault, lead_ohms
from grimcoil.core.stator.schemes import SCHEMES


def places(scheme, occasion="dead-only", kind=None, **more):
    return [n.place for n in needs(scheme, occasion, **more).keys if kind is None or n.kind is kind]


@pytest.mark.parametrize("scheme", SCHEMES)
def test_the_pairs_take_every_coil_into_account(scheme):
    """Twice the ohms of any one coil show in some pair of the table, by the net of the scheme."""
    made = SCHEMES[scheme]
    at = {label: i for i, label in enumerate(made.labels)}
    pairs = [tuple(pair.split("-")) for one in OHM_SETS[scheme] for pair in one.split()]
    sound = lead_ohms(made)
    for coil in made.coils:
        faulty = lead_ohms(made, Fault(scaled=((coil.name, 2.0),)))
        assert any(abs(faulty[at[a], at[b]] - sound[at[a], at[b]]) > 1e-6 for a, b in pairs), coil.name


@pytest.mark.parametrize("scheme", SCHEMES)
def test_a_sound_winding_reads_each_set_alike(scheme):
    for one in OHM_SETS[scheme]:
        ohms = {round(expected_ohms(scheme)[pair_of(pair, scheme)], 9) for pair in one.split()}
        assert len(ohms) == 1
        assert math.isfinite(ohms.pop())


@pytest.mark.parametrize("scheme", LeadScheme)
@pytest.mark.parametrize("occasion", Occasion)
@pytest.mark.parametrize("forbidden", [False, True])
def test_every_job_on_every_scheme_has_its_needs(scheme, occasion, forbidden):
    wanted = needs(scheme, occasion, forbidden)
    made = [need.place for need in wanted.keys]
    assert len(made) == len(set(made)) > 0
    assert all(
        need.words and need.place.startswith(need.kind.removesuffix("_index").removesuffix("_ohmmeter"))
        for need in wanted.keys
    )
    index = [need.place for need in wanted.keys if need.kind is NeedKind.INDEX]
    assert bool(index) == (occasion == "after-drying" and not forbidden and scheme != "unknown")
    assert all(place.endswith(".30") for place in index)
    assert forbidden == any("maker" in one.why for one in wanted.left_out) or scheme == "unknown"
    banned = {NeedKind.FRAME, NeedKind.BETWEEN}
    assert not (forbidden and any(need.kind in banned for need in wanted.keys))


def test_groups_to_frame_and_pairs_of_groups_between():
    assert places("six-lead", kind=NeedKind.FRAME) == ["insulation.1-4.60", "insulation.2-5.60", "insulation.3-6.60"]
    assert places("two-speed-two-winding", kind=NeedKind.BETWEEN) == ["winding_to_winding.1-2-3.11-12-13.60"]
    assert places("three-lead", kind=NeedKind.BETWEEN) == []
    twelve = places("twelve-lead", kind=NeedKind.BETWEEN)
    assert len(twelve) == 6
    assert twelve[0] == "winding_to_winding.1-4-7-10.2-5-8-11.60"
    assert twelve[3] == "winding_to_winding.1-4.7-10.60"
    assert len(places("nine-lead-wye", kind=NeedKind.BETWEEN)) == 6


def test_each_speed_each_half_coils_and_star():
    assert places("two-speed-one-winding-delta", kind=NeedKind.OHMS)[3:] == [
        f"winding_resistance.{pair}" for pair in ("4-5", "5-6", "6-4")
    ]
    assert "winding_resistance.8-9" in places("part-winding")
    assert {"winding_resistance.2-5", "winding_resistance.9-7"} <= set(places("nine-lead-wye"))


def test_the_kind_of_job_says_which_live_tests_are_needed():
    def live(occasion):
        return [need.kind for need in needs("three-lead", occasion).keys if not need.dead]

    assert live("routine") == [NeedKind.VOLTS] * 3 + [NeedKind.AMPS] * 3
    assert live("acceptance") == [NeedKind.VOLTS] * 3 + [NeedKind.NO_LOAD] * 3
    for occasion in ("dead-only", "wet", "after-drying", "call-out"):
        assert live(occasion) == []


def test_a_call_out_is_a_walk_until_a_dead_test_is_on_record():
    assert places("six-lead", "call-out", dead_begun=False) == ["walk"]
    assert places("unknown", "dead-only") == ["identify"]


def test_the_groups_are_those_that_continuity_joins():
    for scheme in SCHEMES:
        leads = [lead for group in groups_of(scheme) for lead in group]
        assert sorted(leads) == sorted(SCHEMES[scheme].labels)
