"""A plant with a fault at a position of the register, for those who walk it step by step."""

from dataclasses import asdict
from random import Random

from tools.plants.circuit import Site
from tools.plants.faults import FAULTS
from tools.plants.person import Plant


def plant_at(place, fault, symptom="hums", seed=1):
    """A plant that stands as a place of the register does."""
    site = Site(
        volts=place.volts, amps=place.amps, wound=place.wound, system=place.system, starter=place.starter,
        disconnect=place.disconnect, protection=place.protection, control=place.control, control_v=place.control_volts,
        control_fuse=place.control_fuse, chain=place.chain, protector=place.protector, brake=place.brake,
        coil_ohm=place.phase_ohm, core_ohm=place.cable_ohm,
    )  # fmt: skip
    return Plant(site, [FAULTS[fault](site, Random(seed))], symptom, Random(seed))


def done_at(plant, trial, where="panel"):
    """What somebody there answers to one test."""
    state = asdict(trial.circuit) if trial.circuit is not None else None
    between = [list(pair) for pair in trial.between] or None
    step = {"test": trial.name, "quantity": trial.quantity, "answers": list(trial.usual), "where": where}
    return plant.entry(step | {"state": state, "between": between})


def token_of(plant, trial, where="panel"):
    """The same as the walk's page keeps it."""
    done = done_at(plant, trial, where)
    if trial.name == "prove-dead":
        return f"prove-dead~dead~{where}"
    return "~".join((trial.name, done["answer"])) if trial.asks else "~".join((trial.name, *done["readings"].values()))
