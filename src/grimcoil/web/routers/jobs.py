"""The Job pages: start, bench, keep, take back, skip, decide, sign, sheet."""

from __future__ import annotations

from typing import Annotated
from uuid import uuid4

from fastapi import APIRouter, Form, Query, Request
from starlette.responses import RedirectResponse, Response

from grimcoil.core.choices import RootCause
from grimcoil.core.decision.rules import ACTIONS
from grimcoil.core.errors import Forbidden, Refusal, Unknown
from grimcoil.core.people import Action
from grimcoil.core.plan.several import spread
from grimcoil.service import bench_keys, closing, sheets, today
from grimcoil.service import jobs as verbs
from grimcoil.service.amendments import Amendment, amend, amendable
from grimcoil.service.bench import Bench
from grimcoil.service.handing_on import hand_on, takers
from grimcoil.service.handing_over import way_back
from grimcoil.service.repairs import promises_of
from grimcoil.service.several import keep_line
from grimcoil.web import paper
from grimcoil.web.again import Again
from grimcoil.web.errors import status_of
from grimcoil.web.forms.jobs import (
    DecideForm,
    HandForm,
    KeepForm,
    NowForm,
    OffForm,
    OverruleForm,
    SignForm,
    TakeBackForm,
    seconds,
)
from grimcoil.web.forms.people import AmendForm
from grimcoil.web.signed import Me, me_of
from grimcoil.web.state import AppState, State
from grimcoil.web.urls import Urls
from grimcoil.web.views.bench import BenchView, base_context, bench_view, stands_by
from grimcoil.web.views.drawing import line_scales
from grimcoil.web.views.echo import Echo, refused_echo, several_echo, typed_echo
from grimcoil.web.views.job_sheet import job_sheet, photos_of
from grimcoil.web.views.motor import life_of

router = APIRouter(route_class=Again)


@router.get(Urls.jobs)
def job_list(request: Request, state: State) -> Response:
    """Open jobs, and the last signed ones."""
    listed = today.jobs(state.store)
    context = {"place": "job", "open_jobs": listed.open_jobs, "signed": listed.signed, "follow": listed.follow}
    return state.templates.TemplateResponse(request, "jobs/list.html", context | {"now": state.clock()})


@router.get("/jobs/{job_id}")
def bench(request: Request, state: State, job_id: int, at: Annotated[str, Query(max_length=60)] = "") -> Response:
    """The bench."""
    found = verbs.open_bench(state.store, job_id, state.clock())
    return _page(request, state, bench_view(found, at))


def _page(
    request: Request, state: AppState, view: BenchView, status: int = 200, cause: tuple[list[str], str] = ([], "")
) -> Response:
    """The fragment for htmx, the whole page for everyone else."""
    at_end = view.bench.state.closing and not view.step.slots
    context: dict[str, object] = {"v": view, "actions": ACTIONS, "closing": at_end, "causes": list(RootCause)}
    context["cause"] = cause
    who = me_of(request)
    context["stands_by"] = stands_by(who.actor, view.step) if who else ""
    if at_end:
        motor = sheets.motor_of(state.store, view.bench)
        job_id = view.bench.job.id
        context |= {"life": life_of(motor, view.bench), "links": motor.history.links_of(job_id)}
        context["photos"] = motor.history.photos_of(job_id)
        context["promises"] = promises_of(state.store, view.bench)
        context["way_back"] = way_back(state.store, view.bench)
        open_for = who is not None and not view.bench.state.signed and not who.actor.may(Action.SIGN)
        context["takers"] = takers(state.store, who.actor) if open_for and who else ()
    if request.headers.get("hx-request") == "true":
        return state.templates.TemplateResponse(request, "jobs/_answer.html", context, status_code=status)
    context |= base_context(view.bench)
    return state.templates.TemplateResponse(request, "jobs/page.html", context, status_code=status)


def _after(request: Request, state: AppState, bench: Bench, at: str = "") -> Response:
    """After a change: the fragment for htmx; else back to the page, so that a reload posts nothing."""
    if request.headers.get("hx-request") == "true":
        return _page(request, state, bench_view(bench, at))
    return RedirectResponse(Urls.job(bench.job.id, at), 303)


