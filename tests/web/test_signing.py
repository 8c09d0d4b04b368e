"""Signing in over HTTP, what a signed-out browser gets, and the word that each form carries."""

import re

import pytest
from fastapi.testclient import TestClient
from pydantic import SecretStr
from sqlalchemy import func, select

from grimcoil.core.people import MAY, ROLE_WORDS, Action, Role
from grimcoil.settings import Settings
from grimcoil.store.people_tables import ApiToken, Person
from grimcoil.store.round_tables import RoundEntry
from grimcoil.store.task_tables import FollowUpTask
from grimcoil.web.app import create_app, whole_description
from grimcoil.web.needs import NEEDS, OF_EVERYONE
from grimcoil.web.urls import Urls
from tests.service.conftest import PLATE
from tests.service.test_people import count_rows
from tests.support import PIN_SECRET, SECRET, add_person

PUBLIC = {
    "/sign-in",
    "/sign-in/_here",
    "/theme",
    "/healthz",
    "/readyz",
    "/metrics",
    "/calendar/{token}.ics",
}  # the last is its own key


def routes_of(app):
    """Every route with its methods."""
    return [(path, method.upper()) for path, item in whole_description(app)["paths"].items() for method in item]


def page_word(client, path="/sign-in"):
    return re.search(r'name="page_word" value="([^"]+)"', client.get(path).text)[1]


def enter(client, **form):
    return client.post("/sign-in", data={"page_word": page_word(client), "next": "/motors"} | form)


def test_signing_in_and_out(stranger, electrician):
    answer = enter(stranger, login=electrician.login, password=SECRET)
    assert (answer.status_code, answer.headers["location"]) == (303, "/motors")
    cookie = answer.headers["set-cookie"].casefold()
    assert "gc_session=" in cookie
    assert all(word in cookie for word in ("httponly", "samesite=lax", "path=/"))
    page = stranger.get("/me").text
    assert "A. Tester" in page
    csrf = re.search(r'name="csrf" value="([^"]+)"', page)[1]
    out = stranger.post("/sign-out", data={"csrf": csrf})
    assert (out.status_code, out.headers["location"]) == (303, "/sign-in")
    assert stranger.get("/me").status_code == 303


def test_over_tls_cookies_are_tied_to_the_host(database_url, store, clock, electrician):
    settings = Settings(database_url=SecretStr(database_url), allowed_hosts=["testserver"], https=True)
    app = create_app(settings, clock)
    with TestClient(app, base_url="https://testserver", follow_redirects=False) as client:
        answer = enter(client, login=electrician.login, password=SECRET)
        assert "__Host-gc_session=" in answer.headers["set-cookie"]
        assert "secure" in answer.headers["set-cookie"].casefold()
        assert answer.headers["strict-transport-security"].startswith("max-age=31536000")
        assert client.get("/motors").status_code == 200
    app.state.grimcoil.engine.dispose()


@pytest.mark.parametrize(
    ("form", "told"),
    [
        ({"login": "a.tester", "password": "wrong"}, "don&#39;t fit"),
        ({"login": "nobody", "password": SECRET}, "don&#39;t fit"),
        ({"login": "", "password": ""}, "don&#39;t fit"),
        ({"login": "a.tester", "pin": PIN_SECRET}, "enrolled devices only"),
        ({"login": "a.tester", "password": SECRET, "page_word": "forged"}, "once more"),
    ],
)
def test_sign_ins_that_are_refused_keep_the_name(stranger, electrician, form, told):
    answer = enter(stranger, **form)
    assert answer.status_code == 422
    assert told in answer.text
    assert f'value="{form["login"]}"' in answer.text
    assert SECRET not in answer.text
    assert "gc_session" not in stranger.cookies


@pytest.mark.parametrize(
    "place", ["//elsewhere.example", "https://elsewhere.example", "/\\elsewhere.example", "/a\r\nb: c"]
)
def test_after_signing_in_one_stays_on_this_site(stranger, electrician, place):
    assert enter(stranger, login=electrician.login, password=SECRET, next=place).headers["location"] == "/"


def test_every_page_asks_for_a_sign_in(stranger, app, store):
    seen = 0
    for path, method in routes_of(app):
        address = re.sub(r"\{[^}]+\}", "1", path)
        if path in PUBLIC:
            continue
        seen += 1
        answer = stranger.request(method, address, data={} if method == "POST" else None)
        if path.startswith("/api/"):
            assert answer.status_code == 401, (method, path)
            assert answer.headers["www-authenticate"] == "Bearer"
        elif method == "GET":
            assert answer.status_code == 303, (method, path)
            assert answer.headers["location"].startswith("/sign-in?next=")
        else:
            assert answer.status_code == 401, (method, path)
    assert seen > 40


