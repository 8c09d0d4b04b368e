"""Nothing runs off a window's side, no key is cut or covered, no words lie over others: on tablets and phones too."""

import pytest

from tests.service.test_every_kind import UNLIKE
from tests.walker import Walker

SIZES = {"wide": (1280, 800), "sideways": (1024, 768), "upright": (820, 1180), "phone": (390, 844)}
MONEY = (
    "/motors/DD-207/money?power=30+kW&rewind_price=2450&new_price=4180&fit_price=380&energy_price_per_kwh=0.112"
    "&hours_per_year=5200&load_percent=78&efficiency_now_percent=93&efficiency_new_percent=94.1&years=12"
)
PAGES = (
    "/", "/motors", "/motors/DD-207", "/motors/BW-114/data", "/motors/new", "/jobs", "/jobs/start?tag=DD-207",
    "/leads", "/connection", "/plant", "/me", "/audit-trail",
    "/motors/DD-207/history-and-moves", "/positions/3", "/positions/3/starter", "/positions/3/isolation",
    "/motors/DD-207/history",
    "/positions", "/positions/3/form", "/motors/DD-207/move",
    "/troubleshooting/report?tag=DD-207&s=hums&d=overload-look~not-tripped&d=volts-line-side-start~481~479~480",
    "/motors/SH-440/other-tests?kind=brushes", "/motors/SH-440/other-tests?notes=wound+rotor", "/labels",
    "/outage", "/troubleshooting",
    "/import",
    "/plant/criteria/field-general", "/fleet", "/motors?choose=1",
    "/motors/BW-114/nameplate", "/motors/BW-114/trend?beside=SH-440",
    "/motors/DD-207/money", MONEY, "/dryings", "/dryings/1", "/motors/DD-207/dry", "/inspection-rounds",
    "/tasks?tag=DD-206",
    "/motors/DD-207/inspection", "/motors/DD-207/inspection?area=Diffuser+and+lime&task=frame+temperature",
    "/troubleshooting?tag=DD-207&s=hums&d=overload-look~not-tripped&d=volts-line-side-start~481~479~480",
)  # fmt: skip
PLACES = (
    "isolate.lock-main", "as_found.lead-5", "winding_resistance.9-7", "winding_to_winding.1-4.2-5.60",
    "discharge.1-4.2-5.volts",
)  # fmt: skip
# Days are told in one style; .mono is as it was found.
WRONG = r"""() => {
  const wide = document.documentElement.clientWidth, out = [];
  if (document.documentElement.scrollWidth > wide) out.push("page " + document.documentElement.scrollWidth);
  const seen = (e) => e.checkVisibility({opacityProperty: true, visibilityProperty: true}) && e.getClientRects().length;
  for (const e of document.querySelectorAll("button, a, input, select, summary")) {
    if (!seen(e) || e.closest(".scrolled, .visually-hidden, .skip, svg") || e.matches(".skip, .views input")) continue;
    const r = e.getBoundingClientRect();
    if (r.width < 2) continue;
    const narrow = e.matches("button, summary") && e.scrollWidth > e.clientWidth + 2;
    if (narrow) out.push("narrow " + e.textContent.trim().slice(0, 30));
    if (r.right > wide + 1 || r.left < -1) out.push("cut " + (e.textContent.trim().slice(0, 30) || e.name));
  }
  const texts = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let t = texts.nextNode(); t; t = texts.nextNode())
    if (/\b\d{4}-\d\d-\d\d\b/.test(t.data) && !t.parentElement.closest("script, code, .mono") && seen(t.parentElement))
      out.push("not as days are told: " + t.data.trim());
  for (const e of document.querySelectorAll(".bar .tag"))
    if (seen(e) && e.scrollWidth > e.clientWidth + 1) out.push("tag cut");
  for (const row of document.querySelectorAll(".bar, .plate-strip, .pairkeys, .listhead")) {
    const parts = [...row.children].filter((e) => seen(e) && !e.matches(".visually-hidden"));
    for (let i = 0; i < parts.length; i++) for (let k = i + 1; k < parts.length; k++) {
      const a = parts[i].getBoundingClientRect(), b = parts[k].getBoundingClientRect();
      const x = Math.min(a.right, b.right) - Math.max(a.left, b.left);
      const y = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
      const name = (e) => e.textContent.trim().slice(0, 20);
      if (x > 2 && y > 2) out.push("over " + name(parts[i]) + " / " + name(parts[k]));
    }
  }
  for (const e of document.querySelectorAll(".keys .keep, .closing .keep")) {
    if (!seen(e)) continue;
    e.scrollIntoView({block: "nearest"});
    const r = e.getBoundingClientRect(), at = document.elementFromPoint(r.left + r.width / 2, r.top + r.height / 2);
    if (!at || !(e.contains(at) || at.contains(e))) out.push("covered " + e.textContent.trim());
  }
  return out;
}"""


@pytest.fixture(scope="session")
def standing(works_store, tester, works_clock):
    """Jobs on a nine-lead motor, each left at one of the places; the rest of the session sees their countdowns."""
    made = {}
    for number, place in enumerate(PLACES):
        walker = Walker(works_store, tester, works_clock, f"WIDE-{number}", "nine-lead-wye", UNLIKE["nine-lead-wye"])
        walker.start().to(place)
        made[place] = walker.job
    return made


@pytest.mark.parametrize("size", SIZES)
def test_every_page_fits(page, standing, waiting_sheet, size):
    width, height = SIZES[size]
    page.set_viewport_size({"width": width, "height": height})
    wrong = {}
    for path in [*PAGES, waiting_sheet, *(f"/jobs/{job}" for job in standing.values())]:
        answer = page.goto(path)
        found = page.evaluate(WRONG) if answer and answer.ok else ["no page"]
        if found:
            wrong[path] = found
    assert wrong == {}


@pytest.mark.parametrize("size", ["phone", "upright"])
def test_finished_steps_are_reached_where_the_path_is_folded(page, standing, size):
    width, height = SIZES[size]
    page.set_viewport_size({"width": width, "height": height})
    page.goto(f"/jobs/{standing['winding_resistance.9-7']}")
    page.get_by_text("All steps,").click()
    page.locator(".all-steps").get_by_text("Temperature").click()
    page.get_by_role("button", name="Undo Winding").click()
    page.locator("#entry").fill("22")
    page.locator("#entry").press("Enter")
