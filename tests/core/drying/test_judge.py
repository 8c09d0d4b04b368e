"""Drying: shares by Kirchhoff, temperatures against a thermal model of the winding, the limits and the done-rule."""

import json
from datetime import UTC, datetime, timedelta
from random import Random

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from grimcoil.core.drying.hookup import SCHEMES
from grimcoil.core.errors import RecordRefusal
from grimcoil.exchange.drying import dried

NOW = datetime(2026, 11, 24, 12, 0, tzinfo=UTC)


START = datetime(2026, 3, 14, 8, 0)


K = 234.5


def answer(entries, scheme="three-lead-wye", hookup="one-and-two", cold=("0.412", 18), now=NOW, **more):
    motor = {"tag": "WE-622", "rated_voltage_v": 460, "full_load_current_a": 21, "lead_scheme": scheme} | more.pop(
        "motor", {}
    )
    document = {"format": "grimcoil-drying/1", "motor": motor, "hookup": hookup, "entries": entries}
    document["cold"] = {"ohm": cold[0], "temperature_c": cold[1]} | more.pop("cold_more", {})
    return dried(json.dumps(document | more), now)


def at(hours, **entry):
    return {"at": (START + timedelta(hours=hours)).isoformat()} | entry


@pytest.mark.parametrize(
    ("hookup", "scheme"), [("series", "three-lead"), ("delta-two", "nine-lead-wye"), ("one-and-two", "unknown")]
)
def test_a_hookup_that_cannot_be_made_is_refused_at_its_path(hookup, scheme):
    with pytest.raises(RecordRefusal) as refused:
        answer([], scheme, hookup)
    assert refused.value.where == "hookup"
    assert scheme not in SCHEMES[hookup]


class Winding:
    """Three phases of equal copper, each heated by its current's square, cooling to the air and to one another."""

    def __init__(self, shares, cold_c, seed):
        self.shares, self.phases, self.cold_c = shares, np.full(3, float(cold_c)), cold_c
        self.dice = Random(seed)
        self.gain = self.dice.uniform(0.995, 1.005)
        self.phase_ohm = 0.2

    def ohms(self):
        return self.phase_ohm * (K + self.phases) / (K + self.cold_c)

    def whole(self):
        one, two, three = self.ohms()
        if self.shares == (1.0, 1.0, 1.0):
            return one + two + three
        return one + two * three / (two + three)

    def heat(self, amps, hours):
        for _ in range(int(hours * 60)):
            power = self.ohms() * (np.array(self.shares) * amps) ** 2
            between = 0.02 * (self.phases.mean() - self.phases)
            self.phases = self.phases + power * 0.018 - 0.004 * (self.phases - self.cold_c) + between

    def read(self, amps):
        """A hundredth of a volt and of an amp, gain errors of half a percent that stay the same."""
        volts = self.whole() * amps
        return {"amps": f"{amps * self.gain:.2f}", "volts": f"{volts:.3f}"}


@given(st.integers(0, 10**6), st.sampled_from(["one-and-two", "series"]), st.floats(8.0, 18.0))
def test_the_estimate_is_within_two_kelvin_and_the_hot_phase_never_under_told(seed, hookup, amps):
    shares = (1.0, 1.0, 1.0) if hookup == "series" else (1.0, 0.5, 0.5)
    winding = Winding(shares, 18.0, seed)
    cold = winding.read(amps)
    ohm = float(cold["volts"]) / float(cold["amps"])
    entries, truth = [], []
    for i in range(1, 9):
        winding.heat(amps, 0.5)
        if winding.phases.max() > 90:
            break
        entries.append(at(i * 0.5, **winding.read(amps)))
        whole = winding.whole() / (0.6 if hookup == "series" else 0.3)
        truth.append((whole * (K + 18.0) - K, winding.phases.max()))
    scheme = "six-lead" if hookup == "series" else "three-lead-wye"
    for shown, (average, hottest) in zip(
        answer(entries, scheme, hookup, (f"{ohm:.5f}", 18))["entries"], truth, strict=True
    ):
        assert shown["average_c"] == pytest.approx(average, abs=2.0)
        assert shown["hot_phase_c"] >= hottest - 2.0