def test_every_change_asks_for_the_word_of_its_form(client, app, store):
    del client.headers["x-csrf-token"]
    seen = 0
    for path, method in routes_of(app):
        if method != "POST" or path in PUBLIC or path.startswith("/api/"):
            continue
        seen += 1
        address = re.sub(r"\{[^}]+\}", "1", path)
        for form in ({}, {"csrf": ""}, {"csrf": "forged"}):
            answer = client.post(address, data=form)
            assert answer.status_code == 403, path
            assert "earlier sign-in" in answer.text
        assert client.post(address, headers={"x-csrf-token": "ü".encode("latin-1")}).status_code == 403
        assert client.post(address, headers={"hx-request": "true"}).text.startswith("This form is from")
    assert seen > 15


def test_a_form_sent_while_signed_out_is_held_with_all_that_was_typed(stranger, electrician):
    typed = PLATE | {"serial": "<b>77</b>", "csrf": "old-word"}
    answer = stranger.post("/motors/new", data=typed)
    assert answer.status_code == 401
    assert "send this again" in answer.text
    for name in PLATE:
        assert f'name="{name}"' in answer.text
    assert "&lt;b&gt;77&lt;/b&gt;" in answer.text
    assert "old-word" not in answer.text


def test_a_form_of_an_earlier_sign_in_is_held_with_the_new_word(client):
    word = client.headers.pop("x-csrf-token")
    answer = client.post("/motors/new", data=PLATE | {"csrf": "old-word"})
    assert answer.status_code == 403
    assert f'name="csrf" value="{word}"' in answer.text
    again = dict(re.findall(r'<input type="hidden" name="([^"]+)" value="([^"]*)"', answer.text))
    again.pop("theme", None), again.pop("back", None)
    assert client.post("/motors/new", data=again | {"csrf": word}).headers["location"] == "/motors/BW-1"


def test_secrets_are_never_held(client):
    client.headers.pop("x-csrf-token")
    answer = client.post("/me/password", data={"secret": SECRET, "password": "new-one-here", "again": "new-one-here"})
    assert answer.status_code == 403
    assert SECRET not in answer.text
    assert "new-one-here" not in answer.text


def test_a_removed_persons_pages_end_at_once(client, store, electrician, sign_in):
    assert client.get("/motors").status_code == 200
    keeper = sign_in(add_person(store, Role.ADMINISTRATOR, "K. Eeper"))
    assert keeper.post("/people/remove", data={"login": electrician.login}).status_code == 303
    assert client.get("/motors").status_code == 303
    assert client.post("/motors/new", data=PLATE).status_code == 401


def test_a_shared_tablet_from_enrolling_to_signing_in_by_pin(stranger, store, electrician, sign_in):
    keeper = sign_in(add_person(store, Role.ADMINISTRATOR, "K. Eeper"))
    assert keeper.post("/people/devices", data={"name": "Yard tablet"}).status_code == 303
    assert "Yard tablet" in keeper.get("/people").text
    device = keeper.cookies["gc_device"]
    stranger.cookies.set("gc_device", device)
    page = stranger.get("/sign-in").text
    assert "On Yard tablet" in page
    assert "A. Tester" in page
    assert enter(stranger, login=electrician.login, pin=PIN_SECRET).status_code == 303
    first = stranger.cookies["gc_session"]
    assert "Yard tablet" in stranger.get("/me").text
    assert enter(stranger, login="k.eeper", pin=PIN_SECRET).status_code == 303
    assert "K. Eeper" in stranger.get("/me").text
    stranger.cookies.clear()
    assert stranger.get("/me", headers={"cookie": f"gc_session={first}"}).status_code == 303  # the switch ended it


def test_own_password_pin_and_tokens(client, electrician, store):
    new = "teal between two sluices"
    wrong = client.post("/me/password", data={"secret": "guess", "password": new, "again": new})
    assert (wrong.status_code, "not your password" in wrong.text) == (422, True)
    uneven = client.post("/me/password", data={"secret": SECRET, "password": new, "again": new + "x"})
    assert (uneven.status_code, "twice" in uneven.text) == (422, True)
    assert client.post("/me/pin", data={"secret": SECRET, "pin": "123456"}).status_code == 422
    assert client.post("/me/pin", data={"secret": SECRET, "pin": "480917"}).status_code == 303
    made = client.post("/me/tokens", data={"name": "scale house", "read": "yes", "record": "yes"})
    token = re.search(r">(gc_[A-Za-z0-9_-]{40,})<", made.text)[1]
    listed = client.get("/me").text
    assert "record read" in listed or "read record" in listed
    assert token not in listed
    number = re.search(r'name="id"\s+value="(\d+)"', listed)[1]
    assert client.post("/me/tokens/revoke", data={"id": number}).status_code == 303
    assert "revoked" in client.get("/me").text
    assert client.post("/me/tokens", data={"name": "scale house"}).status_code == 422
    client.post("/me/tokens", data={"name": "scale house", "read": "yes"})
    asked = client.post("/me/password", data={"secret": SECRET, "password": new, "again": new})
    assert (asked.status_code, "whether your API tokens" in asked.text) == (422, True)
    changed = {"secret": SECRET, "password": new, "again": new, "keys": "end"}
    assert client.post("/me/password", data=changed).status_code == 303
    assert client.get("/me").status_code == 303
    with store() as session:
        assert session.scalars(select(ApiToken).where(ApiToken.revoked_at.is_(None))).all() == []
        assert session.scalars(select(Person.pin_hash).where(Person.id == electrician.person_id)).one() is None


