// Small helps round the forms; everything works without them. Keys, clocks, focus.
const entry = () => document.querySelector("[data-entry]");
const typing = (node) => node instanceof HTMLElement && (node.matches("input, textarea, select") || node.isContentEditable);

function step(by) {
  const links = [...document.querySelectorAll(".spine li.done > a, .spine li.now > a, .spine li.todo > a, .spine details li > a")];
  const order = links.sort((a, b) => (a.compareDocumentPosition(b) & Node.DOCUMENT_POSITION_FOLLOWING ? -1 : 1));
  const here = order.findIndex((link) => link.closest(".now"));
  order[here + by]?.click();
}

function key(event) {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  const target = event.target;
  if (event.key === "/" && !typing(target)) {
    event.preventDefault();
    [...document.querySelectorAll("[data-find]")].find((box) => box.offsetParent)?.focus();
    return;
  }
  const word = event.key === "?" && !typing(target) && (target.closest?.(".term") || (!document.getElementById("keys-help") && firstTerm()));
  if (word) { event.preventDefault(); word.focus(); meaning(word)?.showPopover?.(); return; }
  const empty = target === entry() && target.value === "" ? true : !typing(target);
  if (!empty || !document.querySelector("[data-bench]")) return;
  const reading = entry()?.hasAttribute("data-reading") ?? true;
  if (event.key === "?") { event.preventDefault(); document.getElementById("keys-help")?.showModal(); }
  else if (event.key === "u" && reading) { event.preventDefault(); document.querySelector("[data-back]")?.click(); }
  else if (event.key === "o" && reading && document.querySelector("[data-over]") && entry()) {
    event.preventDefault();
    entry().value = "OL";
    entry().focus();
    entry().setSelectionRange(1, 2); // "L" and "pen" typed next replace the L
    entry().dispatchEvent(new Event("input", { bubbles: true }));
  } else if (event.key === "ArrowRight" && target.type !== "radio") step(1);
  else if (event.key === "ArrowLeft" && target.type !== "radio") step(-1);
}

