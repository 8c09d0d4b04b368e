"""What people write over the columns of their sheets: motor, day, ohms, leads, units."""

from __future__ import annotations

import re

TAG = re.compile(
    r"(?:mot\.?|motors?|tags?|equip\.?|equipment|asset|maschinen?|antrieb|kks|ident(?:ification)?|id|drive|unit|pump)"
    r"(?:[ _-]*(?:nr|no|num|number|name|id|tag|code|#|kennz\w*|bezeichn\w*)\.?)?",
    re.IGNORECASE,
)
DATE = re.compile(r"date|day|datum|tag der .*|tested( on)?|when|test date|messdatum", re.IGNORECASE)
NOTE = re.compile(r"notes?|remarks?|comments?|bemerkung(en)?|anmerkung|kommentar|observations?", re.IGNORECASE)
DERIVED = re.compile(
    r"\b(pi|dar|mean|avg|average|sum|total|unbal\w*|imbal\w*|ratio|index|spread|minimum|maximum|max|mittel\w*|verdict|"
    r"result|status|by|who|tester|operator|next|due|r40|corr\w*)\b",
    re.IGNORECASE,
)
TEMP = re.compile(r"temp\w*|winding t|t wdg|°\s*[cf]", re.IGNORECASE)
AMBIENT = re.compile(r"amb\w*|air|umgebung", re.IGNORECASE)
VOLTS = re.compile(r"(test|prüf)\s*-?\s*(v|volts?|voltage|spannung)|\bkv\b|u ?prüf", re.IGNORECASE)
HUMIDITY = re.compile(r"\brh\b|humid\w*|feuchte|% ?rh", re.IGNORECASE)
INSULATED = re.compile(r"insul\w*|isolation\w*|\bir\b|meg(?!a?ohm)\w*|\br?iso\b", re.IGNORECASE)
INSULATION = re.compile(r"insul\w*|isolation\w*|\bir\b|meg\w*|mω|gω|\br?iso\b", re.IGNORECASE)
WINDING = re.compile(r"winding|wicklung|resist\w*|ohms?|\bω\b|mω|\br\b", re.IGNORECASE)
PAIR = re.compile(r"(?<![\w.])(?:[tTuvwUVW]|R\s*)?(\d{1,2})\s*[-/]\s*(?:[tT])?(\d{1,2})(?![\w.])")
LETTERS = re.compile(r"\b([UVW])\s*[-/]\s*([UVW])\b")
TO_FRAME = re.compile(
    r"(?:t|u|lead)?\s*(\d{1,2}|[UVW])\s*(?:-|to|/|→)\s*(?:e|pe|earth|frame|gnd|ground|masse|erde)\b", re.IGNORECASE
)
UNIT = re.compile(r"(?<![A-Za-z])([GMkmµ]?Ω|(?i:[gmk]?ohms?)|(?i:mega?ohms?)|kV|V|°C|°F|%)(?![A-Za-z0-9])")
SECONDS = re.compile(r"\b(\d{1,4})\s*(s|sec|min|m)\b", re.IGNORECASE)
YEAR = re.compile(r"(?:19|20)\d{2}")
TITLE = re.compile(r"(?:motor|tag|antrieb|maschine)\s*:\s*(.+)", re.IGNORECASE)
NUMBERS = {"U": "1", "V": "2", "W": "3"}
LEAD = re.compile(r"(?:lead\s*)?(?:T\s*(\d{1,2})|L([123])|([UVW])([12]?))", re.IGNORECASE)
# Over a list of motors: what each column says of plate and place.
OF_PLATE = {
    "plate.serial": r"serial(?: ?(?:no|nr|number)\.?)?|s/?n|fabr(?:ikations)?\.?-?nr\.?",
    "plate.power": r"(?:rated )?power|rating|output|leistung|kw|hp|ps|(?:rated )?power .*",
    "plate.rated_voltage_v": r"(?:rated )?(?:volts?|voltage|spannung)|u ?n|v",
    "plate.full_load_current_a": r"(?:rated |full[- ]load )?(?:amps?|current|strom)|fl[ac]|i ?n|a",
    "plate.speed_rpm": r"(?:rated )?(?:speed|drehzahl)|rpm|r/min|1/min|min-1",
    "plate.frequency_hz": r"freq(?:uency|uenz)?\.?|hz",
    "plate.insulation_class": r"(?:ins(?:ulation)?\.? |thermal )?class|iso-?klasse",
    "plate.built_year": r"(?:year )?(?:built|made|of make)|year|baujahr",
    "plate.frame_size": r"frame(?: size)?|baugröße|bau ?größe|bg",
    "plate.bearings": r"bearings?(?: \(?de/nde\)?)?|lager",
    "plate.efficiency_percent": r"eff(?:iciency)?\.?|η|eta|wirkungsgrad",
    "plate.power_factor": r"cos ?(?:φ|phi|ϕ)|power factor|p\.?f\.?|leistungsfaktor",
    "plate.lead_scheme": r"(?:no\.? of )?leads|lead scheme",
    "position.name": r"position|location|drives?|driven machine|place|einbauort",
    "position.area": r"area|department|section|building|bereich",
    "position.criticality": r"critical(?:ity)?|priority",
}
PLATE_UNIT = re.compile(r"(.*?)\s*[\[(,]\s*(kW|hp|PS|V|kV|A|Hz|r/min|rpm|1/min|%)\s*[\])]?", re.IGNORECASE)
BARE_DAY = re.compile(r"\d{1,4}[-./ ]\d{1,2}[-./ ]\d{2,4}(?:[T ][\d:.]+)?")


