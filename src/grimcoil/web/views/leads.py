"""The Leads page's context. Its whole state stands in its address: every step back is the browser's own."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from urllib.parse import urlencode

from grimcoil.core.errors import Refusal, UnclearReading
from grimcoil.core.fields import VOLTAGE, WINDING
from grimcoil.core.leads.coupling import Coupling
from grimcoil.core.leads.identify import Candidate, Identification, Puzzle, identify
from grimcoil.core.leads.layouts import schemes_with
from grimcoil.core.leads.next_reading import NextTest
from grimcoil.core.leads.ohms import OhmReading, Path, fit_layouts
from grimcoil.core.leads.sanity import Contradiction
from grimcoil.core.readings import Reading, parse_reading
from grimcoil.core.stator.letters import iec_letters
from grimcoil.core.stator.schemes import SCHEMES
from grimcoil.draw.ring import PHONE, WIDE, Shown, ring
from grimcoil.exchange.leads import differ, ohm_reading, read_twice
from grimcoil.web.urls import Urls
from grimcoil.web.views import leads_words as said

NAMES = "ABCDEFGHIJKLMN"
FEWEST, MOST = 2, 14
KINDS = {"ohms": "Ohms", "excite": "Excite", "joined": "Joined", "series": "Series", "kick": "Battery kick"}
COUNTS = (3, 6, 9, 12, 4, 5, 7, 8, 10, 11)
ENDS = (("a", "From"), ("b", "To"), ("c", "Across, from"), ("d", "Across, to"), ("j", "Join"), ("i", "With"))
WAYS = {"up": True, "down": False, "none": None}
SOURCE_V = "12"
NO_WORDS: Mapping[str, str] = {}
LONGEST_WORD = 20


@dataclass(frozen=True, slots=True)
class Kept:
    """One measurement as it stands in the address: `ohms~A-D~1.91`, `joined~A-D~A-B~12~17.1~D-E`, `kick~A-D~B-E~up`."""

    token: str
    kind: str
    source: tuple[str, ...]
    across: tuple[str, ...] = ()
    joined: tuple[str, ...] = ()
    volts: tuple[str, str] = ("", "")
    text: str = ""
    reading: Reading | None = None

    @property
    def words(self) -> str:
        """As it is listed."""
        pair = "–".join(self.source)
        if self.kind == "ohms":
            return pair
        if self.kind == "kick":
            return f"{pair}, needle on {'–'.join(self.across)}"
        joint = f", {'–'.join(self.joined)} joined" if self.joined else ""
        return f"{self.volts[0]} V on {pair}{joint}, across {'–'.join(self.across)}"

    @property
    def shown(self) -> str:
        """What it showed."""
        if self.kind == "kick":
            return self.text
        return self.text if self.kind == "ohms" else f"{self.volts[1]} V"


@dataclass(frozen=True, slots=True)
class Ask:
    """What is read next: the kind, the leads, how to, and the fields the form carries."""

    kind: str
    source: tuple[str, ...]
    across: tuple[str, ...] = ()
    joined: tuple[str, ...] = ()
    own: bool = False

    @property
    def fields(self) -> list[tuple[str, str]]:
        """What the form carries of it."""
        ends = ("k", self.kind), ("a", self.source[0]), ("b", self.source[1])
        return [*ends, *zip("cd", self.across, strict=False), *zip("ji", self.joined, strict=False)]

    @property
    def label(self) -> str:
        """The name of the field it is typed into."""
        what, pair = ("Ohms", self.source) if self.kind == "ohms" else ("Volts", self.across)
        return f"{what} between {' and '.join(pair)}"

    @property
    def how(self) -> tuple[str, str]:
        """Meter and leads."""
        return said.how(self.kind, self.source, self.across)

    @property
    def to_do(self) -> str:
        """What the hands do."""
        return said.to_do(self.kind, self.source, self.across, self.joined)

    @property
    def beside(self) -> str:
        """What stands under it."""
        return said.beside(self.kind, self.own)


@dataclass(frozen=True, slots=True)
class LeadsView:
    """Everything the page shows."""

    count: int
    leads: tuple[str, ...]
    kept: tuple[Kept, ...]
    found: Identification
    ask: Ask | None
    struck: tuple[tuple[str, str], ...]
    wide: str
    small: str
    typed: str = ""
    source_v: str = SOURCE_V
    refusal: Refusal | None = None
    choices: tuple[str, ...] = ()
    echo: str = ""
    labels: Mapping[str, str] = field(default_factory=dict)
    named: Mapping[str, str] = field(default_factory=dict)

    def lead(self, tag: str) -> str:
        """A lead by its tag, with what is on it: `A (brown)`."""
        return f"{tag} ({self.named[tag]})" if tag in self.named else tag

    @property
    def told(self) -> tuple[Contradiction, ...]:
        """Everything that contradicts."""
        return (*twice(self.kept), *self.found.contradictions)

    @property
    def tokens(self) -> list[str]:
        """The measurements as the address carries them."""
        return [one.token for one in self.kept]

    def address(self, **more: str) -> str:
        """The page with changed parameters."""
        return leads_address(self.count, self.tokens, self.named, **more)

    @property
    def without_last(self) -> str:
        """One measurement taken back."""
        return leads_address(self.count, self.tokens[:-1], self.named)

    @property
    def candidates(self) -> list[tuple[Candidate, said.Told]]:
        """What still fits, each with its words."""
        return [(one, said.told_of(one, self.found)) for one in self.found.candidates]

    @property
    def still_fits(self) -> str:
        """The heading over them."""
        return said.still_fits(self.found)

    @property
    def nothing_asked(self) -> str:
        """Where no reading tells more."""
        return said.nothing_asked(self.found)


def leads_address(count: int, tokens: Sequence[str], named: Mapping[str, str] = NO_WORDS, **more: str) -> str:
    """The page's address for a state. named: what is on a lead, its colour or tape, by its tag."""
    words = [(f"w{lead}", word) for lead, word in named.items()]
    told = ((k, v) for k, v in more.items() if v)
    query = [("n", str(count)), *(("m", token) for token in tokens), *words, *told]
    return f"{Urls.leads}?{urlencode(query)}"