def test_cold_to_hot_by_the_handbooks_own_figure():
    """1.120 Ω at 21 °C, 1.489 Ω hot: 105.2 °C (IEEE 118/112's constant, standard, from memory)."""
    told = answer([at(1, amps="1", volts="1.489")], cold=("1.120", 21))
    assert told["entries"][0]["average_c"] == pytest.approx(105.2, abs=0.05)
    assert told["entries"][0]["verdict"] == "act"
    assert told["findings"][0]["code"] == "drying-too-hot"


def _volts(average, amps=1.0, ohm=0.412, cold=18.0):
    return f"{ohm * amps * (K + average) / (K + cold):.12f}"


@pytest.mark.parametrize(
    ("average", "amps", "verdict"),
    [
        (30.0, 5.0, "sound"),
        (30.0, 10.5, "sound"),  # on half of rated
        (30.0, 10.51, "watch"),
        (30.0, 21.0, "watch"),
        (30.0, 21.01, "act"),
        (18 + 62 / 1.37, 5.0, "sound"),  # hot phase at 80 °C while wet
        (18 + 62.2 / 1.37, 5.0, "watch"),
        (18 + 82.2 / 1.37, 5.0, "act"),
    ],
)
def test_limits_stand_inside(average, amps, verdict):
    entries = [at(1, amps=f"{amps}", volts=_volts(average, amps))]
    assert answer(entries)["entries"][0]["verdict"] == verdict


def test_dry_enough_lifts_the_wet_limit():
    wet = [at(0.5, insulation="2M"), at(1, amps="5", volts=_volts(18 + 68 / 1.37, 5))]
    dry = [at(0.5, insulation="90M"), at(1, amps="5", volts=_volts(18 + 68 / 1.37, 5))]
    assert (answer(wet)["entries"][1]["verdict"], answer(dry)["entries"][1]["verdict"]) == ("watch", "sound")


def test_rise_is_since_the_newest_entry_a_quarter_hour_back():
    entries = [at(0, amps="5", volts=_volts(20, 5)), at(0.2, amps="5", volts=_volts(24, 5)),
               at(0.5, amps="5", volts=_volts(26, 5))]  # fmt: skip
    rises = [one["rise_k_per_h"] for one in answer(entries)["entries"]]
    assert rises[:2] == [None, None]
    assert rises[2] == pytest.approx((26 - 24) / 0.3, rel=1e-3)


def test_the_former_hot_phase_counts_until_it_is_shown_cooler():
    warm = [at(0.5, amps="5", volts=_volts(55, 5)), at(0.6, rotated_to="2")]
    hot = answer(warm)["entries"][0]["hot_phase_c"]
    told = answer([*warm, at(1.0, amps="5", volts=_volts(50, 5))])
    assert told["entries"][2]["hot_phase_c"] == pytest.approx(hot)
    assert told["phase_share"] == {"1": 0.5, "2": 1.0, "3": 0.5}
    cool = answer([*warm, at(9.0, amps="5", volts=_volts(20, 5))])
    assert cool["entries"][2]["hot_phase_c"] == pytest.approx(18 + 6 * 2, abs=0.1)
    with pytest.raises(RecordRefusal, match="nothing to rotate"):
        answer([at(1, rotated_to="2")], "six-lead", "series")
    with pytest.raises(RecordRefusal):
        answer([at(1, rotated_to="4")])


def _hold(hours, one_minute, early="20M", late=None, **ends):
    out = [at(hours, insulation=early, t_s=30, **ends), at(hours, insulation=one_minute, t_s=60, **ends)]
    return out + ([at(hours, insulation=late, t_s=600, **ends)] if late else [])


