"""Every page of a plant that says as little as it may: motors of a tag alone, documents with what they must have."""

import re

import jinja2
import pytest
from sqlalchemy import select, update

from grimcoil.core.people import Role
from grimcoil.core.plan.steps import Act
from grimcoil.core.side.kinds import SIDE_KINDS
from grimcoil.service.closing import Cause, decide, sign
from grimcoil.service.dryings import begin
from grimcoil.service.jobs import Start, start_job
from grimcoil.service.said_dead import DESK, say
from grimcoil.store.sheet_tables import SheetDraft
from grimcoil.store.side_tables import SideSheet
from grimcoil.store.tables import Motor
from grimcoil.web.app import whole_description
from grimcoil.web.routers import sheets
from grimcoil.web.templating import environment, fragment
from tests.support import SECRET, add_person
from tests.walker import Walker

EXTENDED = {"base.html"}  # by every page
# What a word in the address is asked for, and what there is none of; with one they stand below.
REFUSED = {
    "/calendar/{token}.ics", "/jobs/{job_id}/_echo", "/jobs/{job_id}/amend", "/metrics", "/photos/{photo_id}.jpg",
    "/troubleshooting/report", "/troubleshooting/report.pdf", "/plant/criteria/{name}",
    "/plant/criteria/{name}/file", "/inspection-rounds/walk",
}  # fmt: skip
SHEET = b"Motor;Date;R 1-2;R 2-3;R 3-1\nQQ-1;2024-03-02;0,41;0,42;0,43\n"


MORE = [
    "/jobs/start?tag={tag}", "/jobs/{signed}", "/jobs/{live}", "/jobs/{found}", "/jobs/{signed}/report",
    "/jobs/{signed}/amend", "/motors/OT-1",
    "/motors/OT-1/history", "/jobs/{job_id}/_echo?place=motor", "/troubleshooting?tag={tag}",
    "/troubleshooting?tag=OT-1&s=hums",
    "/troubleshooting/report?tag=OT-1&s=hums", "/plant/criteria/field-general", "/import/{bare}",
    "/outage?until=2027-12-31",
]  # fmt: skip


@pytest.fixture
def rendered(monkeypatch):
    """Templates that were made into a page, included ones and macros too."""
    environment().cache.clear()  # macros of a template are made once a process: whoever ran before has them already
    fragment.cache_clear()
    seen = set()
    whole = jinja2.Template.new_context

    def noted(self, *given, **named):
        seen.add(self.name)
        return whole(self, *given, **named)

    monkeypatch.setattr(jinja2.Template, "new_context", noted)
    return seen


def pages(app):
    """Addresses of every page, with names for what differs."""
    paths = whole_description(app)["paths"]
    return sorted(path for path, verbs in paths.items() if "get" in verbs and "/api/" not in path)


@pytest.fixture
def plant(store, electrician, clock, sign_in):
    """Motors: one of which a sheet told three ohms and no more, with a job and side sheets that say nothing; one with a
    drying and a signed job; one under test voltage; one that isn't dead. Two sheets that aren't in.
    """
    client = sign_in(electrician)

    def sheet(token):
        files = {"sheet": ("yard.csv", SHEET, "text/csv")}
        return int(client.post("/import", data={"token": token}, files=files).headers["location"].rsplit("/", 1)[1])

    came = client.post(f"/import/{sheet('sheet-token-1')}/take", data={"expected": 3}).headers["location"]
    plant = {
        "tag": "QQ-1",
        "import_id": came.rsplit("/", 1)[1],
        "draft_id": sheet("sheet-token-2"),
        "bare": sheet("sheet-token-3"),
    }
    signed = Walker(store, electrician, clock, "OT-1", "three-lead").start()
    action = signed.to().whole.decision.action
    decide(store, signed.job, action, "", electrician, clock(), Cause(("damp",), "dried"))
    sign(store, signed.job, electrician, SECRET, clock())
    live = Walker(store, electrician, clock, "HV-1", "three-lead").start()
    live.to("insulation.1-2-3.60")
    found = Walker(store, electrician, clock, "FL-1", "three-lead").start()
    dead = next(place for place, _, _ in found.bench.plan.doing(Act.POINT_DEAD))
    found.to(dead)
    found.put(dead, "398")
    plant |= {"signed": signed.job, "live": live.job, "found": found.job}
    plant["job_id"] = start_job(store, electrician, Start("QQ-1", "start-token-1"), clock())
    cold = {"hookup": "one-and-two", "cold_ohm": "1", "cold_c": "20"}
    plant["drying_id"] = begin(store, electrician, "OT-1", cold, "dry-token-1", clock())
    with store.begin() as session:
        number = session.scalar(select(Motor.id).where(Motor.tag == "QQ-1"))
        for kind in SIDE_KINDS:  # the format lets all of them be empty
            row = SideSheet(motor_id=number, token=f"side-{kind}", kind=kind, document={}, verdict="unproven")
            row.at, row.who = clock(), electrician.who
            session.add(row)
        bare = update(SheetDraft).where(SheetDraft.id == plant["bare"])
        session.execute(bare.values(map='{"format": "grimcoil-map/1"}'))
        plant["position_id"] = session.scalar(select(Motor.position_id).where(Motor.tag == "OT-1"))
    return plant


def test_every_template_with_the_least_that_its_documents_allow(
    app, sign_in, store, electrician, clock, plant, rendered, monkeypatch
):  # fmt: skip
    say(store, electrician, DESK, "", clock())
    others = [add_person(store, Role.ADMINISTRATOR, "B. Admin"), add_person(store, Role.PLANNER, "C. Planner")]
    clients = [sign_in(person) for person in (electrician, *others)]
    answers = [
        (path, client.get(re.sub(r"{([^}]+)}", lambda found: str(plant.get(found[1], 1)), path)).status_code)
        for client in clients
        for path in [*pages(app), *MORE]
    ]
    assert [one for one in answers if one[1] >= 500] == []
    assert {path for path, status in answers if status == 200} >= set(pages(app)) - REFUSED
    first = clients[0]
    first.post("/motors/new/_check", data={"tag": "QQ-2"})
    first.get(f"/jobs/{plant['job_id']}", headers={"hx-request": "true"})
    monkeypatch.setattr(sheets, "LARGE", 1)
    first.post(f"/import/{plant['draft_id']}/take", data={"expected": 3})
    assert set(environment().list_templates()) - rendered == EXTENDED