def read_token(token: str, leads: Sequence[str]) -> Kept:
    """A measurement of the address. Raises Refusal for one that can't be read."""
    kind, *parts = token.split("~")
    if kind == "ohms" and len(parts) == 2:
        reading = parse_reading(parts[1], WINDING, parts[0])
        return Kept(token, kind, _pair(parts[0], leads), text=parts[1], reading=reading)
    if kind == "kick" and len(parts) == 3 and parts[2] in WAYS:
        return Kept(token, kind, _pair(parts[0], leads), _pair(parts[1], leads), text=parts[2])
    if kind in ("excite", "joined", "series") and len(parts) == (4 if kind == "excite" else 5):
        _volts(parts[2], parts[3])
        joined = _pair(parts[4], leads) if len(parts) == 5 else ()
        return Kept(token, kind, _pair(parts[0], leads), _pair(parts[1], leads), joined, (parts[2], parts[3]))
    raise Refusal("measurement", token[:60], "one this page has made")


def _pair(text: str, leads: Sequence[str]) -> tuple[str, ...]:
    ends = tuple(text.split("-"))
    if len(ends) != 2 or ends[0] == ends[1] or not set(ends) <= set(leads):
        raise Refusal("leads", text[:20], f"two different leads of {', '.join(leads)}", "A-B")
    return ends


def _volts(source: str, shown: str) -> float:
    """Reading over source. Raises Refusal."""
    source_v = parse_reading(source, VOLTAGE, "source volts").amount
    reading_v = parse_reading(shown, VOLTAGE, "volts").amount
    if not source_v.is_exact or source_v.value <= 0 or not reading_v.is_exact:
        raise Refusal("volts", f"{source} and {shown}", "exact volts, the source above 0", "12")
    return reading_v.value / source_v.value