const shown = (s) => `${Math.floor(Math.max(0, s) / 60)}:${String(Math.floor(Math.max(0, s)) % 60).padStart(2, "0")}`;
// The server's time, carried on by a clock that can't be set: taken once when the page came, never again by a redraw.
const offset = Number(document.body.dataset.now) - performance.now();
const serverNow = () => performance.now() + offset;
// An echo that comes after its reading was kept would land on the next slot; the line it was for is gone by then.
const drop = (event) => { if (!event.target.isConnected) event.preventDefault(); };
// When the figure was read is when its first digit was typed, not when it was kept.
function noteSecond() {
  const since = document.querySelector("[data-held]")?.dataset.since;
  const box = document.querySelector("[data-held-s]");
  if (since && box && !box.value) box.value = ((serverNow() - Number(since)) / 1000).toFixed(1);
}
// Now: the second is the page's own, also where the network is away and the key is sent again later.
function noteNow(event) {
  const box = event.target.querySelector?.("[data-now-s]");
  const since = document.querySelector("[data-held]")?.dataset.since;
  if (box && since && !box.value) box.value = ((serverNow() - Number(since)) / 1000).toFixed(1);
}
document.addEventListener("submit", noteNow, true);
function arm() {
  showKeys();
  entry()?.addEventListener("htmx:beforeOnLoad", drop);
  entry()?.addEventListener("input", noteSecond);
}
// A mark is told 5 s before it and when it comes: seen, heard, spoken, felt; each person may mute it on a device.
const muteKey = () => `gc-mute-${document.querySelector("[data-mute]")?.dataset.mute ?? ""}`;
const muted = () => { try { return localStorage.getItem(muteKey()) === "yes"; } catch { return false; } };
function showMute() {
  const key = document.querySelector("[data-mute]");
  if (key) { key.setAttribute("aria-pressed", String(muted())); key.textContent = muted() ? "Sound is off" : "Sound is on"; }
}
function tell(words, hertz, ms) {
  // Before the first touch of a page a browser lets nothing sound or shake, and says so in its console.
  if (muted() || !(navigator.userActivation?.hasBeenActive ?? true)) return;
  try { navigator.vibrate?.(ms); } catch { /* not every hand feels it */ }
  try {
    const audio = new AudioContext();
    const tone = new OscillatorNode(audio, { frequency: hertz });
    tone.connect(audio.destination);
    tone.start();
    tone.stop(audio.currentTime + ms / 1000);
  } catch { /* seen all the same */ }
  try { speechSynthesis.speak(new SpeechSynthesisUtterance(words)); } catch { /* no voice here */ }
}
let noticed = 0;
function notice(words) { // seen on every page of a job, for some seconds
  const box = document.getElementById("notice");
  if (!box) return;
  box.textContent = words;
  clearTimeout(noticed);
  noticed = setTimeout(() => { box.textContent = ""; }, 8000);
}
function announce(node, left) {
  const words = node.dataset.announce;
  if (left <= 5 && left > 0 && !node.gcNear) { node.gcNear = true; node.classList.add("near"); tell(`${words} in 5 seconds`, 660, 150); }
  if (left <= 0 && !node.gcDue) {
    node.gcDue = true;
    node.classList.add("due");
    notice(`${words}: read it now.`);
    tell(`${words}, now`, 990, 400);
  }
}
// A page that can't be had anew stays as it is, with its clock: the network may be gone just then.
function turn(node) {
  node.gcDone = true;
  const again = () => setTimeout(() => { node.gcDone = false; }, 1000);
  fetch("/healthz", { cache: "no-store" }).then((answer) => (answer.ok ? location.reload() : again()), again);
}
// Three short tones, once for a node; a browser without sound, or that wants a touch first, stays silent.
function ring(node) {
  if (node.gcRang || !(navigator.userActivation?.hasBeenActive ?? true)) return;
  node.gcRang = true;
  try {
    const audio = new AudioContext();
    for (const at of [0, 0.35, 0.7]) {
      const tone = new OscillatorNode(audio, { frequency: 880 });
      tone.connect(audio.destination);
      tone.start(audio.currentTime + at);
      tone.stop(audio.currentTime + at + 0.2);
    }
  } catch { /* seen all the same */ }
}
// What should have ended counts up in red, and its key becomes the largest.
function isOver(node, by) {
  node.textContent = `over by ${shown(by)}`;
  node.classList.add("wrong");
  document.getElementById(node.dataset.over)?.classList.add("keep");
  ring(node);
}
function tick() {
  const now = serverNow();
  for (const node of document.querySelectorAll("[data-until]")) {
    const left = (Number(node.dataset.until) - now) / 1000;
    node.textContent = shown(Math.ceil(left));
    if (node.dataset.announce) announce(node, left);
    if (left <= 0 && node.dataset.over) isOver(node, -left);
    if (left <= 0 && node.dataset.then === "reload" && !node.gcDone) turn(node);
  }
  for (const node of document.querySelectorAll("[data-rings]")) ring(node);
  for (const node of document.querySelectorAll("[data-since]")) node.textContent = shown((now - Number(node.dataset.since)) / 1000);
}

// One test of a trend has the focus; the arrows go from test to test, and the focus stays where it was left.
function visit(event) {
  const here = event.target.closest?.("a.visit");
  const by = { ArrowLeft: -1, ArrowRight: 1, Home: -Infinity, End: Infinity }[event.key];
  if (!here || by === undefined) return;
  event.preventDefault();
  const all = [...here.parentNode.children];
  const next = all[Math.min(all.length - 1, Math.max(0, all.indexOf(here) + by))];
  here.setAttribute("tabindex", "-1");
  next.setAttribute("tabindex", "0");
  next.focus();
}

