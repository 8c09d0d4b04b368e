"""The page that starts a job: its plan before it begins."""

from __future__ import annotations

from typing import Annotated
from uuid import uuid4

from fastapi import APIRouter, Form, Query, Request
from starlette.responses import RedirectResponse, Response

from grimcoil.core.errors import Forbidden, Refusal
from grimcoil.core.lines import shown_as_such
from grimcoil.service import jobs as verbs
from grimcoil.service.criteria import known_criteria
from grimcoil.service.starting import Coming, coming, instruments
from grimcoil.web.again import Again
from grimcoil.web.errors import status_of
from grimcoil.web.forms.jobs import StartForm
from grimcoil.web.signed import Me
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls
from grimcoil.web.views.drawing import spot_words

router = APIRouter(route_class=Again)
OHMMETERS, TESTERS = frozenset({"low-ohm", "ohm"}), frozenset({"insulation"})
# What brings one to a motor: the kind of job, what it is for, what it does.
OCCASIONS = (
    ("routine", "Routine", "a due motor", "dead tests, then volts and amps as it runs"),
    ("call-out", "Call-out", "a symptom", "troubleshooting; dead tests when it points at motor or cable"),
    ("acceptance", "Acceptance", "new, spare or back from repair", "the full set, then an uncoupled run"),
    ("wet", "Wet", "drenched or long idle", "insulation first; drying where it fails, then the full set"),
    ("leads", "Leads", "unmarked leads, other volts", "find and join the leads, then prove them"),
    ("dead-only", "Dead only", "on the floor or in the store", "no supply is there: nothing is joined or run"),
    ("after-drying", "After drying", "it was wet", "the dead set again"),
)  # fmt: skip
EXTRA_WORDS = (
    ("as_running", "As it runs, before it is switched off: volts, amps, frame. A restart clears many a fault"),
    ("as_running_open", "The same with panel and motor box open: drops, volts at its box. Live work, its own permit"),
    ("cable", "Cable alone, its far ends apart and joined; begins at the motor box"),
    ("terminal_block", "Terminal block alone, everything off it; begins at the motor box"),
    ("contact_drop", "Contact drop"),
    ("frame_temperature", "Frame temperature"),
    ("vibration", "Vibration, by ear and hand"),
    ("capacitor", "Its capacitors by volts and amps"),
    ("starter", "Starter: starts, run-up, timer, its amps"),
    ("grease", "Grease, grams by the bearings"),
    ("surge", "Surge comparison, by its own tester"),
    ("lead_roll", "Roll the leads: the amps twice more, each after its own lock, proof and shift at the box"),
)
AT_HAND = (
    ("insulation-tester", "Insulation tester"),
    ("ohmmeter", "Ohmmeter"),
    ("clamp", "Clamp meter"),
    ("lamps", "Tester with lamps"),
)
FIRST_TESTS = (
    ("", "As usual for this job"), ("ohms", "Ohms"), ("insulation", "Insulation, once continuity is shown"),
    ("shaft", "The shaft, by hand"),
)  # fmt: skip
HELD_BY = (
    ("", "Each group of leads that hangs together"), ("joined", "All leads joined: faster, finds fewer faults"),
    ("lead", "Lead by lead"),
)  # fmt: skip
VOLTS_BY = (
    ("", "As the criteria have it"), ("table", "The table of IEEE 43"), ("nearest", "Nearest to the rated voltage"),
    ("twice", "Twice the rated voltage"), ("under-water", "1000 V, for motors under water"),
)  # fmt: skip
SCHOOLS = (
    ("", "As usual for this job", "starter first where the cable reaches every lead, else the box"),
    ("starter-first", "Starter first", "no climbing: motor and cable in one; the box only where that fails"),
    ("box-first", "Motor box first", "nothing but the motor is measured"),
)


@router.get(Urls.start)
def start_form(
    request: Request,
    state: State,
    tag: Annotated[str, Query(max_length=60)] = "",
    occasion: Annotated[str, Query(max_length=20)] = "routine",
) -> Response:
    """The form that starts a job, with the plan it would make."""
    form = StartForm(tag=shown_as_such(tag)[:60], occasion=shown_as_such(occasion)[:20], token=str(uuid4()))
    return _page(request, state, form, None)


@router.post(Urls.start_plan)
def plan(request: Request, state: State, form: Annotated[StartForm, Form()]) -> Response:
    """The plan that the form as it stands would make; starts nothing."""
    return state.templates.TemplateResponse(request, "jobs/_plan.html", _planned(state, form))


def _planned(state: AppState, form: StartForm) -> dict[str, object]:
    context: dict[str, object] = {"form": form, "job": None, "plan_refusal": None, "spot_words": spot_words}
    if form.tag.strip():
        try:
            today = state.clock().date()
            context["job"] = coming(
                state.store,
                form.tag.strip(),
                form.occasion,
                form.school,
                form.criteria,
                today,
                form.also,
                form.wishes(),
            )
        except Refusal as refusal:
            context["plan_refusal"] = refusal
    return context


def _page(request: Request, state: AppState, form: StartForm, refusal: Refusal | None) -> Response:
    ranges = instruments(state.store)
    planned = _planned(state, form)
    job = planned["job"]
    if isinstance(job, Coming) and refusal is None:
        ohms, tester = job.preset(OHMMETERS), job.preset(TESTERS)
        form = form.model_copy(update={"ohm_range_id": str(ohms or ""), "insulation_range_id": str(tester or "")})
    context = planned | {
        "form": form,
        "place": "job",
        "refusal": refusal,
        "ohm_ranges": [r for r in ranges if r.function in OHMMETERS],
        "insulation_ranges": [r for r in ranges if r.function in TESTERS],
        "criteria": known_criteria(state.store).values(),
        "occasions": OCCASIONS,
        "schools": SCHOOLS,
        "extras": EXTRA_WORDS,
        "things": AT_HAND,
        "choices": (
            ("first_test", "First dead test", FIRST_TESTS),
            ("insulation_by", "Insulation held", HELD_BY),
            ("test_volts", "Test voltage by", VOLTS_BY),
        ),
    }
    status = 200 if refusal is None else status_of(refusal)
    return state.templates.TemplateResponse(request, "jobs/start.html", context, status_code=status)


@router.post(Urls.start)
def start(request: Request, state: State, me: Me, form: Annotated[StartForm, Form()]) -> Response:
    """Start a job; the same form sent twice starts one."""
    wanted = verbs.Start(
        form.tag.strip(),
        form.token,
        _id(form.ohm_range_id),
        _id(form.insulation_range_id),
        form.criteria,
        form.occasion,
        form.school,
        tuple(form.also),
        form.wishes(),
    )
    try:
        job_id = verbs.start_job(state.store, me.actor, wanted, state.clock())
    except Forbidden:
        raise
    except Refusal as refusal:
        return _page(request, state, form, refusal)
    return RedirectResponse(Urls.job(job_id), 303)


def _id(text: str) -> int | None:
    return int(text) if text.isascii() and text.isdigit() and len(text) < 10 else None
