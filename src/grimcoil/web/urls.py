"""Every address of the application in one class."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from urllib.parse import quote, urlencode

from starlette.convertors import StringConvertor, register_url_convertor

SLASH = "~"  # what stands for a tag's slash in an address; no tag has one


class TagConvertor(StringConvertor):
    """A tag in an address: one segment, whatever slashes the tag has."""

    def convert(self, value: str) -> str:
        """The tag itself."""
        return value.replace(SLASH, "/")

    def to_string(self, value: str) -> str:
        """As it stands in an address."""
        return value.replace("/", SLASH)


register_url_convertor("tag", TagConvertor())


def _tag(tag: str) -> str:
    return quote(tag.replace("/", SLASH), safe="")


class Urls:
    """Addresses, for routers and templates alike."""

    today = "/"
    motors = "/motors"
    danger = "/_danger"
    found = "/motors/_found"
    new_motor = "/motors/new"
    check_plate = "/motors/new/_check"
    views = "/motors/views"
    drop_view = "/motors/views/drop"
    register_csv = "/register.csv"
    register_xlsx = "/register.xlsx"
    every_reading = "/readings"
    jobs = "/jobs"
    leads = "/leads"
    said_dead = "/leads/said"
    connection = "/connection"
    connection_svg = "/connection.svg"
    new_winding = "/connection/winding"
    fleet = "/fleet"
    fleet_lists = "/fleet/lists"
    works = "/plant"
    site = "/plant/site"
    instruments = "/plant/instruments"
    calibrated = "/plant/instruments/calibrated"
    sheets = "/import"
    dryings = "/dryings"
    rounds = "/inspection-rounds"
    positions = "/positions"
    new_position = "/positions/new"
    round_walk = "/inspection-rounds/walk"
    round_sheet = "/inspection-rounds/paper"
    start = "/jobs/start"
    start_plan = "/jobs/start/_plan"
    theme = "/theme"
    sign_in = "/sign-in"
    sign_in_here = "/sign-in/_here"
    sign_out = "/sign-out"
    me = "/me"
    people = "/people"
    trail = "/audit-trail"
    labels = "/labels"
    walk = "/troubleshooting"
    keep_walk = "/troubleshooting/keep"
    archive = "/plant/archive.zip"
    walk_sheet = "/troubleshooting/report"
    hand_over = "/troubleshooting/hand-over"
    outage = "/outage"
    tasks = "/tasks"
    glossary = "/glossary"
    trail_csv = "/audit-trail.csv"
    metrics = "/metrics"
    api = "/api/1"
    openapi = "/api/1/openapi.json"
    health = "/healthz"
    ready = "/readyz"

    @staticmethod
    def criteria(name: str) -> str:
        """One of the criteria, with its limits."""
        return f"/plant/criteria/{quote(name, safe='')}"

    @staticmethod
    def fleet_at(tag: str, stop: date | None = None) -> str:
        """The fleet with one motor chosen; the tag stands last, so that it can be put on."""
        known = f"stop={stop:%Y-%m-%d}&" if stop is not None else ""
        return f"/fleet?{known}at={quote(tag, safe='')}"

    @staticmethod
    def outage_of(tag: str) -> str:
        """The outage work list of one motor."""
        return f"/outage?{urlencode({'tag': tag})}"

    @staticmethod
    def term(key: str) -> str:
        """One term on the page of all of them."""
        return f"/glossary#{key}"

    @staticmethod
    def motor(tag: str) -> str:
        """A motor's page."""
        return f"/motors/{_tag(tag)}"

    @staticmethod
    def nearest(tag: str, words: str) -> str:
        """The page of the only motor near some words."""
        return f"{Urls.motor(tag)}?{urlencode({'near': words})}"

    @staticmethod
    def record(tag: str) -> str:
        """The form of what is on record beyond the plain plate."""
        return f"/motors/{_tag(tag)}/data"

    @staticmethod
    def plate(tag: str, verb: str = "") -> str:
        """A motor's plate as the metal shows it; verbs: photo, take-back."""
        return f"/motors/{_tag(tag)}/nameplate" + (f"/{verb}" if verb else "")

    @staticmethod
    def life(tag: str, verb: str = "") -> str:
        """What happened to a motor; verbs: move, happened, take-back, withdraw."""
        return f"/motors/{_tag(tag)}/history-and-moves" + (f"/{verb}" if verb else "")

    @staticmethod
    def trend(
        tag: str, since: int | None = None, until: int | None = None, beside: Sequence[str] = (), as_csv: bool = False
    ) -> str:
        """Its tests over a span of years, with some of its sisters beside."""
        span = [(name, str(year)) for name, year in (("since", since), ("until", until)) if year is not None]
        query = urlencode([*span, *(("beside", one) for one in beside)])
        return f"/motors/{_tag(tag)}/trend" + (".csv" if as_csv else "") + (f"?{query}" if query else "")

    @staticmethod
    def repair(tag: str) -> str:
        """A motor's repair, stage by stage."""
        return f"/motors/{_tag(tag)}/repair"

    @staticmethod
    def money(tag: str, verb: str = "") -> str:
        """Rewind or replace; verb: paper."""
        return f"/motors/{_tag(tag)}/money" + (f"/{verb}" if verb else "")

    @staticmethod
    def readings_csv(tag: str) -> str:
        """Every kept reading of a motor's signed jobs as a file."""
        return f"/motors/{_tag(tag)}/readings.csv"

    @staticmethod
    def readings_xlsx(tag: str) -> str:
        """The same as a workbook."""
        return f"/motors/{_tag(tag)}/readings.xlsx"

    @staticmethod
    def calendar(token: str, area: str = "") -> str:
        """The private address of what is due, for a calendar program."""
        return f"/calendar/{token}.ics" + (f"?{urlencode({'area': area})}" if area else "")

    @staticmethod
    def move(tag: str) -> str:
        """A motor to another position, or in exchange with what stands there."""
        return f"/motors/{_tag(tag)}/move"

    @staticmethod
    def position(position_id: int, verb: str = "") -> str:
        """A position with its circuit and who stood there; verbs: form, retire, again."""
        return f"/positions/{position_id}" + (f"/{verb}" if verb else "")

    @staticmethod
    def side(tag: str, kind: str = "", notes: str = "") -> str:
        """A motor's side sheets, one of them to be filled in, or the notes of a kind of machine."""
        query = urlencode({key: value for key, value in (("kind", kind), ("notes", notes)) if value})
        return f"/motors/{_tag(tag)}/other-tests" + (f"?{query}" if query else "")

    @staticmethod
    def side_of(tag: str, kind: str) -> str:
        """Where a side sheet goes; `take-back` takes one back."""
        return f"/motors/{_tag(tag)}/other-tests/{kind}"

    @staticmethod
    def history(tag: str, as_pdf: bool = False) -> str:
        """A motor's life and tests on paper."""
        return f"/motors/{_tag(tag)}/history" + (".pdf" if as_pdf else "")

    @staticmethod
    def isolation(position_id: int) -> str:
        """The isolation card of a position."""
        return f"/positions/{position_id}/isolation"

    @staticmethod
    def starter(position_id: int) -> str:
        """The sheet of a position's starter."""
        return f"/positions/{position_id}/starter"

    @staticmethod
    def round_stop(tag: str, verb: str = "", **what: str) -> str:
        """A motor's stop on a round; verbs: keep, take-back, on, task. what: area, task."""
        query = urlencode({name: value for name, value in what.items() if value})
        return f"/motors/{_tag(tag)}/inspection" + (f"/{verb}" if verb else "") + (f"?{query}" if query else "")

    @staticmethod
    def tasks_at(tag: str) -> str:
        """The tasks, with one to be opened at a motor."""
        return f"/tasks?{urlencode({'tag': tag})}#add"

    @staticmethod
    def connection_of(tag: str) -> str:
        """What a joining does to a motor's leads, by its own names."""
        return f"/connection?{urlencode({'tag': tag})}"

    @staticmethod
    def close_task(number: int) -> str:
        """Where a task is said to be done or dropped."""
        return f"/tasks/{number}/close"

    @staticmethod
    def drying(drying_id: int, verb: str = "") -> str:
        """A drying; verbs: keep, take-back, end."""
        return f"/dryings/{drying_id}" + (f"/{verb}" if verb else "")

    @staticmethod
    def dry(tag: str) -> str:
        """Begin a drying of a motor."""
        return f"/motors/{_tag(tag)}/dry"

    @staticmethod
    def sheet_draft(draft_id: int, verb: str = "") -> str:
        """A sheet on its way in; verbs: column, whole, cell, row, take, drop, outside.csv."""
        return f"/import/{draft_id}" + (f"/{verb}" if verb else "")

    @staticmethod
    def sheet_in(import_id: int) -> str:
        """What a sheet brought."""
        return f"/import/in/{import_id}"

    @staticmethod
    def undo_import(import_id: int) -> str:
        """A sheet that came in goes again as a whole."""
        return f"/import/in/{import_id}/undo"

    @staticmethod
    def start_for(tag: str) -> str:
        """The form that starts a job on a motor."""
        return f"/jobs/start?{urlencode({'tag': tag})}"

    @staticmethod
    def job(job_id: int, at: str = "") -> str:
        """The bench, at the next place or at one of choice."""
        return f"/jobs/{job_id}" + (f"?at={quote(at, safe='')}" if at else "")

    @staticmethod
    def act(job_id: int, verb: str) -> str:
        """Something done to a job: keep, take-back, overrule, decide, sign."""
        return f"/jobs/{job_id}/{verb}"

    @staticmethod
    def sign_in_for(place: str) -> str:
        """The sign-in page, and then on to a place."""
        return f"/sign-in?{urlencode({'next': place})}"

    @staticmethod
    def own(verb: str) -> str:
        """Something a person does to what is theirs: password, pin, tokens, tokens/revoke."""
        return f"/me/{verb}"

    @staticmethod
    def keeping(verb: str) -> str:
        """Something an administrator does: add, remove, role, password, devices, devices/revoke."""
        return f"/people/{verb}"

    @staticmethod
    def trail_of(**what: object) -> str:
        """The trail of a motor, a job or a person."""
        return f"/audit-trail?{urlencode(what)}"

    @staticmethod
    def photo(photo_id: int) -> str:
        """A picture."""
        return f"/photos/{photo_id}.jpg"

    @staticmethod
    def sheet(job_id: int) -> str:
        """The printed sheet."""
        return f"/jobs/{job_id}/report"
