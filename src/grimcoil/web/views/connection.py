"""The Connection page's context: leads on lines and joints, as found and as left, solved and drawn."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from urllib.parse import urlencode

from grimcoil.core.errors import Refusal
from grimcoil.core.stator.coils import Group
from grimcoil.core.stator.connect import (
    CoilState,
    ConnectionResult,
    Duty,
    Supply,
    Wiring,
    judge_connection,
    right_connections,
)
from grimcoil.core.stator.connections import Connection, connections_of
from grimcoil.core.stator.letters import iec_letters
from grimcoil.core.stator.rating import parse_rated
from grimcoil.core.stator.schemes import SCHEMES
from grimcoil.core.stator.volts import coil_potentials, line_potentials
from grimcoil.draw.joints import Leg, coil_diagram, splice_bundle, stud_block
from grimcoil.exchange.connections import read_supply
from grimcoil.service.leads import OwnLeads
from grimcoil.web.urls import Urls
from grimcoil.web.views.windings import told, windings_of

LINES = ("L1", "L2", "L3")
JOINTS = ("a", "b", "c", "d")
STATES = ("found", "left")
DEFAULTS = {"scheme": "nine-lead-wye", "rated": "230Y/460Y", "supply": "460"}
SPEEDS, MODES = ("", "low", "high"), ("run", "start")
LONGEST_ON_LEAD = 5  # letters that a drawn lead has room for
DUTIES = ("", "constant-torque", "constant-power", "variable-torque")
STUDS = {
    "six-lead": (("1", "2", "3"), ("6", "4", "5")),
    "part-winding": (("1", "2", "3"), ("7", "8", "9")),
    "two-speed-two-winding": (("1", "2", "3"), ("11", "12", "13")),
    "two-speed-one-winding-delta": (("1", "2", "3"), ("6", "4", "5")),
    "two-speed-one-winding-wye": (("1", "2", "3"), ("6", "4", "5")),
}


@dataclass(frozen=True, slots=True)
class Given:
    """What the form says. nodes: by state, lead -> line, joint or nothing; tag: of the motor whose names are shown."""

    scheme: str
    rated: str
    supply: str
    frequency: str
    rated_frequency: str
    speed: str
    mode: str
    duty: str
    state: str
    nodes: Mapping[str, Mapping[str, str]]
    tag: str = ""


@dataclass(frozen=True, slots=True)
class ConnectionView:
    """Everything the page shows."""

    given: Given
    result: ConnectionResult | None
    right: tuple[Connection, ...]
    box: str
    coils: str
    refusals: Mapping[str, str]
    letters: Mapping[str, str]

    @property
    def placed(self) -> bool:
        """Whether any lead of the state shown was placed: before that there is nothing to judge."""
        return any(_shown(self.given).values())

    @property
    def windings(self) -> Sequence[CoilState]:
        """What lies between leads, halves in series as one."""
        return told(self.given.scheme, self.result.coils) if self.result else ()

    @property
    def labels(self) -> tuple[str, ...]:
        """Leads of the scheme."""
        return SCHEMES[self.given.scheme].labels

    def address(self, **changed: str) -> str:
        """The page with other parameters."""
        return connection_address(self.given, **changed)

    def with_connection(self, one: Connection) -> str:
        """The page with a connection of the table in the state shown."""
        nodes = nodes_of(one, self.given.scheme)
        return connection_address(self.given, **{f"{self.given.state}-{lead}": node for lead, node in nodes.items()})

    @property
    def svg_address(self) -> str:
        """The drawing as a file."""
        return connection_address(self.given).replace(Urls.connection, Urls.connection_svg, 1)


def connection_address(given: Given, **changed: str) -> str:
    """The page's address."""
    query = {
        "scheme": given.scheme, "rated": given.rated, "supply": given.supply, "hz": given.frequency,
        "plate_hz": given.rated_frequency, "speed": given.speed, "mode": given.mode, "duty": given.duty,
        "state": given.state, "tag": given.tag,
        **{f"{state}-{lead}": node for state, nodes in given.nodes.items() for lead, node in nodes.items()},
        **changed,
    }  # fmt: skip
    return f"{Urls.connection}?{urlencode({name: value for name, value in query.items() if value})}"


