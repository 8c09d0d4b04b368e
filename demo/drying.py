"""A motor of the works on its way to dry: nine cycles of heat, the reading that falls first, each phase in turn."""

from __future__ import annotations

from datetime import datetime, timedelta

from demo.works import PEOPLE
from grimcoil.core.drying.cycle import Act
from grimcoil.core.insulation.correction import correction_factor
from grimcoil.core.people import Actor, Role
from grimcoil.core.readings import three_digits
from grimcoil.exchange.drying import FRAME
from grimcoil.service.dryings import Kept, begin, keep
from grimcoil.store.engine import Store

TAG = "LK-331"
COLD_OHM, COLD_C, AMPS = 1.42, 14.0, 3.1
# After each cycle: the winding's average, °C, and its insulation at 40 °C, MΩ.
CYCLES = (
    (27.0, 0.98), (36.0, 1.4), (41.0, 2.3), (44.0, 4.1), (46.0, 7.0), (47.0, 10.6), (48.0, 14.2), (48.5, 17.6),
    (49.0, 20.1),
)  # fmt: skip
FIRST_R40 = 1.9
MINUTE = timedelta(minutes=1)


def seed_drying(store: Store, now: datetime) -> int:
    """Begin it so that the tenth cycle of heat runs now; returns its number."""
    who = next(person for person in PEOPLE if "Rohrdommel" in person)
    actor = Actor(None, who, Role.ELECTRICIAN, login="rohrdommel")
    acts = [*_hold(COLD_C, FIRST_R40, 1)]
    for i, (celsius, r40) in enumerate(CYCLES):
        if i in (3, 6):
            acts.append((0.5, Kept(Act.ROTATED, rotated_to=str(1 + i // 3))))
        acts += [(0.5, Kept(Act.HEAT_ON)), _warm(celsius - 1.5, 3), _warm(celsius, 20), (0.5, Kept(Act.HEAT_OFF))]
        acts += [(0.5, Kept(Act.SHORTED)), (1.1, Kept(Act.FREED)), *_hold(celsius, r40, 1.2)]
    acts += [(0.5, Kept(Act.ROTATED, rotated_to="1")), (0.5, Kept(Act.HEAT_ON)), _warm(46.5, 3)]
    clock = now - MINUTE * (1 + sum(minutes for minutes, _ in acts))
    texts = {"hookup": "one-and-two", "cold_ohm": f"{COLD_OHM:g}", "cold_c": f"{COLD_C:g}", "current_limit_a": "10"}
    number = begin(store, actor, TAG, texts, "demo-drying", clock)
    for i, (minutes, kept) in enumerate(acts):
        clock += minutes * MINUTE
        keep(store, actor, number, kept, f"demo-drying-{i:04}", clock)
    return number


def _hold(celsius: float, r40: float, wait: float) -> list[tuple[float, Kept]]:
    """A minute on the tester, then the strap for four times as long."""
    mohm = r40 / correction_factor(celsius, "thermosetting")
    early = mohm * 0.85 if r40 < 2 else mohm / 1.31
    return [
        (wait, Kept(Act.READ, insulation=f"{three_digits(early)}M", t_s=30.0, ends=FRAME)),
        (0.5, Kept(Act.READ, insulation=f"{three_digits(mohm)}M", t_s=60.0, ends=FRAME)),
        (0.2, Kept(Act.SHORTED)),
        (4.1, Kept(Act.FREED)),
    ]


def _warm(celsius: float, minutes: float) -> tuple[float, Kept]:
    ohm = COLD_OHM * (234.5 + celsius) / (234.5 + COLD_C)
    return minutes, Kept(Act.HEAT, amps=f"{AMPS:g}", volts=f"{AMPS * ohm:.3f}")
