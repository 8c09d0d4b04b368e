"""The truth table: verdicts on simulated motors against what is true of them.

`bin/bench truth [COUNT]`: for each fault whole jobs finely read, jobs with a test left out or weaker, coarse meters.
"""

from __future__ import annotations

import json
import sys
from collections import Counter, defaultdict

from grimcoil.core.assessment import assess
from grimcoil.exchange.jobs import read_job
from tests.truth_motors import FAULTS, Case, case

CONDEMNED = {"rewind-or-replace", "rewind", "replace"}
RUNS_ON = {"return", "return-retest", "look-elsewhere"}


def sort_of(told: Case) -> str:
    """Which column a case belongs to."""
    return "left out" if told.left_out else "coarse" if told.coarse else "whole"


def main(count: int) -> int:
    """Print the table; 1 where anything is false."""
    table: dict[tuple[str, str], Counter[str]] = defaultdict(Counter)
    wrong: Counter[str] = Counter()
    for seed in range(count):
        told = case(seed)
        decision = assess(read_job(json.dumps(told.document))).decision
        table[told.fault, sort_of(told)][f"{decision.action} ({decision.verdict})"] += 1
        doubtful = told.motor_is_bad or not told.provable
        wrong["false sound"] += doubtful and decision.verdict == "sound"
        wrong["run on with a key test left out"] += bool(told.left_out) and decision.action in RUNS_ON
        wrong["false condemnation"] += not told.motor_is_bad and decision.action in CONDEMNED
        wrong["healthy, whole, not passed"] += told.provable and told.fault == "none" and decision.verdict != "sound"
    for fault in FAULTS:
        for sort in ("whole", "left out", "coarse"):
            said = table[fault, sort]
            if said:
                print(f"{fault:18} {sort:9} {', '.join(f'{n} {what}' for what, n in said.most_common())}")
    print(f"{count} motors: " + ", ".join(f"{n} {what}" for what, n in wrong.items()))
    return 1 if sum(wrong.values()) else 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 3000))