def figure(text: str) -> bool:
    """A figure, with a unit or a sign of its own."""
    return re.fullmatch(r"[<>~]?\s*-?\d[\d.,/ ]*\s*\S{0,4}\+?", text) is not None


def is_word(text: str) -> bool:
    """A name of a column: words, or a pair of leads."""
    return not figure(text) or re.fullmatch(r"\d{1,2}\s*-\s*\d{1,2}", text) is not None


def unit_in(text: str) -> str | None:
    """The unit that a heading names; a small m of milliohms is told from a large one.

    >>> unit_in("IR (MOhm)"), unit_in("1-2 [mohm]"), unit_in("megaohms"), unit_in("ohm"), unit_in("R 1-2")
    ('MΩ', 'mΩ', 'MΩ', 'Ω', None)
    """
    match = UNIT.search(text.replace("\u2126", "Ω"))
    if match is None:
        return None
    if "ohm" not in match[1].lower():
        return match[1]
    head = match[1][: match[1].lower().index("ohm")]
    return ("M" if len(head) > 1 else {"g": "G", "K": "k"}.get(head, head)) + "Ω"


def lead_named(text: str) -> str | None:
    """The number of a lead that stands alone over a column, but for a unit.

    >>> lead_named("T2"), lead_named("W (MOhm)"), lead_named("V2"), lead_named("L3"), lead_named("1-2")
    ('2', '3', '5', '3', None)
    """
    match = LEAD.fullmatch(UNIT.sub("", text.replace("\u2126", "Ω")).strip(" ()[],"))
    if match is None:
        return None
    if match[3] is None:
        return match[1] or match[2]
    return str(int(NUMBERS[match[3].upper()]) + (3 if match[4] == "2" else 0))


def plate_field(name: str) -> tuple[str, str] | None:
    """The field of a plate that a heading names, and the unit that stands in it; None where it names none.

    >>> plate_field("Power [kW]"), plate_field("Rated voltage (V)"), plate_field("rpm"), plate_field("IR")
    (('plate.power', 'kW'), ('plate.rated_voltage_v', 'V'), ('plate.speed_rpm', ''), None)
    """
    match = PLATE_UNIT.fullmatch(name.strip())
    bare, unit = (match[1], match[2]) if match else (name.strip(), "")
    for field, words in OF_PLATE.items():
        if re.fullmatch(words, bare.rstrip(":"), re.IGNORECASE):
            return field, unit or (bare if field == "plate.power" and bare.casefold() in ("kw", "hp", "ps") else "")
    return None