// Motors found while a word is typed: down from the box and back, closed by Escape or by going elsewhere.
function findKeys(event) {
  const form = event.target.closest?.(".find");
  const links = [...(form?.querySelectorAll(".found a") ?? [])];
  const at = links.indexOf(event.target);
  if (!links.length) return;
  if (event.key === "Escape") { form.querySelector(".found").replaceChildren(); form.querySelector("[data-find]").focus(); }
  else if (event.key === "ArrowDown") links[Math.min(at + 1, links.length - 1)].focus();
  else if (event.key === "ArrowUp" && at >= 0) (links[at - 1] ?? form.querySelector("[data-find]")).focus();
  else return;
  event.preventDefault();
}
function leaveFound(event) {
  for (const found of document.querySelectorAll(".found")) if (!found.parentNode.contains(event.target)) found.replaceChildren();
}

// Motors selected on this page and before it.
function tallied(event) {
  const boxes = [...document.querySelectorAll("input[form=chosen]")];
  if (event.target.closest?.("[data-all]")) {
    const all = boxes.some((box) => !box.checked);
    for (const box of boxes) box.checked = all;
  }
  const count = document.querySelector("[data-count]");
  const before = document.querySelectorAll("#chosen [name=tag]").length;
  if (count) count.textContent = before + boxes.filter((box) => box.checked).length;
}

