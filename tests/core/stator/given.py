"""What the tests of joinings are given."""

from grimcoil.core.stator.connect import Duty, Supply, Wiring, judge_connection
from grimcoil.core.stator.connections import groups
from grimcoil.core.stator.rating import parse_rated


def judged(scheme, rated, supply, lines, joined="", **more):
    duty = Duty(more.pop("speed", None), more.pop("mode", "run"), more.pop("duty", None))
    volts = supply if isinstance(supply, tuple) else (supply,) * 3
    return judge_connection(
        scheme, parse_rated(rated), Supply(volts, **more), Wiring(groups(lines), groups(joined)), duty
    )


def codes(result):
    return [finding.code for finding in result.findings]


RATED = {
    "three-lead-wye": "400Y",
    "three-lead-delta": "400D",
    "six-lead": "400D/690Y",
    "nine-lead-wye": "230Y/460Y",
    "nine-lead-delta": "240D/480D",
    "twelve-lead": "230D/400Y/460D/796Y",
    "part-winding": "400Y",
    "two-speed-two-winding": "400Y",
    "two-speed-one-winding-delta": "400",
    "two-speed-one-winding-wye": "400Y",
}