def test_people_are_added_changed_and_removed(store, sign_in, electrician):
    keeper = sign_in(add_person(store, Role.ADMINISTRATOR, "K. Eeper"))
    form = {"login": "rush", "name": "L. <i>Rush", "role": "apprentice", "under": "a.tester"}
    refused = keeper.post("/people/add", data=form | {"password": "password123"})
    assert refused.status_code == 422
    assert 'value="L. &lt;i&gt;Rush"' in refused.text
    assert "password123" not in refused.text
    assert keeper.post("/people/add", data=form | {"password": "lapwing over cut reed"}).status_code == 303
    page = keeper.get("/people").text
    assert "L. &lt;i&gt;Rush" in page
    assert "apprentice under A. Tester" in page
    assert keeper.post("/people/role", data={"login": "rush", "role": "planner"}).status_code == 303
    assert keeper.post("/people/role", data={"login": "rush", "role": "administrator"}).status_code == 422
    assert keeper.post("/people/password", data={"login": "rush", "password": "short"}).status_code == 422
    assert (
        keeper.post("/people/password", data={"login": "rush", "password": "heron on the far bank"}).status_code == 303
    )
    assert keeper.post("/people/remove", data={"login": "rush"}).status_code == 303
    assert keeper.post("/people/remove", data={"login": "rush"}).status_code == 404
    assert keeper.post("/people/devices", data={"name": ""}).status_code == 422
    assert keeper.post("/people/devices/revoke", data={"id": 99}).status_code == 404


@pytest.mark.parametrize("role", [role for role in Role if role is not Role.ADMINISTRATOR])
def test_people_are_for_administrators(store, sign_in, electrician, role):
    someone = electrician if role is Role.ELECTRICIAN else add_person(store, role, "R. Ole", electrician)
    other = sign_in(someone)
    assert other.get("/people").status_code == 403
    for verb, form in (
        ("add", {"login": "x.y", "name": "X Y"}),
        ("remove", {"login": "a.tester"}),
        ("role", {"login": "a.tester", "role": "reader"}),
        ("password", {"login": "a.tester", "password": "heron on the far bank"}),
        ("devices", {"name": "X Y"}),
        ("devices/revoke", {"id": 1}),
    ):
        answer = other.post(f"/people/{verb}", data=form)
        assert answer.status_code == 403, verb
        assert "this is for: administrator" in answer.text


ASKED = {
    Action.REGISTER_MOTOR: ("/motors/new", PLATE | {"tag": "BW-9"}),
    Action.START_JOB: ("/jobs/start", {"tag": "BW-1", "token": "start-token-9"}),
    Action.KEEP_ENTRY: ("{job}/keep", {"place": "isolate.tag", "text": "BW-1", "token": "keep-token-9"}),
    Action.TAKE_BACK: ("{job}/take-back", {"seq": "1"}),
    Action.TAKE_BACK_OTHERS: ("/motors/BW-1/inspection/take-back", {"id": "1", "reason": "wrong motor"}),
    Action.OVERRULE: ("{job}/overrule", {"key": "as_found", "reason": "because so", "token": "over-token-9"}),
    Action.DECIDE: ("{job}/decide", {"action": "return"}),
    Action.SIGN: ("{job}/sign", {"secret": SECRET}),
    Action.AMEND: ("{job}/amend", {"reason": "because so", "token": "amend-token-9", "secret": SECRET}),
    Action.MARK_LEADS: ("/leads", {"n": "6", "tag": "BW-1", "scheme": "six-lead"}),
    Action.CHANGE_WINDING: ("/connection/winding", {"tag": "BW-1", "to": "six-lead"}),
    Action.KEEP_INSTRUMENTS: ("/plant/instruments", {"name": "M9", "function": "ohm"}),
    Action.KEEP_WORKS: ("/plant/site", {"works_name": "Fenmark", "zone": "UTC", "criteria": "field-general"}),
    Action.KEEP_TASKS: (
        "/tasks",
        {"token": "task-token-9", "tag": "BW-1", "what": "Grease it", "by": "2026-12-24"},
    ),
    Action.CLOSE_ANY_TASK: ("/tasks/{task}/close", {"state": "done", "word": "greased it"}),
    Action.KEEP_TOKENS: ("/me/tokens", {"name": "scale house", "read": "yes"}),
    Action.MANAGE_PEOPLE: ("/people/add", {"login": "x.y", "name": "X Y", "password": SECRET}),
    Action.TAKE_ARCHIVE: ("/plant/archive.zip", {}),
    Action.ENROL_DEVICE: ("/people/devices", {"name": "Yard tablet"}),
}


