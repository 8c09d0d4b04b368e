"""A motor on the register and a job on the bench."""

import pytest

from grimcoil.service.jobs import Start, keep, start_job
from grimcoil.service.motors import check_registration, register_motor
from tests.support import NOW

PLATE = {
    "tag": "BW-1",
    "rated_voltage_v": "460",
    "full_load_current_a": "21",
    "power": "15 hp",
    "speed_rpm": "1755",
    "frequency_hz": "60",
    "service_factor": "1.15",
    "insulation_class": "F",
    "lead_scheme": "three-lead-wye",
    "position": "Beet wash",
    "area": "Yard",
    "supply_system": "wye-earthed",
    "system_voltage_v": "480",
}


@pytest.fixture
def motor(store, electrician) -> str:
    return register_motor(store, electrician, check_registration(PLATE, NOW))


@pytest.fixture
def job(store, electrician, motor, clock, request) -> int:
    """A routine job, begun at the starter as usual for three leads; at the motor box for tests marked `at_box`."""
    school = "box-first" if request.node.get_closest_marker("at_box") else ""
    return start_job(store, electrician, Start(motor, "start-token-1", school=school), clock())


@pytest.fixture
def put(store, electrician, job, clock):
    """Keep an entry, with a token of its own."""
    tokens = iter(range(10_000))

    def keep_one(place: str, text: str, token: str | None = None):
        return keep(store, job, place, text, electrician, token or f"token-{next(tokens)}", clock())

    return keep_one