def token_of(ask: Ask, text: str, source_v: str) -> str:
    """The token of a new measurement. Raises Refusal where its text can't be read."""
    words = text.strip()
    pair = "-".join(ask.source)
    if ask.kind == "ohms":
        parse_reading(words, WINDING, pair)
        return f"ohms~{pair}~{words}"
    across = "-".join(ask.across)
    if ask.kind == "kick":
        if words not in WAYS:
            raise Refusal("needle", words, "up, down or none, at the moment the battery is taken off", "up")
        return f"kick~{pair}~{across}~{words}"
    _volts(source_v, words)
    joint = f"~{'-'.join(ask.joined)}" if ask.kind != "excite" else ""
    return f"{ask.kind}~{pair}~{across}~{source_v.strip()}~{words}{joint}"


def puzzle_of(leads: tuple[str, ...], kept: Sequence[Kept]) -> Puzzle:
    """The core's puzzle; of a pair read twice the last reading stands."""
    number = {lead: i for i, lead in enumerate(leads)}
    ohms: dict[frozenset[str], OhmReading] = {}
    coupling = []
    for one in kept:
        a, b = number[one.source[0]], number[one.source[1]]
        if one.kind == "ohms":
            made = _evidence(one, a, b)
            if made is not None:
                ohms[frozenset(one.source)] = made
            continue
        across = (number[one.across[0]], number[one.across[1]])
        if one.kind == "kick":
            coupling.append(Coupling((a, b), across, up=WAYS[one.text]))
        else:
            joined = tuple(number[lead] for lead in one.joined)
            coupling.append(Coupling((a, b), across, joined, _volts(*one.volts)))
    times = Counter(frozenset(number[lead] for lead in one.source) for one in kept if one.kind == "ohms")
    again = frozenset(pair for pair, count in times.items() if count > 1)
    return Puzzle(leads, tuple(ohms.values()), tuple(coupling), again)


def _evidence(one: Kept, a: int, b: int) -> OhmReading | None:
    return None if one.reading is None else ohm_reading(a, b, one.reading, 0.0)


def twice(kept: Sequence[Kept]) -> list[Contradiction]:
    """Pairs read twice whose readings can't both be true; the last one stands."""
    first: dict[frozenset[str], Kept] = {}
    out = []
    for one in kept:
        if one.kind != "ohms":
            continue
        earlier = first.setdefault(frozenset(one.source), one)
        before, now = _evidence(earlier, 0, 1), _evidence(one, 0, 1)
        if before is not None and now is not None and differ(before, now):
            out.append(read_twice(one.source, earlier.text, one.text))
    return out


def ask_of(test: NextTest | None, leads: Sequence[str]) -> Ask | None:
    """The proposal by names."""
    if test is None:
        return None

    def names(numbers: Sequence[int]) -> tuple[str, ...]:
        return tuple(leads[i] for i in numbers)

    if test.test == "ohms":
        return Ask("ohms", names(test.between))
    return Ask(test.test, names(test.source), names(test.across), names(test.joined))


def own_ask(given: Mapping[str, str], leads: Sequence[str]) -> Ask | None:
    """A measurement chosen by hand: kind `k`, leads `a` and `b`, across `c` and `d`, joined `j` and `i`; None where
    not all of it is chosen. Raises Refusal for leads that aren't there.
    """
    kind = given.get("k", "ohms")
    if kind not in KINDS:
        raise Refusal("test", kind[:20], f"one of {', '.join(KINDS)}", "ohms")
    chosen = [given.get(name, "") for name in ("a", "b")]
    more = [given.get(name, "") for name in ("c", "d")] if kind != "ohms" else []
    joint = [given.get(name, "") for name in ("j", "i")] if kind in ("joined", "series") else []
    if not all([*chosen, *more, *joint]):
        return None
    for pair in (chosen, more, joint):
        if pair:
            _pair("-".join(pair), leads)
    return Ask(kind, tuple(chosen), tuple(more), tuple(joint), own=True)


