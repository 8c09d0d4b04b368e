"""No internal name on a screen: every page that can be come to by links, of the demo, as a person reads it."""

import importlib
import pkgutil
import re
from enum import StrEnum
from html.parser import HTMLParser

import pytest

import grimcoil.core
from demo.rounds import seed_rounds
from demo.scenario import seed
from demo.works import MOTORS
from grimcoil.service.signing_in import actor_of
from grimcoil.store.people import by_login

# Values with a hyphen that are words of the trade, or plain English, and may stand on a screen.
TRADE = frozenset({
    "after-drying", "autotransformer", "call-out", "corner-earthed", "dead-only", "part-winding", "star-delta",
    "star-point", "two-speed", "wye-earthed", "high-leg", "phase-loss", "box-first", "starter-first", "low-ohm",
    "four-wire", "form-wound", "random-wound", "single-phase", "high-resistance-earthed", "phase-converter",
    "one-time-event", "second-feed", "motor-box", "stored-load",
})  # fmt: skip
SKIPPED = frozenset({"script", "style", "svg", "input", "textarea", "option", "code"})
VOID = frozenset({"input", "br", "meta", "link", "img", "hr", "use", "path", "circle", "rect"})
LINKS_NOT = re.compile(r"\.(csv|xlsx|pdf|jpg|zip|ics|json|jsonl)(\?|$)|^/static|^/api|sign-out|#")


class Reader(HTMLParser):
    """What is read on a page, but what a person typed (`mono`), and where it leads."""

    def __init__(self):
        super().__init__()
        self.words, self.links, self.closed = [], [], []

    def handle_starttag(self, tag, attrs):
        given = dict(attrs)
        if given.get("href", "").startswith("/") and tag == "a":
            self.links.append(given["href"])
        if tag not in VOID:
            typed = not {"mono", "tag", "held"}.isdisjoint((given.get("class") or "").split())
            self.closed.append((tag, typed or tag in SKIPPED))

    def handle_endtag(self, tag):
        while self.closed and self.closed.pop()[0] != tag:
            pass

    def handle_data(self, data):
        if not any(shut for _, shut in self.closed):
            self.words.append(data)


def codes():
    """Every value of the core's lists that is no word."""
    out = set()
    for found in pkgutil.walk_packages(grimcoil.core.__path__, "grimcoil.core."):
        module = importlib.import_module(found.name)
        for one in vars(module).values():
            if isinstance(one, type) and issubclass(one, StrEnum):
                out |= {value.value for value in one if "-" in value.value or "_" in value.value}
    return out - TRADE


@pytest.fixture
def electrician(store, clock):
    with store.begin() as session:
        seed(session, clock(), [made for made in MOTORS if made.tag in ("DD-207", "DD-206", "BW-114", "SH-440")])
    seed_rounds(store, clock(), ("DD-207",))
    with store() as session:
        return actor_of(by_login(session, "rohrdommel"))


FROM = (
    "/", "/motors", "/glossary", "/fleet", "/outage", "/import", "/labels?tag=DD-207", "/connection?tag=BW-114",
    "/troubleshooting?tag=DD-207&s=hums&d=overload-look~not-tripped&d=volts-line-side-start~481~479~480",
    "/troubleshooting/report?tag=DD-207&s=hums&d=overload-look~tripped", "/jobs/start?tag=DD-207", "/me", "/leads",
    "/motors/DD-207/money?power=30+kW&rewind_price=2450&new_price=4180&hours_per_year=5200&years=12",
    "/motors/SH-440/dry", "/motors/BW-114/nameplate", "/motors/BW-114/repair",
)  # fmt: skip


def pages(client, most=220):
    """Pages by links, from Today on; of addresses that differ by figures alone the first three."""
    waiting, seen, kinds = [*FROM], set(), {}
    while waiting and len(seen) < most:
        path = waiting.pop(0)
        if path in seen or LINKS_NOT.search(path):
            continue
        kind = re.sub(r"\d+", "0", path.partition("?")[0]) + str(sorted(re.findall(r"[?&](\w+)=", path)))
        kinds[kind] = kinds.get(kind, 0) + 1
        if kinds[kind] > 3:
            continue
        seen.add(path)
        answer = client.get(path)
        if answer.status_code != 200 or "html" not in answer.headers["content-type"]:
            continue
        reader = Reader()
        reader.feed(answer.text)
        waiting += reader.links
        yield path, " ".join(" ".join(reader.words).split())


def test_no_internal_name_is_read_on_a_page(client):
    known = re.compile(rf"(?<![\w/-])(?:{'|'.join(map(re.escape, sorted(codes(), key=len, reverse=True)))})(?![\w-])")
    under, iso_day = re.compile(r"[a-z]+_[a-z_]+"), re.compile(r"(?<!\d)20\d\d-\d\d-\d\d")
    found = {}
    for path, words in pages(client):
        for match in [*known.finditer(words), *under.finditer(words), *iso_day.finditer(words)]:
            found.setdefault(match[0], f"{path}: …{words[max(0, match.start() - 40) : match.end() + 20]}…")
    assert found == {}
