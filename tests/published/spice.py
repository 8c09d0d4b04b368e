"""The circuit simulator from Debian (ngspice) as an independent solver: a deck in, the printed voltages out."""

import re
import subprocess


def run(deck, *expressions):
    """Values of the expressions after the deck's analysis, which it names in its own .control lines."""
    prints = "\n".join(f"print {expression}" for expression in expressions)
    text = f"{deck}\n.options reltol=1e-9 abstol=1e-15 vntol=1e-12 gmin=1e-15\n"
    text = text.replace("@PRINT", f"set numdgt=12\n{prints}") + ".end\n"
    done = subprocess.run(
        ["ngspice", "-b", "/dev/stdin"], input=text, capture_output=True, text=True, check=False, timeout=60
    )
    found = dict(re.findall(r"^(\S+) = (\S+)$", done.stdout, re.MULTILINE))
    assert len(found) == len(set(expressions)), done.stdout + done.stderr
    return [float(found[expression.replace(" ", "")]) for expression in expressions]


def resistance_decks(nets):
    """Ohms between pairs: one ampere through a copy of each net. nets: (branches, a, b), branches (node, node, ohm)."""
    lines = ["resistances"]
    for k, (branches, a, b) in enumerate(nets):
        nodes = {node for one, other, _ in branches for node in (one, other)} | {a, b}
        lines += [f"R{k}_{i} n{k}_{one} n{k}_{other} {ohm!r}" for i, (one, other, ohm) in enumerate(branches)]
        lines += [f"Rg{k}_{node} n{k}_{node} 0 1e11" for node in nodes if node != b]
        lines += [f"Vg{k} n{k}_{b} 0 0", f"I{k} 0 n{k}_{a} 1"]
    deck = "\n".join([*lines, ".control", "op", "@PRINT", ".endc"])
    return run(deck, *(f"v(n{k}_{a})" for k, (_, a, _) in enumerate(nets)))