def leads_view(count: int, tokens: Sequence[str], given: Mapping[str, str]) -> LeadsView:
    """The page for a state. Raises Refusal for an address this page hasn't made."""
    leads = tuple(NAMES[:count])
    named = words_of(given, leads)
    kept = tuple(read_token(token, leads) for token in tokens)
    puzzle = puzzle_of(leads, kept)
    found = identify(puzzle)
    own = own_ask(given, leads)
    ask = own or ask_of(found.next_test, leads)
    picked = tuple(lead for lead in (given.get("a", ""), given.get("b", "")) if lead in leads and lead)
    labels = _labels(found)
    shown = Shown(
        tuple((one.source[0], one.source[1], one.text) for one in kept if _closed(one)),
        ask.source if ask else (),
        picked if not own else own.source,
        tuple((_short(named) | labels).items()),
    )
    links = tuple((lead, _pick(count, tokens, named, picked, lead)) for lead in leads)
    return LeadsView(
        count,
        leads,
        kept,
        found,
        ask,
        tuple(_struck(puzzle, found)),
        ring(WIDE, leads, shown, links, "only-wide"),
        ring(PHONE, leads, shown, links, "only-phone"),
        given.get("text", ""),
        given.get("v", SOURCE_V),
        labels=labels,
        named=named,
    )


def _closed(one: Kept) -> bool:
    made = _evidence(one, 0, 1) if one.kind == "ohms" else None
    return made is not None and made.path is not Path.OPEN


def words_of(given: Mapping[str, str], leads: Sequence[str]) -> dict[str, str]:
    """What is on each lead, as the form or the address says it: `wA`."""
    said = {lead: " ".join(given.get(f"w{lead}", "").split())[:LONGEST_WORD] for lead in leads}
    return {lead: word for lead, word in said.items() if word}


FITS = 5  # letters that the drawing of a lead has room for


def _short(named: Mapping[str, str]) -> dict[str, str]:
    return {lead: word if len(word) <= FITS else f"{word[: FITS - 1]}…" for lead, word in named.items()}


def _pick(count: int, tokens: Sequence[str], named: Mapping[str, str], picked: tuple[str, ...], lead: str) -> str:
    """Tapping two leads asks for their ohms; tapping one again lets it go."""
    if len(picked) == 1 and picked[0] != lead:
        return leads_address(count, tokens, named, k="ohms", a=picked[0], b=lead)
    more = {} if picked == (lead,) else {"k": "ohms", "a": lead}
    return leads_address(count, tokens, named, **more)


def _labels(found: Identification) -> dict[str, str]:
    """What each lead is found to be, once one scheme and one label are left."""
    if not found.candidates or found.candidates[0].fault is not None:
        return {}
    best = found.candidates[0]
    if len(found.candidates) > 1 and found.candidates[1].misfit <= 1:
        return {}
    letters = iec_letters(best.scheme)
    return {lead: f"{kinds[0]} {letters[kinds[0]]}" for lead, kinds in best.markings.items() if len(kinds) == 1}


def _struck(puzzle: Puzzle, found: Identification) -> list[tuple[str, str]]:
    """Schemes of this many leads that are out, each with the reading after which nothing of it was left."""
    alive = {candidate.scheme for candidate in found.candidates if candidate.fault is None}
    out = []
    for scheme in schemes_with(len(puzzle.leads)):
        if scheme in alive:
            continue
        why = "the coupling tests"
        for i, reading in enumerate(puzzle.ohms):
            if not fit_layouts(scheme, puzzle.ohms[: i + 1]).numbers.size:
                why = f"{puzzle.leads[reading.first]}–{puzzle.leads[reading.second]}"
                break
        out.append((SCHEMES[scheme].title, why))
    return out


def refused_view(view: LeadsView, refusal: Refusal) -> LeadsView:
    """The same page with what couldn't be read still in the field."""
    choices = refusal.choices if isinstance(refusal, UnclearReading) else ()
    return LeadsView(
        view.count, view.leads, view.kept, view.found, view.ask, view.struck, view.wide, view.small,
        view.typed, view.source_v, refusal, choices, "", view.labels, view.named,
    )  # fmt: skip