for (const what of ["click", "change"]) document.addEventListener(what, tallied);
for (const what of ["click", "focusin"]) document.addEventListener(what, leaveFound);
document.addEventListener("htmx:beforeSwap", (event) => { // an answer that comes after the box was left opens nothing
  const { target } = event.detail;
  if (target.matches(".found") && !target.parentNode.contains(document.activeElement)) event.detail.shouldSwap = false;
});
// What a quick hand types while an answer is under way is typed into the box that comes; of another reading it is told.
const placed = () => document.querySelector("#keep-form [name=place]")?.value;
let under = null; // what the box held when the request left, and for which reading
let ahead = null; // what was typed since
document.addEventListener("htmx:beforeRequest", ({ detail }) => {
  if (detail.target?.id !== "bench") return;
  const box = entry();
  // Of another key than Keep what was typed before it goes on as well; not what stood there when the page came.
  const goes = detail.elt.id !== "keep-form" && !box?.defaultValue;
  under = { place: placed(), value: goes ? "" : (box?.value ?? "") };
});
document.addEventListener("htmx:beforeSwap", ({ detail }) => {
  if (detail.target?.id !== "bench") return;
  const value = entry()?.value ?? "";
  const text = under && value.startsWith(under.value) ? value.slice(under.value.length) : "";
  ahead = text ? { text, place: under.place, heldS: document.querySelector("[data-held-s]")?.value } : null;
});
document.addEventListener("htmx:afterSwap", ({ detail }) => {
  if (!ahead || detail.target?.id !== "bench") return;
  const box = entry();
  const heldS = document.querySelector("[data-held-s]");
  if (box && placed() === ahead.place) {
    box.value += ahead.text;
    if (heldS && !heldS.value) heldS.value = ahead.heldS ?? "";
  } else notice(`“${ahead.text}” was typed while the last value was on its way: type it again.`);
});
document.addEventListener("keydown", findKeys);
document.addEventListener("keydown", visit);
document.addEventListener("keydown", key);
document.addEventListener("click", (event) => event.target.closest?.("[data-print]") && window.print());
document.addEventListener("htmx:afterSettle", (event) => {
  arm();
  showLive();
  if (event.detail.elt?.id === "bench") {
    tellDanger();
    showMute();
    const box = entry();
    if (box) {
      const suggested = !ahead && box.value === box.defaultValue && !box.hasAttribute("aria-invalid");
      box.focus();
      box.setSelectionRange(suggested ? 0 : box.value.length, box.value.length); // what is typed takes a suggestion's place
    }
    if (box && ahead && placed() === ahead.place) box.dispatchEvent(new Event("input", { bubbles: true }));
    ahead = null;
    history.replaceState(null, "", location.pathname);
  }
});
// What could not be kept is sent again by itself, under its old token, until it is: nothing is kept twice by that.
let again = 0;
function notKept(event, why, later) {
  const form = event.detail.elt;
  if (!(form instanceof HTMLFormElement)) return;
  const live = document.getElementById("echo") ?? document.getElementById("live");
  const rest = later ? " What you typed is still here and is sent again every few seconds." : "";
  if (live) live.textContent = why + rest;
  if (!document.getElementById("echo")) notice(why + rest); // answer keys have no line of their own
  if (!later) return;
  const key = event.detail.requestConfig?.triggeringEvent?.submitter;
  clearTimeout(again);
  again = setTimeout(() => form.isConnected && form.requestSubmit(key?.isConnected ? key : undefined), 3000);
}
document.addEventListener("htmx:sendError", (event) => notKept(event, "No connection: not kept yet.", true));
// What can hurt, told anew every so often; while nobody answers, the last that was told stays.
async function tellDanger() {
  const line = document.getElementById("danger");
  if (!line?.dataset.from || !navigator.onLine) return;
  try {
    const answer = await fetch(line.dataset.from, { cache: "no-store", redirect: "manual" });
    if (answer.ok) line.innerHTML = (await answer.text()).trim();
  } catch { /* the network is away */ }
}
setInterval(tellDanger, 20000);
// A session that ended: the sign-in comes here, over what was typed.
async function signedOut() {
  const dialog = document.getElementById("signed-out");
  if (!dialog || dialog.open) return;
  try {
    const answer = await fetch(dialog.dataset.from, { cache: "no-store" });
    dialog.innerHTML = answer.ok ? await answer.text() : "";
  } catch { return; }
  if (dialog.innerHTML) dialog.showModal();
}
async function signInHere(event) {
  const dialog = event.target.closest?.("#signed-out");
  if (!dialog) return;
  event.preventDefault();
  const said = dialog.querySelector("[data-says]");
  const answer = await fetch(event.target.action, { method: "POST", body: new URLSearchParams(new FormData(event.target)) });
  if (answer.ok && !new URL(answer.url).pathname.startsWith("/sign-in")) {
    dialog.close();
    notice("Signed in. Press the key again.");
  } else if (said) {
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    said.textContent = page.querySelector("[role=alert]")?.textContent.trim() || "That was not accepted: once more.";
  }
}
document.addEventListener("submit", signInHere);
document.addEventListener("click", (event) => event.target.closest?.("[data-close]")?.closest("dialog")?.close());
document.addEventListener("click", (event) => {
  if (!event.target.closest?.("[data-mute]")) return;
  try { localStorage.setItem(muteKey(), muted() ? "no" : "yes"); } catch { /* stays as it is */ }
  showMute();
});
// Number keys for a gloved finger: into the entry, where it stands.
document.addEventListener("click", (event) => {
  const press = event.target.closest?.("[data-press]")?.dataset.press;
  const box = entry();
  if (press === undefined || !box) return;
  if (press === "back") box.value = box.value.slice(0, -1);
  else if (press === "OL") box.value = "OL";
  else if (press === "keyboard") { pickKeys(!onPage()); box.blur(); box.focus(); return; }
  else box.value = (box.value === "OL" ? "" : box.value) + press;
  box.dispatchEvent(new Event("input", { bubbles: true }));
});
document.addEventListener("htmx:responseError", (event) => {
  const { xhr } = event.detail;
  if (xhr.status === 401) signedOut();
  // Someone signed in anew in another tab: nothing is sent under that name before a person has seen it.
  const word = xhr.getResponseHeader("x-form-word");
  if (word) for (const field of document.querySelectorAll("[name=csrf]")) field.value = word;
  const plain = xhr.getResponseHeader("content-type")?.startsWith("text/plain");
  if (xhr.status === 503) notKept(event, "The database doesn't answer: not kept yet.", true);
  else notKept(event, plain ? xhr.responseText : `Not kept (${xhr.status}).`, false);
});
// Keys on the page or the device's own: on a tablet the page's, on a phone the device's, until it is chosen otherwise.
const coarse = () => matchMedia("(pointer: coarse)").matches;
function onPage() {
  let chosen = null;
  try { chosen = localStorage.getItem("gc-keys"); } catch { /* as the width has it */ }
  return coarse() && (chosen === null ? matchMedia("(min-width: 768px)").matches : chosen === "page");
}
function pickKeys(page) {
  try { localStorage.setItem("gc-keys", page ? "page" : "device"); } catch { /* for this time only */ }
  showKeys();
}
function showKeys() {
  const keys = document.querySelector(".number-keys");
  if (!keys) return;
  keys.classList.toggle("on", onPage());
  keys.querySelector("[data-press=keyboard]").textContent = onPage() ? "Device's keyboard" : "Number keys";
  if (coarse() && entry()) entry().inputMode = onPage() ? "none" : "decimal";
}
// A key that types what a meter shows in words, into the reading that has the focus or the next one that is empty.
let lastReading = null;
document.addEventListener("focusin", (event) => { if (event.target.matches?.(".walk-readings input")) lastReading = event.target; });
document.addEventListener("click", (event) => {
  const key = event.target.closest?.("[data-types]");
  if (!key) return;
  const fields = [...key.form.querySelectorAll(".walk-readings input")];
  const field = fields.includes(lastReading) ? lastReading : fields.find((one) => !one.value) || fields[0];
  field.value = key.dataset.types;
  (fields.find((one) => !one.value) || field).focus();
});
// Two points touched on the walk's drawing go into the reading of one's own; a third begins anew.
let touched = [];
document.addEventListener("click", (event) => {
  const point = event.target.closest?.("[data-point]");
  const [from, to] = ["own-from", "own-to"].map((id) => document.getElementById(id));
  if (!point || !from || !to) return;
  touched = touched.length === 1 ? [...touched, point] : [point];
  for (const other of document.querySelectorAll("[data-point].on")) other.classList.remove("on");
  for (const one of touched) one.classList.add("on");
  from.value = touched[0].dataset.point;
  to.value = touched[1]?.dataset.point ?? "";
  if (touched.length === 2) document.getElementById("own-shows").focus();
});
// The meaning of a term: beside its word on a wide window, at the foot of a narrow one; by mouse, focus, tap or "?".
const meaning = (term) => document.getElementById(term.getAttribute("popovertarget"));
const firstTerm = () => [...document.querySelectorAll(".term")].find((one) => one.offsetParent);
const open = (says) => says.matches?.(":popover-open");
document.addEventListener("toggle", (event) => {
  const says = event.target;
  if (event.newState !== "open" || !says.classList?.contains("meaning")) return;
  const term = document.querySelector(`[popovertarget="${says.id}"]`);
  const at = term?.getBoundingClientRect();
  if (!at || innerWidth < 700) return;
  const [wide, high] = [says.offsetWidth, says.offsetHeight];
  says.style.left = `${Math.max(8, Math.min(at.left, innerWidth - wide - 8))}px`;
  says.style.top = `${at.bottom + 6 + high > innerHeight ? Math.max(8, at.top - high - 6) : at.bottom + 6}px`;
}, true);
let away = 0;
let hovered = null; // opened by the mouse, it goes with the mouse
document.addEventListener("pointerover", (event) => {
  if (event.pointerType !== "mouse") return;
  const inside = event.target.closest?.(".term, .meaning");
  clearTimeout(away);
  if (inside?.matches(".term") && meaning(inside) && !open(meaning(inside))) {
    away = setTimeout(() => { hovered = meaning(inside); hovered.showPopover?.(); }, 350);
  } else if (!inside && hovered) away = setTimeout(() => { if (open(hovered)) hovered.hidePopover(); hovered = null; }, 350);
});
document.addEventListener("focusin", (event) => {
  const term = event.target.matches?.(".term:focus-visible") && event.target;
  if (term && meaning(term) && !open(meaning(term))) meaning(term).showPopover?.();
});
const showLive = () => document.querySelector(".pair.live")?.scrollIntoView({ block: "nearest" });
arm();
showMute();
// What is laid out a frame later (gc-later in the styles) is so on the first page alone, never where a part is swapped.
requestAnimationFrame(() => requestAnimationFrame(() => { document.documentElement.dataset.shown = ""; showLive(); }));
setInterval(tick, 500);
