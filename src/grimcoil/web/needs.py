"""What each post asks of who sends it, before a field of its form is read: a wrong role is told so, and no more.

The verbs ask again; this table is only the earlier of the two.
"""

from __future__ import annotations

from collections.abc import Mapping

from fastapi import Request

from grimcoil.core.people import Action, Actor
from grimcoil.web.urls import Urls

_MOTOR = "/motors/{tag:tag}"
NEEDS: Mapping[str, Action] = {
    **dict.fromkeys(
        (
            Urls.new_motor, f"{_MOTOR}/data", f"{_MOTOR}/nameplate", f"{_MOTOR}/repair",
            f"{_MOTOR}/history-and-moves/move",
            f"{_MOTOR}/history-and-moves/happened", f"{_MOTOR}/history-and-moves/take-back",
            f"{_MOTOR}/history-and-moves/withdraw",
            f"{_MOTOR}/inspection/on", f"{_MOTOR}/inspection/task",
            "/positions/{position_id}/isolation", "/positions/{position_id}/starter", Urls.new_position,
            "/positions/{position_id}/form", "/positions/{position_id}/retire", "/positions/{position_id}/again",
            Urls.sheets,
            "/import/{draft_id}/column", "/import/{draft_id}/whole", "/import/{draft_id}/headings",
            "/import/{draft_id}/cell",
            "/import/{draft_id}/row", "/import/{draft_id}/take", "/import/{draft_id}/drop",
            "/import/in/{import_id}/undo", f"{Urls.api}/motors",
        ),
        Action.REGISTER_MOTOR,
    ),
    **dict.fromkeys(
        (
            "/jobs/{job_id}/keep", "/jobs/{job_id}/now", "/jobs/{job_id}/again", "/jobs/{job_id}/off",
            "/jobs/{job_id}/hand-on", "/jobs/{job_id}/photos", "/dryings/{drying_id}/keep", f"{_MOTOR}/inspection/keep",
            f"{_MOTOR}/nameplate/photo", f"{Urls.api}/jobs/{{job_id}}/entries",
        ),
        Action.KEEP_ENTRY,
    ),
    **dict.fromkeys(
        (
            "/jobs/{job_id}/take-back", "/jobs/{job_id}/photos/take-back", "/dryings/{drying_id}/take-back",
            f"{_MOTOR}/inspection/take-back", f"{_MOTOR}/other-tests/take-back", f"{_MOTOR}/nameplate/take-back",
        ),
        Action.TAKE_BACK,
    ),
    **dict.fromkeys(
        (Urls.start, f"{_MOTOR}/dry", f"{_MOTOR}/money", Urls.hand_over, f"{Urls.api}/jobs"), Action.START_JOB
    ),
    **dict.fromkeys(("/jobs/{job_id}/decide", "/dryings/{drying_id}/end", Urls.keep_walk), Action.DECIDE),
    **dict.fromkeys(
        [Urls.keeping(what) for what in ("add", "remove", "role", "password")], Action.MANAGE_PEOPLE
    ),
    **dict.fromkeys([Urls.keeping(what) for what in ("devices", "devices/revoke")], Action.ENROL_DEVICE),
    **dict.fromkeys([Urls.own(what) for what in ("tokens", "tokens/revoke")], Action.KEEP_TOKENS),
    **dict.fromkeys((Urls.instruments, Urls.calibrated), Action.KEEP_INSTRUMENTS),
    **dict.fromkeys((Urls.site, "/plant/criteria/{name}"), Action.KEEP_WORKS),
    "/jobs/{job_id}/overrule": Action.OVERRULE,
    "/jobs/{job_id}/sign": Action.SIGN,
    "/jobs/{job_id}/amend": Action.AMEND,
    **dict.fromkeys((Urls.tasks, "/tasks/{number}/close"), Action.KEEP_TASKS),
    Urls.leads: Action.MARK_LEADS,
    Urls.new_winding: Action.CHANGE_WINDING,
    Urls.archive: Action.TAKE_ARCHIVE,
}  # fmt: skip
# For whoever is signed in: what is one's own, and what is only worked out.
OF_EVERYONE = frozenset(
    {
        Urls.views, Urls.drop_view, Urls.check_plate, f"{_MOTOR}/other-tests/{{kind}}", Urls.sign_out,
        Urls.own("password"),
        Urls.own("pin"), Urls.start_plan, Urls.said_dead, f"{Urls.api}/assess",
    }
)  # fmt: skip


def need_first(request: Request, actor: Actor) -> None:
    """Raises Forbidden where this post is for other roles."""
    route = request.scope.get("route")
    action = NEEDS.get(getattr(route, "path", "")) if request.method == "POST" else None
    if action is not None:
        actor.need(action)