def _refused(
    request: Request,
    state: AppState,
    job_id: int,
    at: str,
    typed: str,
    refusal: Refusal,
    cause: tuple[list[str], str] = ([], ""),
) -> Response:
    found = verbs.open_bench(state.store, job_id, state.clock())
    return _page(request, state, bench_view(found, at, typed, refusal), status_of(refusal), cause)


@router.post("/jobs/{job_id}/keep")
def keep(request: Request, state: State, me: Me, job_id: int, form: Annotated[KeepForm, Form()]) -> Response:
    """Keep one entry, or several readings typed in one go."""
    text = form.quick or form.text
    try:
        how = verbs.How(bool(form.anyway), seconds(form.held_s), me.units, asks_late=True, read_at=form.read_at)
        if form.replaces is not None:
            kept = bench_keys.correct(
                state.store, job_id, form.replaces, text, me.actor, form.token, state.clock(), how
            )
            return _after(request, state, kept)
        line = keep_line(state.store, job_id, form.place, text, me.actor, form.token, state.clock(), how)
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _refused(request, state, job_id, form.place, text, refusal)
    if line.refusal is not None:
        return _refused(request, state, job_id, line.place, line.rest, line.refusal)
    kept = line.bench
    if kept.state.closing:
        kept = verbs.open_bench(state.store, job_id, state.clock())
    return _after(request, state, kept)


@router.post("/jobs/{job_id}/now")
def now(request: Request, state: State, me: Me, job_id: int, form: Annotated[NowForm, Form()]) -> Response:
    """Take the second of a mark; its value is typed after it."""
    try:
        second = seconds(form.held_s)
        bench = bench_keys.stamp(state.store, job_id, form.place, me.actor, form.token, state.clock(), second)
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _refused(request, state, job_id, form.place, "", refusal)
    return _after(request, state, bench, form.place)


@router.post("/jobs/{job_id}/again")
def again(request: Request, state: State, me: Me, job_id: int, form: Annotated[NowForm, Form()]) -> Response:
    """A hold once more, with marks of its own."""
    try:
        bench = bench_keys.hold_again(state.store, job_id, form.place, me.actor, form.token, state.clock())
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _refused(request, state, job_id, form.place, "", refusal)
    return _after(request, state, bench)


@router.post("/jobs/{job_id}/off")
def off(request: Request, state: State, me: Me, job_id: int, form: Annotated[OffForm, Form()]) -> Response:
    """The test voltage that is on comes off; where none is on nothing changes."""
    return _after(request, state, bench_keys.voltage_off(state.store, job_id, me.actor, form.token, state.clock()))


@router.post("/jobs/{job_id}/hand-on")
def handed(request: Request, state: State, me: Me, job_id: int, form: Annotated[HandForm, Form()]) -> Response:
    """Onto the Today of who may end it."""
    try:
        hand_on(state.store, job_id, form.login, me.actor, state.clock())
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _refused(request, state, job_id, "decision", "", refusal)
    return _after(request, state, verbs.open_bench(state.store, job_id, state.clock()))


@router.get("/jobs/{job_id}/_echo")
def echo(
    request: Request,
    state: State,
    me: Me,
    job_id: int,
    place: Annotated[str, Query(max_length=60)],
    text: Annotated[str, Query(max_length=2000)] = "",
) -> Response:
    """Say back what was typed and what it would do; nothing is stored."""
    now, how = state.clock(), verbs.How(units=me.units)
    found = verbs.open_bench(state.store, job_id, now)
    asked = found.asked(place)
    slot = asked[1] if asked else None
    if not text.strip():
        said = Echo(None, slot.ask if slot else "")
    else:
        try:
            several = spread(found.state, place, text) if place in found.plan.places else []
            said = (
                several_echo(found, several)
                if len(several) > 1
                else typed_echo(*verbs.try_entry(found, place, text, me.actor.who, now, how))
            )
        except Refusal as refusal:
            said = refused_echo(refusal)
    scales = line_scales(found, place, slot, how.read(found.plan, place, text.strip()))
    context = {"echo": said, "scales": scales, "place": place}
    return state.templates.TemplateResponse(request, "jobs/_echo_answer.html", context)