def _steady(values, late="80M", early="20M", spacing=1.0, **ends):
    entries = [at(0.1, amps="5", volts=_volts(40, 5))]
    for i, value in enumerate(values):
        entries += _hold(0.2 + i * spacing, value, early, late, **ends)
    return entries


@pytest.mark.parametrize(
    ("values", "more", "why"),
    [
        (["30M", "31M", "32M"], {}, ""),
        (["30M", "31M", "33M"], {}, ""),  # on ten percent
        (["30M", "31M", "33.1M"], {}, "not steady"),
        (["30M", "31M"], {"spacing": 2.0}, "not three readings"),
        (["30M", "31M", "32M"], {"spacing": 0.9}, "not three readings"),
        (["4.4M", "4.5M", "4.6M"], {"late": "12M", "early": "3M"}, "under the minimum"),
        (["30M", "31M", "32M"], {"late": "50M"}, "the index is under 2"),
        (["30M", "31M", "32M"], {"late": None, "early": "20M"}, ""),
        (["30M", "31M", "32M"], {"late": None, "early": "31M"}, "the ratio isn't above 1.25"),
        (["OL", "OL", "OL"], {}, "a reading has no value"),
        ([">30M", ">30M", ">30M"], {}, "above the tester's range"),
    ],
)
def test_done_only_when_steady_above_the_minimum_with_its_index(values, more, why):
    told = answer(_steady(values, **more))
    assert told["done"] == (why == "")
    assert why in told["done_why"]
    assert told["verdict"] == ("sound" if not why else "unproven")


def test_every_pair_of_ends_must_be_done():
    frame = _steady(["30M", "31M", "32M"])
    told = answer([*frame, *_hold(2.3, "30M", **{"from": ["1"], "to": ["2"]})])
    assert (told["done"], "1 to 2" in told["done_why"]) == (False, True)


def test_a_winding_that_cools_meanwhile_is_not_steady():
    entries = _steady(["30M", "31M"], spacing=1.0)
    entries += [at(1.9, amps="5", volts=_volts(51, 5)), *_hold(2.2, "19.6M", "13M", "45M")]
    told = answer(entries)
    assert (told["done"], told["done_why"]) == (False, "1-2-3 to frame: the winding isn't within 10 K")


def test_the_first_dip_is_explained():
    entries = [at(0, amps="5", volts=_volts(20, 5)), at(0.1, insulation="2M"), at(1, amps="5", volts=_volts(50, 5)),
               at(1.1, insulation="0.8M")]  # fmt: skip
    assert "drying-dip" in [f["code"] for f in answer(entries)["findings"]]


def test_a_cold_value_of_another_meter_is_said():
    told = answer([], cold_more={"other_meter": True})
    assert "cold-other-meter" in [f["code"] for f in told["findings"]]


@pytest.mark.parametrize(
    ("entries", "where"),
    [
        ([at(1, amps="5")], "entries.0.volts"),
        ([at(1, volts="2.6")], "entries.0.amps"),
        ([at(1, amps="0", volts="2.6")], "entries.0.amps"),
        ([at(1, amps="5", volts="0.9")], "entries.0"),  # -80 °C
        ([at(2, amps="5", volts="2.1"), at(1, amps="5", volts="2.1")], "entries.1.at"),
        ([{"at": "2027-01-01T00:00", "amps": "5", "volts": "2.1"}], "entries.0.at"),
        ([at(1)], "entries.0"),
        ([at(1, amps="5", volts="2.1", insulation="2M")], "entries.0"),
        ([at(1, insulation="0")], "entries.0.insulation"),
        ([at(1, amps="many", volts="2.1")], "entries.0.amps"),
    ],
)
def test_what_cannot_be_used_says_where(entries, where):
    with pytest.raises(RecordRefusal) as refused:
        answer(entries)
    assert refused.value.where == where


@pytest.mark.parametrize("cold", [("0", 18), ("OL", 18), ("0.412", 90)])
def test_a_cold_value_that_is_none_is_refused(cold):
    with pytest.raises(RecordRefusal):
        answer([], cold=cold)
