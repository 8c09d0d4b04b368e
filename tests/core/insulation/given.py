"""What the tests of holds are given."""

from grimcoil.core.insulation.judge import judge_insulation
from grimcoil.core.measured import InsulationTest
from grimcoil.core.plate import Plate
from grimcoil.core.subject import Conditions, Subject, Winding
from tests.support import series

TIMES = [15, 30, 45, 60, 120, 180, 300, 420, 600]


def mohm(t, leak_mohm, amplitude, n):
    return [1 / (1 / leak_mohm + amplitude * s**-n) for s in t]


PLATE = Plate((460,), insulation_class="F", built_year=2015)


RANDOM = Winding()


AT_20 = Conditions(winding_temperature_c=20, ambient_temperature_c=20)


def judged(*points, conditions=AT_20, plate=PLATE, winding=RANDOM, volts=500, **more):
    return judge_insulation(InsulationTest(series(*points), volts, conditions, **more), Subject(plate, winding))


def codes(result):
    return [finding.code for finding in result.findings]
