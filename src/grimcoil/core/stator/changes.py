"""A change of scheme: what is opened or joined inside, which leads come out, and what has to be tested afterwards."""

from __future__ import annotations

from dataclasses import dataclass

from grimcoil.core.resistance.naming import sets_of
from grimcoil.core.stator.letters import iec_letters
from grimcoil.core.stator.schemes import SCHEMES

REWOUND = "rewound"


@dataclass(frozen=True, slots=True)
class ChangeOfScheme:
    """From one scheme to another. A change is a new winding record with its own baseline; the old one stays readable.

    reason: what the record says. opened, made: joints inside. brought_out, taken_in: leads. to_do, to_test: sentences.
    """

    before: str
    after: str
    reason: str
    opened: tuple[str, ...]
    made: tuple[str, ...]
    brought_out: tuple[str, ...]
    taken_in: tuple[str, ...]
    to_do: tuple[str, ...]
    to_test: tuple[str, ...]


def change_of_scheme(before: str, after: str, rewound: bool = False) -> ChangeOfScheme:
    """What the change takes. before, after: lead schemes; rewound: new coils, so nothing of the old winding counts.

    Worked out from the joints of both schemes; what to do and test is common practice without source.

    >>> change_of_scheme("three-lead-wye", "six-lead").brought_out
    ('4 U2', '5 V2', '6 W2')
    """
    old, new = SCHEMES[before], SCHEMES[after]
    opened = tuple("-".join(joint) for joint in old.joints if joint not in new.joints)
    made = tuple("-".join(joint) for joint in new.joints if joint not in old.joints)
    letters, old_letters = iec_letters(after), iec_letters(before)
    out = tuple(f"{lead} {letters[lead]}" for lead in new.labels if lead not in old.labels)
    taken = tuple(f"{lead} {old_letters[lead]}" for lead in old.labels if lead not in new.labels)
    what = REWOUND if rewound else "leads changed"
    reason = f"{what}: {old.title.lower()} to {new.title.lower()}"
    return ChangeOfScheme(
        before,
        after,
        reason,
        opened,
        made,
        out,
        taken,
        tuple(_to_do(opened, made, out, taken, rewound)),
        tuple(_to_test(after)),
    )


def _to_do(
    opened: tuple[str, ...], made: tuple[str, ...], out: tuple[str, ...], taken: tuple[str, ...], rewound: bool
) -> list[str]:
    steps = ["Motor out, dead and discharged; photograph the end turns and every joint before it is touched."]
    if rewound:
        steps.append("Record the new coils: turns, wire, span, circuits, conductor, insulation class and system.")
    if opened:
        steps.append(f"Open inside: {', '.join(opened)}. Keep each end tied to its coil until it is marked.")
    if made:
        steps.append(f"Join inside: {', '.join(made)}; braze or crimp, insulate for the class, lace and brace.")
    if out:
        steps.append(f"Bring out {', '.join(out)} in lead wire of the class and the size of the others; mark each end.")
    if taken:
        steps.append(f"{', '.join(taken)} no longer come out: cut back, insulate, tie in.")
    return [*steps, "A plate of its own for the new connection beside the maker's; both are kept, the newer governs."]


def _to_test(after: str) -> list[str]:
    scheme = SCHEMES[after]
    sets = [", ".join(one.pairs) for one in sets_of(after)]
    tests = [f"Resistance of {pairs}, low-ohm, with the winding's temperature: the new baseline." for pairs in sets]
    tests.append("Insulation to frame held 1 minute, and index or ratio; each separable part with the rest earthed.")
    if len(sets) > 1 or (sets and not sets_of(after)[0].star):
        tests.append("Insulation between the parts that nothing joins inside.")
    if len(scheme.labels) > 3:
        tests.append("Start from finish by a coupling test or battery kick, whatever the tags say.")
    return [
        *tests,
        "The connection for its supply, solved, before it is closed; a reduced or protected first start.",
        "No-load current of the three lines and rotation: the acceptance run later ones are compared with.",
    ]
