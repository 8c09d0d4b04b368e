"""Somebody at a plant with a fault in it: reads meters, looks, tries, does what a step asks for."""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from random import Random
from typing import Any

from tools.plants.circuit import N3, OPEN_OHM, Broken, Net, Now, Site, control_volts
from tools.plants.faults import COMPLAINT, FAULTS, NEXT, Fault, makers

USUAL = {
    "overload-setting": "right", "burn-look": "none", "changed-lately": "nothing", "starts-per-hour": "few",
    "vents-look": "clear", "frame-touch": "warm", "run-up": "short", "connection-look": "right", "drive-look": "runs",
    "look-closed": "nothing",
}  # fmt: skip
CONTROL = ("control-", "chain-", "coil-")
SHORT_TIMES = 14.0  # line current in parts of the plate's at which a fuse goes or a breaker trips at once


@dataclass
class Plant:
    """A site, its faults in the order they stand, and how it was left. Changes as it is worked at."""

    site: Site
    faults: list[Fault]
    symptom: str
    dice: Random
    tripped: bool = False
    blown: tuple[int, ...] = ()
    leads_ohm: float = 0.2
    step: float = 0.1
    ohm_top: float = 4e7
    off: bool = False
    proved: set[str] = field(default_factory=set)
    unsafe: list[str] = field(default_factory=list)
    seen_short: bool = False
    resets: int = 0
    says_contactor: bool = False  # writes down that it didn't come in, unasked

    def wrong(self) -> Broken:
        """All that is wrong now."""
        out = Broken()
        for fault in self.faults:
            out = out | fault.broken
        if self.tripped and "overload" in self.site.chain:
            out = out | Broken(control_open=frozenset({"overload"}))
        if self.blown:
            out = out | Broken({("guard", n): OPEN_OHM for n in self.blown})
        return out

    def contactor(self) -> str:
        """What it does with the start held."""
        wrong = self.wrong()
        volts = control_volts(self.site, wrong, Now(at="start"))["coil-A1"]
        if "coil" in wrong.control_open or volts < 0.5 * self.site.control_v:
            return "out"
        return "in" if volts >= 0.8 * self.site.control_v else "chatters"

    def net(self, now: Now) -> Net:
        """The circuit in a state, as the contactor really is."""
        if now.supply == "on" and now.at != "rest":
            now = replace(now, contactor="in" if self.contactor() == "in" else "out")
        return Net(self.site, self.wrong(), now)

    def start(self, load: str = "coupled") -> str:
        """What a start does."""
        if self.contactor() != "in":
            return "nothing"
        held = self.net(Now(contactor="in", at="start", load=load))
        amps = [held.amps(n) for n in N3]
        if max(amps) > SHORT_TIMES * self.site.amps or self._earth_fault():
            return "blows" if max(amps) > 2 * SHORT_TIMES * self.site.amps else "trips-at-once"
        torque, wrong = held.torque(), self.wrong()
        if max(amps) < 0.05 * self.site.amps:
            return "nothing"
        if (wrong.stalled and load == "coupled") or any(one.name == "bearing-seized" for one in self.faults):
            return "hums"
        if torque < 0.25:
            return "hums"
        if any(one.name == "rotation-wrong" for one in self.faults):
            return "backwards"
        if torque < 0.72:
            return "slow"
        run = self.net(Now(contactor="in", at="run", load=load))
        names = {one.name for one in self.faults}
        early = bool(names & {"overload-misset", "overload-faulty", "starts-too-many"})
        high = max(run.amps(n) for n in N3) > 1.1 * self.site.amps
        return "trips-later" if high or (early and load == "coupled") else "runs"

    def _earth_fault(self) -> bool:
        """An earth-leakage device sees it: a path of some kilohms at an earthed supply."""
        paths = [ohm for a, b, ohm in self.wrong().bridges if b in ("earth", "frame")]
        return self.site.system == "wye-earthed" and any(ohm < 1e4 for ohm in paths)

    def has_short(self) -> bool:
        """A path that nothing may be closed onto."""
        return any(ohm < 1e5 for _, _, ohm in self.wrong().bridges)

    def shows_short(self) -> bool:
        """The same as far as ohms can show it: to earth below 100 kΩ, or a pair that is clearly low beside the others
        or beside what a sound motor of the kind has. Two phases that touch with even ohms are found by no ohmmeter.
        """
        wrong = self.wrong()
        if any(ohm < 1e5 and b in ("earth", "frame") for _, b, ohm in wrong.bridges):
            return True
        both = [Net(self.site, broken, Now(supply="off")) for broken in (wrong, Broken())]
        read, sound = ([net.ohms(f"overload-T{n}", f"overload-T{n % 3 + 1}") for n in N3] for net in both)
        return bool(wrong.bridges) and (max(read) >= 1.6 * min(read) or min(read) < 0.3 * min(sound))

    def entry(self, step: dict[str, Any]) -> dict[str, Any]:
        """Do what the walk asks; note what it asked for against the rules."""
        self._safety(step)
        name = step["test"]
        if name == "prove-dead":
            self.off = True
            self.proved.add(step["where"])
            return {"test": name, "answer": "dead", "where": step["where"]}
        if step["answers"]:
            return {"test": name, "answer": self._answer(name, step)}
        state = Now(**step["state"])
        shown = self._measured(step["quantity"], state, step["between"])
        told = dict(step["state"])
        if state.supply == "on" and state.at != "rest" and self.contactor() != "in" and self.says_contactor:
            told["contactor"] = "out"
            if state.at == "run":
                told["at"] = "start"
            return {"test": name, "readings": shown, "quantity": step["quantity"], "state": told}
        return {"test": name, "readings": shown}

    def _measured(self, quantity: str, state: Now, between: list[list[str]] | None) -> dict[str, str]:
        if quantity == "amps":
            net = self.net(state)
            turning = state.at == "run" and self.start() in ("hums", "nothing")
            net = self.net(replace(state, at="start")) if turning else net
            return {
                f"L{n}": f"{net.amps(n) * self.dice.gauss(1, 0.01) + abs(self.dice.gauss(0, 0.03)):.1f}" for n in N3
            }
        return {f"{a}~{b}": self._one(quantity, state, a, b) for a, b in between or []}

    def _one(self, quantity: str, state: Now, a: str, b: str) -> str:
        if quantity == "ohms" and state.fuses == "out" and a.startswith("supply"):
            n = int(a[-1])
            dead = n in self.blown or any((("guard", n)) in one.broken.ohm for one in self.faults)
            return self._ohms(1e9 if dead else 0.01)
        if quantity.startswith("volts"):
            if a.startswith(CONTROL) and b.startswith(CONTROL):
                control = control_volts(self.site, self.wrong(), state)
                return self._volts(abs(control[a] - control[b]))
            if a.startswith(("star-T", "delta-T")):
                stuck = any(one.name == "star-delta-stuck-star" for one in self.faults)
                joined = stuck == a.startswith("star-T")
                return self._volts(0.0 if joined else self.site.volts)
            return self._volts(self.net(state).volts(a, b, 1e7 if quantity == "volts-ac-high-z" else 3000.0))
        ohm = Net(self.site, self.wrong(), state).ohms(a, b)
        if quantity == "insulation":
            shown = ohm * self.dice.gauss(1, 0.03)
            return ">1G" if shown > 1e9 else "short" if shown < 5e3 else f"{shown / 1e6:.2f}M"
        return self._ohms(ohm)

    def _ohms(self, ohm: float) -> str:
        shown = (ohm + self.leads_ohm) * self.dice.gauss(1, 0.004)
        if shown > self.ohm_top:
            return "OL"
        if shown < 1000:
            return f"{round(shown / self.step) * self.step:.{1 if self.step > 0.05 else 2}f}"
        power = min(2, int(math.log10(shown)) // 3)
        return f"{shown / 1000**power:.2f} {('', 'k', 'M')[power]}Ω"

    def _volts(self, volts: float) -> str:
        shown = volts * self.dice.gauss(1, 0.004)
        return f"{shown:.3f}" if shown < 1 else f"{shown:.1f}" if shown < 100 else f"{shown:.0f}"

    def _answer(self, name: str, step: dict[str, Any]) -> str:  # noqa: C901, PLR0912 - a line a question
        names = {one.name for one in self.faults}
        match name:
            case "overload-look":
                return "tripped" if self.tripped else "not-tripped"
            case "overload-reset":
                self.resets += 1
                self.tripped = False
                return "after-cooling" if {"load-grown", "overload-tripped"} & names else "at-once"
            case "breaker-look":
                off = "breaker-tripped" in names or (self.blown and self.site.protection == "breaker")
                return "tripped" if off else "on"
            case "breaker-reclose":
                self.blown = ()
                self.faults = [one for one in self.faults if one.name != "breaker-tripped"]
                return "trips-at-once" if self.has_short() else "holds"
            case "contactor-look":
                return {"in": "pulls-in", "out": "stays-out", "chatters": "chatters"}[self.contactor()]
            case "contactor-did":
                return self.contactor()
            case "start-try":
                return self.start()
            case "brake-look":
                if self.site.brake == "none":
                    return "none"
                fed = (
                    self.contactor() == "in"
                    and self.net(Now(contactor="in", at="start")).volts(
                        *(f"overload-T{self.site.brake_lines[k]}" for k in (1, 4))
                    )
                    > 0.7 * self.site.volts
                )
                return "stays-on" if "brake-not-lifting" in names or not fed else "lifts"
            case "shaft-by-hand":
                held = names & {"bearing-seized", "load-jammed", "brake-not-lifting"}
                held = held or (self.site.brake != "none" and "brake-not-lifting" in names)
                return "locked" if held else "stiff" if names & {"bearing-worn", "load-grown"} else "free"
            case "motor-shaft-uncoupled":
                return "locked" if "bearing-seized" in names else "stiff" if "bearing-worn" in names else "free"
            case "load-shaft-uncoupled":
                return "locked" if "load-jammed" in names else "stiff" if "load-grown" in names else "free"
            case "uncoupled-run":
                did = self.start("uncoupled")
                if did in ("hums", "nothing", "blows"):
                    return did
                if did == "trips-at-once":
                    return "blows"
                idle = self.net(Now(contactor="in", at="run", load="uncoupled"))
                return "high" if max(idle.amps(n) for n in N3) > 0.6 * self.site.amps else "normal"
            case "run-up":
                did = self.start()
                return next((one.seen["run-up"] for one in self.faults if "run-up" in one.seen), None) or (
                    "long" if did in ("slow", "hums") else "short"
                )
            case "control-supply-ask":
                return "separate" if self.site.control == "separate" else "lines"
            case "disconnect-look":
                return "off" if "disconnect-off" in names else "on"
        told = next((one.seen[name] for one in self.faults if name in one.seen), USUAL.get(name, ""))
        return told if told in step["answers"] else step["answers"][0]

    def _safety(self, step: dict[str, Any]) -> None:
        """By what is true here: dead work without its proof, hands without theirs, closing onto what tripped."""
        name, quantity, state = step["test"], step["quantity"], step["state"] or {}
        if name == "prove-dead":
            return
        lifted = state.get("motor", "connected") != "connected" or state.get("load") == "uncoupled"
        dead = quantity in ("ohms", "insulation") or name == "shaft-by-hand" or lifted
        if dead and not (self.off and "panel" in self.proved):
            self.unsafe.append(f"{name}: not proved dead")
        if dead and step["where"] == "motor-box" and "motor-box" not in self.proved:
            self.unsafe.append(f"{name}: not proved dead at the box")
        if quantity in ("ohms", "insulation") and state.get("supply") == "on":
            self.unsafe.append(f"{name}: supply on")
        closing = state.get("supply") == "on" and (
            state.get("contactor") == "in" or state.get("at") in ("start", "run")
        )
        closing = closing or name in ("overload-reset", "breaker-reclose", "start-try")
        known = self.symptom in ("blows-fuse", "trips-at-once", "earth-leakage") or self.seen_short
        if closing and known and self.shows_short():
            self.unsafe.append(f"{name}: closed onto a short after a trip")
        if name == "overload-reset" and self.resets:
            self.unsafe.append("a second reset")
        if name == "breaker-look" and self.blown:
            self.seen_short = True
        if state.get("supply") == "on" or (closing and name != "overload-reset"):
            self.off, self.proved = False, set()

    def mend(self, name: str, line: str | None) -> Fault | None:
        """Take out the fault that a verdict names; None where it isn't there."""
        for fault in self.faults:
            if fault.name == name and line in (None, fault.line):
                self.faults.remove(fault)
                self.tripped, self.blown = False, ()
                return fault
        return None

    def document(self, done: list[dict[str, Any]], order: str = "most-telling") -> dict[str, Any]:
        """The walk's file."""
        site = self.site
        position: dict[str, Any] = {
            "starter": site.starter, "disconnect": site.disconnect, "protection": site.protection,
            "control_v": site.control_v, "control_fuse": site.control_fuse, "control_chain": list(site.chain),
            "protector": site.protector, "brake": site.brake,
            "overload": {"dial_a": site.amps, "trip_class": 10, "reset": "hand"},
        }  # fmt: skip
        if site.on_record:
            position["control_supply"] = site.control
        if site.brake == "two-lines":
            position["brake_lines"] = site.brake_lines
        motor = {
            "tag": "BX-1", "rated_voltage_v": round(site.volts / 1.04), "full_load_current_a": site.amps,
            "lead_scheme": f"three-lead-{site.wound}",
        }  # fmt: skip
        return {
            "format": "grimcoil-walk/1", "motor": motor, "supply_v": site.volts, "supply_system": site.system,
            "position": position, "symptom": self.symptom, "order": order, "done": done,
        }  # fmt: skip


def site(dice: Random) -> Site:
    """A position as plants have them."""
    volts = dice.choice([400.0, 480.0, 575.0])
    amps = dice.choice([3.6, 8.5, 21.0, 47.0, 96.0])
    wound = dice.choice(["wye", "wye", "delta"])
    line_ohm = 0.05 * volts / (math.sqrt(3) * amps) * dice.uniform(0.7, 1.4)
    chain = dice.choice([
        ("stop", "overload", "start"), ("stop", "permissive", "overload", "start"),
        ("stop", "permissive", "permissive", "overload", "start"),
    ])  # fmt: skip
    protector = dice.choice(["none"] * 4 + ["star-point", "control-chain"])
    if protector == "control-chain":
        chain = (chain[0], "protector", *chain[1:])
    return Site(
        volts=volts, amps=amps, wound=wound, chain=chain, protector=protector,
        system=dice.choice(["wye-earthed"] * 4 + ["unearthed", "high-resistance-earthed", "corner-earthed"]),
        starter=dice.choice(["direct"] * 7 + ["star-delta", "drive"]),
        disconnect=dice.choice(["panel", "panel", "local", "none"]), protection=dice.choice(["fuses", "breaker"]),
        control=dice.choice(["L1-L2", "L2-L3", "L3-L1", "separate"]), on_record=dice.random() < 0.75,
        control_v=dice.choice([24.0, 110.0, 230.0]), control_fuse=dice.random() < 0.8,
        brake=dice.choice(["none"] * 4 + ["two-lines"]), coil_ohm=line_ohm / 2 if wound == "wye" else line_ohm * 1.5,
        core_ohm=dice.uniform(0.01, 0.1),
    )  # fmt: skip


def plant(dice: Random, count: int = 1) -> Plant:
    """A site with so many faults, complained of as it behaves, left as faults leave a circuit."""
    at = site(dice)
    chosen: list[Fault] = []
    while len(chosen) < count:
        one = FAULTS[dice.choice(makers(at))](at, dice)
        if all(
            one.name != other.name and not (one.broken.control_open and other.broken.control_open) for other in chosen
        ):
            chosen.append(one)
    return left(at, chosen, dice)


def left(at: Site, faults: list[Fault], dice: Random) -> Plant:
    """The plant as somebody finds it."""
    made = Plant(at, faults, "dead-silent", dice)
    made.leads_ohm, made.step = dice.choice([(0.2, 0.1), (0.0, 0.1), (0.1, 0.01)])
    made.ohm_top = dice.choice([2e6, 2e7, 4e7])
    made.says_contactor = dice.random() < 0.5
    did = made.start()
    own = next((COMPLAINT[one.name] for one in faults if one.name in COMPLAINT), None)
    shown = {"nothing": "dead-silent", "hums": "hums", "trips-at-once": "trips-at-once", "blows": "blows-fuse",
             "slow": "slow-weak", "backwards": "runs-backwards", "trips-later": "trips-later"}.get(did)  # fmt: skip
    made.symptom = (
        shown if shown in ("dead-silent", "hums", "trips-at-once", "blows-fuse") else own or shown or "runs-hot"
    )
    if made.symptom == "dead-silent" and own and did != "nothing":
        made.symptom = own
    if did == "runs" and made.has_short():
        made.symptom = "earth-leakage"  # nothing trips where nothing is earthed: the monitor tells
    if made._earth_fault() and dice.random() < 0.3:  # noqa: SLF001 - how it is told, not how it is
        made.symptom = "earth-leakage"
    names = {one.name for one in faults}
    if "overload-tripped" in names or (made.symptom in ("hums", "trips-later") and dice.random() < 0.5):
        made.tripped = True
    if made.symptom in ("blows-fuse", "trips-at-once") and made.has_short() and dice.random() < 0.6:
        lines = {int(c) for one in faults for c in (one.line or "L1") if c.isdigit()}
        made.blown = N3 if at.protection == "breaker" else tuple(sorted(lines))
    return made


def right(plant: Plant, told: dict[str, Any], truth: list[Fault]) -> bool:
    """Whether an end names a fault that is there: as verdict, among its alternatives, or among those handed over."""
    verdict, over = told["verdict"], told["hand_over"]
    named = [verdict, *verdict["alternatives"]] if verdict else over["suspects"] if over else []
    return any(_same(one, fault, plant.site) for one in named for fault in truth)


def _same(named: dict[str, Any], fault: Fault, at: Site) -> bool:
    if named["suspect"] != fault.name:
        return False
    line = named["line"]
    if line in (None, fault.line) or fault.name == "winding-to-frame":
        return True
    if fault.name in ("winding-turn-short", "phase-reversed", "winding-phase-to-phase"):
        return True  # which one isn't told apart from outside
    return (
        at.wound == "delta" and fault.name == "winding-open" and {line, fault.line} == {f"L{k}-L{NEXT[k]}" for k in N3}
    )
