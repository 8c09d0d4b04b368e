"""A job walked through the core alone: each entry asked of the gates, the plan grown by what was read."""

from __future__ import annotations

import json
from datetime import timedelta

from grimcoil.core.assessment import assess
from grimcoil.core.choices import Occasion
from grimcoil.core.plan.brief import brief_of
from grimcoil.core.plan.entries import NOT_RECONNECTED
from grimcoil.core.plan.growth import Known, begun_of, grow
from grimcoil.core.plan.progress import check_place, progress, situation
from grimcoil.core.plan.recipes import build
from grimcoil.core.plan.record import conditions_of, failed_holds, made_of, recorded
from grimcoil.core.plan.steps import Act
from grimcoil.exchange.jobs import read_job
from tests.core.plan.given import WORKS
from tests.support import NOW, entry
from tests.walker import sound


class Grown:
    """One job. changed: other texts than a sound motor's, by place."""

    def __init__(self, position=(), occasion="routine", changed=(), taking=(), **motor):
        plate = {"tag": "X-1", "rated_voltage_v": [460], "full_load_current_a": [21], "lead_scheme": "three-lead"}
        document = {"format": "grimcoil-job/1", "motor": plate | motor, "position": dict(position)}
        self.subject = read_job(json.dumps(document)).subject
        self.brief = brief_of(self.subject, Occasion(occasion), None, taking)
        self.plan, self.entries, self.now, self.changed = build(self.brief), [], NOW, dict(changed)
        self._fold()

    def _fold(self):
        at = situation(self.plan, self.entries, WORKS, self.now)
        for _ in range(2):
            conditions = conditions_of(self.plan, at.kept)
            made = made_of(self.plan, at.kept, (), conditions)
            record = recorded(self.plan, made, self.subject, (), conditions)
            self.whole = assess(record)
            begun = begun_of(self.plan, (e.place for e in self.entries if not e.taken_back))
            self.plan = grow(self.plan, Known(self.brief, self.whole, record, begun, False, at.kept.again))
            at = situation(self.plan, self.entries, WORKS, self.now)
        codes = frozenset(finding.code for finding in self.whole.findings)
        self.state = progress(at, codes, self.whole.stands, failed=failed_holds(self.whole, made))

    def keep(self, place, text, after_s=5):
        """One entry, as the gates allow."""
        self.now += timedelta(seconds=after_s)
        self._fold()
        if place != NOT_RECONNECTED:
            check_place(self.state, place)
        self.entries.append(entry(len(self.entries) + 1, place, text, self.now, plan=self.plan))
        self._fold()

    def until(self, stop="", most=400):
        """On as the path asks, until a place or step of this beginning is next, or nothing is left but to decide."""
        for _ in range(most):
            step, slot = self.state.step, self.state.slot
            if slot is None or (stop and step.place(slot).startswith(stop)):
                return self
            if slot.act is Act.MARK:
                step, slot = self._minute(step)
            place = step.place(slot)
            wait = slot.mark_s or (300 if slot.act is Act.RESIDUAL else 5)
            self.keep(place, self.changed.get(place, sound(slot, "X-1")), wait)
        raise AssertionError(f"never came to {stop}")

    def _minute(self, step):
        """The minute of a hold, and once it is read the end of it."""
        held = next(slot for slot in step.slots if slot.mark_s == 60)
        if step.place(held) not in self.state.kept.standing:
            return step, held
        return next((s, slot) for _, s, slot in self.plan.doing(Act.REMOVE) if s.hold == step.hold)

    @property
    def keys(self):
        """The steps of the plan as it has grown."""
        return [step.key for step in self.plan.steps]