@router.get("/jobs/{job_id}/_drawing")
def drawing(request: Request, state: State, job_id: int) -> Response:
    """The drawing as time goes on (the hold's now line)."""
    view = bench_view(verbs.open_bench(state.store, job_id, state.clock()))
    return state.templates.TemplateResponse(request, "jobs/_drawing.html", {"v": view})


@router.post("/jobs/{job_id}/take-back")
def take_back(request: Request, state: State, me: Me, job_id: int, form: Annotated[TakeBackForm, Form()]) -> Response:
    """Mark an entry as taken back."""
    try:
        after = verbs.take_back(state.store, job_id, form.seq, me.actor, state.clock())
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _refused(request, state, job_id, form.at, "", refusal)
    return _after(request, state, after, form.at)


@router.post("/jobs/{job_id}/overrule")
def overrule(request: Request, state: State, me: Me, job_id: int, form: Annotated[OverruleForm, Form()]) -> Response:
    """Skip a step or pass a stop, with a reason."""
    try:
        after = verbs.overrule(state.store, job_id, form.key, form.reason, me.actor, form.token, state.clock())
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _refused(request, state, job_id, form.key, form.reason, refusal)
    if after.state.closing:
        after = verbs.open_bench(state.store, job_id, state.clock())
    return _after(request, state, after)


@router.post("/jobs/{job_id}/decide")
def decide(request: Request, state: State, me: Me, job_id: int, form: Annotated[DecideForm, Form()]) -> Response:
    """Agree, or decide otherwise with a reason."""
    try:
        cause = closing.Cause(tuple(form.cause), form.changed)
        action = form.other if form.action == "other" else form.action
        after = closing.decide(state.store, job_id, action, form.reason, me.actor, state.clock(), cause)
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _refused(request, state, job_id, "decision", form.reason, refusal, (form.cause, form.changed))
    return _after(request, state, after)


@router.post("/jobs/{job_id}/sign")
def sign(request: Request, state: State, me: Me, job_id: int, form: Annotated[SignForm, Form()]) -> Response:
    """Sign and close."""
    try:
        after = closing.sign(state.store, job_id, me.actor, form.secret, state.clock())
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _refused(request, state, job_id, "sign", "", refusal)
    return _after(request, state, after)


@router.get("/jobs/{job_id}/report")
def sheet(request: Request, state: State, job_id: int) -> Response:
    """One A4 or Letter sheet."""
    return job_sheet(request, state, job_id)


@router.get("/jobs/{job_id}/report.pdf")
def sheet_pdf(request: Request, state: State, job_id: int) -> Response:
    """The same as PDF."""
    made = job_sheet(request, state, job_id)
    return paper.answer(made, f"job-{job_id}", photos_of(state, made))


@router.get("/jobs/{job_id}/amend")
def amend_form(request: Request, state: State, job_id: int) -> Response:
    """The form that amends a signed job."""
    return _amend_page(request, state, job_id, AmendForm(token=str(uuid4())), None)


def _amend_page(
    request: Request, state: AppState, job_id: int, form: AmendForm, refusal: Refusal | None
) -> Response:  # fmt: skip
    bench = verbs.open_bench(state.store, job_id, state.clock())
    if not bench.state.signed:
        raise Unknown("job", str(job_id), "a signed job; in an open one take the reading back")
    standing = bench.state.kept.standing
    places = [
        (key, words, standing[key].text if key in standing else "") for key, words in amendable(bench.plan).items()
    ]
    context = {"place": "job", "bench": bench, "form": form, "refusal": refusal, "places": places}
    status = 200 if refusal is None else status_of(refusal)
    return state.templates.TemplateResponse(request, "jobs/amend.html", context, status_code=status)


@router.post("/jobs/{job_id}/amend")
def amend_signed(
    request: Request, state: State, me: Me, job_id: int, form: Annotated[AmendForm, Form()]
) -> Response:  # fmt: skip
    """Amend and sign it."""
    wanted = Amendment(form.reason, form.place, form.text, form.token, me.units)
    try:
        amend(state.store, job_id, me.actor, wanted, form.secret, state.clock())
    except (Unknown, Forbidden):
        raise
    except Refusal as refusal:
        return _amend_page(request, state, job_id, form, refusal)
    return RedirectResponse(Urls.job(job_id), 303)