def read_given(query: Mapping[str, str]) -> Given:
    """The form's words. Where no lead is placed none is: what is right isn't filled in for what is found."""
    scheme = query.get("scheme", DEFAULTS["scheme"])
    if scheme not in SCHEMES:
        raise Refusal("scheme", scheme[:40], f"one of {', '.join(SCHEMES)}", "nine-lead-wye")
    fresh = scheme == DEFAULTS["scheme"] and "rated" not in query
    labels = SCHEMES[scheme].labels
    return Given(
        scheme,
        query.get("rated", DEFAULTS["rated"] if fresh else "")[:60],
        query.get("supply", DEFAULTS["supply"])[:40],
        query.get("hz", "")[:10],
        query.get("plate_hz", "")[:10],
        query.get("speed", "")[:10],
        query.get("mode", "run")[:10] or "run",
        query.get("duty", "")[:20],
        query.get("state", "found")[:10],
        {state: {lead: _node(query.get(f"{state}-{lead}", "")) for lead in labels} for state in STATES},
        query.get("tag", "")[:40],
    )


def _node(text: str) -> str:
    return text if text in (*LINES, *JOINTS) else ""


def nodes_of(one: Connection, scheme: str) -> dict[str, str]:
    """A connection of the table as lead -> line or joint."""
    nodes = dict.fromkeys(SCHEMES[scheme].labels, "")
    for line, group in zip(LINES, one.lines, strict=True):
        nodes.update(dict.fromkeys(group, line))
    for joint, group in zip(JOINTS, one.joined, strict=False):
        nodes.update(dict.fromkeys(group, joint))
    return nodes


def _duty(given: Given) -> Duty:
    speed = given.speed if given.speed in SPEEDS else ""
    duty = given.duty if given.duty in DUTIES else ""
    return Duty(speed or None, given.mode if given.mode in MODES else "run", duty or None)


def wiring_of(nodes: Mapping[str, str]) -> Wiring:
    """Lead -> node as groups."""

    def on(node: str) -> Group:
        return tuple(lead for lead, at in nodes.items() if at == node)

    return Wiring(tuple(on(line) for line in LINES), tuple(group for joint in JOINTS if (group := on(joint))))


def begun_with(own: OwnLeads, query: Mapping[str, str]) -> dict[str, str]:
    """A motor's scheme and plate where the form doesn't say another: the page as it is opened from a motor."""
    found = {"scheme": own.scheme if own.scheme in SCHEMES else "", "rated": own.rated, "supply": own.supply}
    return {name: text for name, text in found.items() if text and name not in query} | dict(query)


def connection_view(given: Given, colours: Sequence[str], own: OwnLeads | None = None) -> ConnectionView:
    """Solve and draw the state shown. What can't be used is told at its field, the drawing stays."""
    refusals: dict[str, str] = {}
    rated = _tried("rated", refusals, lambda: parse_rated(given.rated) if given.rated else ())
    volts = _tried("supply", refusals, lambda: read_supply(given.supply))
    hertz = {name: _tried(name, refusals, lambda text=text: _hertz(text)) for name, text in _hertz_texts(given)}
    nodes = _shown(given)
    wiring = wiring_of(nodes)
    result, right = None, []
    supply = Supply(volts or (1.0, 1.0, 1.0), hertz["hz"], hertz["plate_hz"])
    if volts is not None and rated is not None:
        try:
            right = right_connections(given.scheme, rated, supply, _duty(given))
            if rated and any(nodes.values()):
                result = judge_connection(given.scheme, rated, supply, wiring, _duty(given))
        except Refusal as refusal:
            refusals["supply"] = refusal.sentence()
    here = own if own and own.scheme == given.scheme else None
    letters = {**iec_letters(given.scheme), **(here.words if here else {})}
    shown = {lead: name[:LONGEST_ON_LEAD] for lead, name in (here.names if here else {}).items()}
    return ConnectionView(
        given,
        result,
        tuple(right or connections_of(given.scheme, given.speed or None, given.mode, given.duty or None)),
        _box(given.scheme, nodes, iec_letters(given.scheme) | shown, tuple(colours)),
        draw_coils(given.scheme, wiring, supply, result, tuple(colours))
        if volts is not None and any(nodes.values())
        else "",
        refusals,
        letters,
    )


