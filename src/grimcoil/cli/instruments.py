"""`grimcoil instruments`: simulated instruments on loopback ports, at a motor that is sound or has a fault."""

from __future__ import annotations

import argparse
import asyncio
import sys
from typing import Any

FIRST_PORT = 5025  # the port usual for SCPI over TCP (IANA, from memory)
UNUSABLE = 2


def add_to(commands: Any) -> None:
    """Declare the command."""
    from grimcoil.simulator.machine import COILS, FAULTS

    command: argparse.ArgumentParser = commands.add_parser("instruments")
    command.add_argument("--port", type=int, default=FIRST_PORT, help=f"of the first, the others follow ({FIRST_PORT})")
    command.add_argument("--scheme", choices=sorted(COILS), default="three-lead-wye", help="of the motor's leads")
    command.add_argument("--volts", type=float, default=480.0, help="on its plate (480)")
    command.add_argument("--amps", type=float, default=17.5, help="on its plate (17.5)")
    command.add_argument("--coil-ohm", type=float, default=0.25, help="of each coil (0.25)")
    command.add_argument("--fault", choices=sorted(FAULTS), default="sound", help="put into the motor (sound)")
    command.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Serve until it is ended; 2 with a line where a port is taken or a figure can't be."""
    from grimcoil.simulator.machine import FAULTS, Machine
    from grimcoil.simulator.meter import KINDS, Meter
    from grimcoil.simulator.served import LOOPBACK, serve

    figures = (arguments.volts, arguments.amps, arguments.coil_ohm)
    ports = range(arguments.port, arguments.port + len(KINDS))
    if not (all(0 < one < 1e6 for one in figures) and ports[0] > 0 and ports[-1] <= 65535):
        return _refused("figures above 0, and a port from 1 to 65531")
    machine = Machine(arguments.scheme, *figures, arguments.fault)
    meters = [Meter(kind, machine) for kind in KINDS]

    def ready() -> None:
        for meter, port in zip(meters, ports, strict=True):
            print(f"{LOOPBACK}:{port}\t{meter.identity}")
        print(f"simulated: a motor with {arguments.scheme}, {FAULTS[arguments.fault]}", flush=True)

    try:
        asyncio.run(serve(meters, ports, ready))
    except OSError as error:
        return _refused(f"{error.strerror}: --port takes another first port")
    except KeyboardInterrupt:
        return 0
    return 0


def _refused(words: str) -> int:
    print(f"grimcoil: instruments: {words}", file=sys.stderr)
    return UNUSABLE
