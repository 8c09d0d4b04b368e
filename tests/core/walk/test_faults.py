"""Suspects of a position: each reached, each told from a sound circuit."""

from itertools import product

from grimcoil.core.choices import RootCause
from grimcoil.core.decision.rules import ACTIONS
from grimcoil.core.walk.catalogue import suspects, trials
from grimcoil.core.walk.evidence import Panel, answers, expected
from grimcoil.core.walk.faults import line_up
from tests.core.walk.given import PLACES


def test_every_suspect_stands_at_some_position_with_a_cause_and_an_action_we_know():
    standing = {one.name for place in PLACES for one in line_up(place)}
    assert standing == set(suspects())
    causes = {cause.value for cause in RootCause}
    for kind in suspects().values():
        assert kind.action in ACTIONS
        assert set(kind.causes) <= causes
        assert kind.text[0].isupper()


def test_every_suspect_is_told_from_a_sound_circuit_by_some_test():
    unseen = set(suspects())
    for place in PLACES:
        panel = Panel(place)
        for (i, one), trial in product(enumerate(panel.suspects), trials(place).values()):
            if one.name not in unseen:
                continue
            if trial.asks:
                row, usual = answers(panel, trial)[i], trial.usual
                if max(abs(row[answer] - usual[answer]) for answer in usual) > 0.2:
                    unseen.discard(one.name)
            else:
                for a, b in trial.between or (("L1", ""), ("L2", ""), ("L3", "")):
                    shown = panel.by_suspect(expected(panel, trial.quantity, trial.circuit, a, b))
                    if abs(shown[i] - sorted(shown)[len(shown) // 2]) > 0.1 * max(shown[i], 1.0):
                        unseen.discard(one.name)
    assert unseen == set()