@pytest.mark.parametrize("role", Role)
def test_every_change_by_every_role_over_http(store, sign_in, electrician, role):
    job = sign_in(electrician)
    job.post("/motors/new", data=PLATE)
    place = job.post("/jobs/start", data={"tag": "BW-1", "token": "start-token-1"}).headers["location"]
    job.post("/motors/BW-1/inspection/on")
    listened = {"task": "listen", "outcome": "done", "token": "round-token-1"}
    assert job.post("/motors/BW-1/inspection/keep", data=listened).status_code == 303
    with store() as session:
        kept = session.scalar(select(func.max(RoundEntry.id)))
    task = {"tag": "BW-1", "what": "Look at it", "by": "2026-12-24", "whom": electrician.login}
    assert job.post("/tasks", data=task | {"token": "task-token-1"}).status_code == 303
    with store() as session:
        opened = session.scalar(select(func.max(FollowUpTask.id)))
    ASKED[Action.TAKE_BACK_OTHERS][1]["id"] = str(kept)
    someone = sign_in(add_person(store, role, "R. Ole", electrician))
    for action, (path, form) in ASKED.items():
        for headers in ({}, {"hx-request": "true"}):
            before = count_rows(store)
            answer = someone.post(path.format(job=place, task=opened), data=form, headers=headers)
            assert (answer.status_code == 403) == (action not in MAY[role]), (action, answer.status_code)
            if answer.status_code == 403:
                assert "this is for" in answer.text
                assert count_rows(store) == before
            if answer.status_code >= 400:
                assert answer.status_code in (403, 404, 409, 422)


def test_every_action_is_asked_over_http():
    assert set(ASKED) == set(Action) - {Action.READ, Action.READ_DUE, Action.READ_TRAIL}  # every role may read


def test_what_a_reader_gets_told(store, sign_in):
    reader = sign_in(add_person(store, Role.READER, "R. Eader"))
    answer = reader.post("/motors/new", data=PLATE)
    assert answer.status_code == 403
    assert "To register a motor: found “signed in as reader”" in answer.text
    assert reader.get("/motors/BW-1").status_code == 404
    assert reader.post("/jobs/start", data={"tag": "X", "token": "start-token-1"}).status_code == 403


def posts(client):
    """Every address that takes a post of who is signed in, by the words of its route."""
    paths = whole_description(client.app)["paths"]
    return {path for path, verbs in paths.items() if "post" in verbs}


def plain(path):
    return path.replace("{tag:tag}", "{tag}")


def test_every_post_says_whom_it_is_for(client):
    told = {plain(path) for path in (*NEEDS, *OF_EVERYONE)}
    assert posts(client) - told <= {Urls.sign_in, Urls.theme}
    assert told <= posts(client)


@pytest.mark.parametrize("role", Role)
def test_a_wrong_role_is_told_so_before_what_it_mistyped(store, sign_in, electrician, role):
    someone = sign_in(add_person(store, role, "R. Ole", electrician))
    before = count_rows(store)
    for path, action in NEEDS.items():
        if path.startswith(Urls.api):
            continue
        made = re.sub(r"\{[^}]+\}", "1", path)
        answer = someone.post(made, data={})
        assert (answer.status_code == 403) == (action not in MAY[role]), (path, answer.status_code)
    if role is Role.READER:
        assert count_rows(store) == before


@pytest.mark.parametrize("role", [Role.APPRENTICE, Role.PLANNER, Role.READER])
def test_everybody_sees_what_they_may_do_and_who_does_the_rest(sign_in, store, electrician, role):
    page = sign_in(add_person(store, role, "N. Ew", electrician)).get("/me").text
    assert ROLE_WORDS[role] in page
    own, others = page.partition("Needs someone else</h2>")[::2]
    assert "<li>Sign: " in others
    assert "electrician" in others.partition("<li>Sign: ")[2].partition("</li>")[0]
    assert "<li>Sign</li>" not in own
    assert "Read what is due" in own
