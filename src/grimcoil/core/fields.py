"""What can be read: each field's home unit, its words, and the prefixes that make sense in it."""

from __future__ import annotations

from dataclasses import dataclass

EXPONENT = {"u": -6, "m": -3, "": 0, "k": 3, "M": 6, "G": 9, "T": 12}
PREFIX = {prefix: 10.0**exponent for prefix, exponent in EXPONENT.items()}
PREFIX_WORD = {
    "u": "micro",
    "m": "milli",
    "": "",
    "k": "kilo",
    "M": "mega",
    "G": "giga",
    "T": "tera",
}


@dataclass(frozen=True, slots=True, eq=False)
class Field:
    """A kind of reading. `home` is the prefix a bare number takes; SI values come out of it.

    zero_asks: a bare zero can mean "dead short" or "nothing shown"; ask which.
    over_range: the meter can show that it is above the range's top.
    """

    name: str
    unit: str
    word: str
    home: str = ""
    prefixes: frozenset[str] = frozenset({""})
    zero_asks: bool = False
    over_range: bool = False
    beeps: bool = False
    signed: bool = False

    @property
    def home_factor(self) -> float:
        """SI per home unit (computed)."""
        return PREFIX[self.home]

    @property
    def home_unit(self) -> str:
        """The unit as printed, for example MΩ."""
        return self.home.replace("u", "µ") + self.unit

    @property
    def home_words(self) -> str:
        """The unit as spoken, for example megohms."""
        return spoken_unit(self, self.home)


def spoken_unit(field: Field, prefix: str) -> str:
    """`megohms`, `milliohms`, `volts`."""
    word = PREFIX_WORD[prefix]
    if field.word == "ohms" and word in ("mega", "kilo"):
        word = word[:-1]
    return word + field.word


WINDING = Field(
    "winding resistance",
    "Ω",
    "ohms",
    "",
    frozenset({"u", "m", "", "k"}),
    over_range=True,
    beeps=True,
)
INSULATION = Field(
    "insulation resistance",
    "Ω",
    "ohms",
    "M",
    frozenset({"", "k", "M", "G", "T"}),
    zero_asks=True,
    over_range=True,
)
LOW_OHM = Field(
    "low resistance",
    "Ω",
    "ohms",
    "",
    frozenset({"u", "m", "", "k", "M"}),
    over_range=True,
    beeps=True,
)
VOLTAGE = Field("voltage", "V", "volts", "", frozenset({"", "k"}))
DROP = Field("voltage drop", "V", "volts", "", frozenset({"u", "m", ""}))
DEAD_VOLTAGE = Field("voltage", "V", "volts", "", frozenset({"m", "", "k"}))
CURRENT = Field("current", "A", "amps", "", frozenset({""}))
TEMPERATURE = Field("temperature", "°C", "degrees Celsius", signed=True)
HUMIDITY = Field("relative humidity", "%", "percent")
LENGTH = Field("length", "mm", "millimetres")
FREQUENCY = Field("frequency", "Hz", "hertz")
CAPACITANCE = Field("capacitance", "F", "farads", "u", frozenset({"u", "m"}))
SHARE = Field("share", "%", "percent")
DURATION = Field("duration", "s", "seconds")
AN_HOUR = Field("number an hour", "/h", "an hour")
SPEED = Field("speed", "rpm", "revolutions a minute")

FIELDS: dict[str, Field] = {
    "winding": WINDING,
    "insulation": INSULATION,
    "low_ohm": LOW_OHM,
    "voltage": VOLTAGE,
    "drop": DROP,
    "dead_voltage": DEAD_VOLTAGE,
    "current": CURRENT,
    "temperature": TEMPERATURE,
    "humidity": HUMIDITY,
    "length": LENGTH,
    "frequency": FREQUENCY,
    "capacitance": CAPACITANCE,
    "share": SHARE,
    "duration": DURATION,
    "an_hour": AN_HOUR,
    "speed": SPEED,
}