def _shown(given: Given) -> Mapping[str, str]:
    """As left starts from as found."""
    left = given.nodes["left"]
    return left if given.state == "left" and any(left.values()) else given.nodes["found"]


def _hertz_texts(given: Given) -> tuple[tuple[str, str], tuple[str, str]]:
    return (("hz", given.frequency), ("plate_hz", given.rated_frequency))


def _hertz(text: str) -> float | None:
    if not text.strip():
        return None
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        value = 0.0
    if not 0 < value < 1000:
        raise Refusal("frequency", text, "a frequency in Hz", "60")
    return value


def _tried(name: str, refusals: dict[str, str], read):  # type: ignore[no-untyped-def]
    try:
        return read()
    except Refusal as refusal:
        refusals[name] = refusal.sentence()
        return None


def _box(scheme: str, nodes: Mapping[str, str], letters: Mapping[str, str], colours: tuple[str, ...]) -> str:
    told = "; ".join(
        f"{node or 'open'}: {', '.join(lead for lead in nodes if nodes[lead] == node)}"
        for node in (*LINES, *JOINTS, "")
        if node in nodes.values()
    )
    label = f"Terminal box. {told}."
    if scheme in STUDS:
        rows = tuple(tuple(f"{stud} {letters.get(stud, '')}" for stud in row) for row in STUDS[scheme])
        return stud_block((rows[0], rows[1]), tuple(nodes.items()), colours, label)
    joints = [
        (node, tuple(f"{lead} {letters.get(lead, '')}" for lead in nodes if nodes[lead] == node))
        for node in (*LINES, *JOINTS)
        if node in nodes.values()
    ]
    joints += [("open", (f"{lead} {letters.get(lead, '')}",)) for lead in nodes if not nodes[lead]]
    return splice_bundle(tuple(joints), colours, label)


def draw_coils(
    scheme: str, wiring: Wiring, supply: Supply, result: ConnectionResult | None, colours: tuple[str, ...]
) -> str:
    """Coils at their potentials as SVG; nothing where lines lie on one another."""
    made = SCHEMES[scheme]
    try:
        lines = line_potentials(supply.volts)
        ends = coil_potentials(made, wiring.lines, wiring.joined, lines)
    except Refusal:
        return ""
    if ends is None:
        return ""
    states = {coil.coil: coil for coil in result.coils} if result else {}
    legs = []
    for one in windings_of(scheme):
        start, finish = ends[one.coils[0]][0], ends[one.coils[-1]][1]
        state = states.get(made.coils[one.coils[0]].name)
        percent = state.percent_of_design if state else None
        off = abs(state.off_axis_deg or 0.0) if state else 0.0
        css = "ok"
        if percent is not None and (percent > 110 or off > 20):
            css = "act"
        elif percent is not None and percent < 90:
            css = "low"
        words = f"{abs(start - finish):.0f} V"
        legs.append(Leg(one.name, start, finish, css, words))
    words = ", ".join(f"{leg.name} {leg.words}" for leg in legs)
    reach = max(abs(p) for p in lines)
    return coil_diagram(tuple(legs), tuple(lines), reach, colours, f"Coils drawn to their volts: {words}")
