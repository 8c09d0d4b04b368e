"""How those who do a job want it done: which dead test first, held how, by which volts, with what at hand."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum

from grimcoil.core.criteria import Criteria


class FirstTest(StrEnum):
    """The dead test a job begins with; insulation comes after continuity all the same."""

    OHMS = "ohms"
    INSULATION = "insulation"
    SHAFT = "shaft"


class InsulationBy(StrEnum):
    """All leads joined, or lead by lead."""

    JOINED = "joined"
    LEAD = "lead"


class AtHand(StrEnum):
    """What was brought along."""

    INSULATION_TESTER = "insulation-tester"
    OHMMETER = "ohmmeter"
    LAMPS = "lamps"
    CLAMP = "clamp"


class TestVolts(StrEnum):
    """Whose advice the test voltage follows, whatever else judges."""

    __test__ = False  # no test of pytest's
    TABLE = "table"
    NEAREST = "nearest"
    TWICE = "twice"
    UNDER_WATER = "under-water"


SCHOOL_OF = {
    TestVolts.TABLE: "ieee-43",
    TestVolts.NEAREST: "nearest-rated",
    TestVolts.TWICE: "twice-rated",
    TestVolts.UNDER_WATER: "under-water",
}


@dataclass(frozen=True, slots=True)
class Wishes:
    """What was chosen; None or empty: as the kind of job and the criteria have it.

    at_hand: all that was brought along; nothing named, so that nothing is known to be missing.
    """

    first_test: FirstTest | None = None
    insulation_by: InsulationBy | None = None
    at_hand: tuple[AtHand, ...] = ()
    test_volts: TestVolts | None = None

    @property
    def no_tester(self) -> bool:
        """Whether insulation can be read by an ohmmeter only."""
        return bool(self.at_hand) and AtHand.INSULATION_TESTER not in self.at_hand

    @property
    def no_clamp(self) -> bool:
        """Whether no amps can be read."""
        return bool(self.at_hand) and AtHand.CLAMP not in self.at_hand

    def limits(self, criteria: Criteria) -> Criteria:
        """The criteria with the test volts that were chosen (common practice without source)."""
        if self.test_volts is None:
            return criteria
        return replace(criteria, test_voltage_school=SCHOOL_OF[self.test_volts])


AS_USUAL = Wishes()
