"""Every list of allowed words, once. Formats, forms, tables and tests read them here."""

from __future__ import annotations

from enum import StrEnum


class LeadScheme(StrEnum):
    """Which leads come out of the winding, and what is joined inside."""

    THREE = "three-lead"
    THREE_WYE = "three-lead-wye"
    THREE_DELTA = "three-lead-delta"
    SIX = "six-lead"
    NINE_WYE = "nine-lead-wye"
    NINE_DELTA = "nine-lead-delta"
    TWELVE = "twelve-lead"
    PART_WINDING = "part-winding"
    TWO_WINDINGS = "two-speed-two-winding"
    TAPPED_RING = "two-speed-one-winding-delta"
    TAPPED_STAR = "two-speed-one-winding-wye"
    UNKNOWN = "unknown"


class SourceKind(StrEnum):
    """What can bring energy to a motor: each is locked, and proved dead, by itself."""

    MAIN = "main"
    SECOND_FEED = "second-feed"
    CONTROL = "control"
    HEATER = "heater"
    BRAKE = "brake"
    CAPACITOR = "capacitor"
    DRIVE_LINK = "drive-link"
    STORED_LOAD = "stored-load"
    OTHER = "other"


class Occasion(StrEnum):
    """What a job is for; it decides which tests a verdict needs."""

    ROUTINE = "routine"
    CALL_OUT = "call-out"
    ACCEPTANCE = "acceptance"
    WET = "wet"
    LEADS = "leads"
    DEAD_ONLY = "dead-only"
    AFTER_DRYING = "after-drying"


class School(StrEnum):
    """Where the dead tests begin."""

    STARTER_FIRST = "starter-first"
    BOX_FIRST = "box-first"


class SupplySystem(StrEnum):
    """How the supply stands to earth."""

    WYE_EARTHED = "wye-earthed"
    CORNER_EARTHED = "corner-earthed"
    HIGH_LEG = "high-leg"
    UNEARTHED = "unearthed"
    HIGH_RESISTANCE = "high-resistance-earthed"
    PHASE_CONVERTER = "phase-converter"


class HistoryEvent(StrEnum):
    """What can happen to a winding between two tests."""

    REWIND = "rewind"
    DRYING = "drying"
    CLEANING = "cleaning"
    MOVED = "moved"
    CABLE_CHANGED = "cable-changed"


class Starter(StrEnum):
    """What starts the motor."""

    DIRECT = "direct"
    REVERSING = "reversing"
    STAR_DELTA = "star-delta"
    AUTOTRANSFORMER = "autotransformer"
    PART_WINDING = "part-winding"
    TWO_SPEED = "two-speed"
    SOFT = "soft"
    DRIVE = "drive"
    NONE = "none"


class Spot(StrEnum):
    """Where a test is made."""

    STARTER = "starter"
    MOTOR_BOX = "motor-box"
    CABLE = "cable"


class Scope(StrEnum):
    """What hangs on the tester."""

    MOTOR = "motor"
    MOTOR_AND_CABLE = "motor+cable"
    CABLE = "cable"


class Speed(StrEnum):
    """Winding or connection of a two-speed motor."""

    LOW = "low"
    HIGH = "high"


class InsulationClass(StrEnum):
    """Thermal class by its letter."""

    A = "A"
    E = "E"
    B = "B"
    F = "F"
    H = "H"


class Criticality(StrEnum):
    """What it costs when the position stands still."""

    ROUTINE = "routine"
    CRITICAL = "critical"
    EASY_SPARE = "easy-spare"


class WindingType(StrEnum):
    """How the coils are made."""

    RANDOM = "random"
    FORM = "form"


class InsulationSystem(StrEnum):
    """What the insulation does with heat."""

    THERMOSETTING = "thermosetting"
    THERMOPLASTIC = "thermoplastic"


class Conductor(StrEnum):
    """Metal of a winding or a cable."""

    COPPER = "copper"
    ALUMINIUM = "aluminium"


class Joining(StrEnum):
    """How three phases are joined."""

    WYE = "wye"
    DELTA = "delta"


class Disconnect(StrEnum):
    """Where the motor's disconnect is."""

    PANEL = "panel"
    LOCAL = "local"
    NONE = "none"


class Protection(StrEnum):
    """What protects the circuit against shorts."""

    FUSES = "fuses"
    BREAKER = "breaker"


class Lines(StrEnum):
    """Two lines of the supply."""

    L1_L2 = "L1-L2"
    L2_L3 = "L2-L3"
    L3_L1 = "L3-L1"


class ControlSupply(StrEnum):
    """What feeds the control circuit."""

    L1_L2 = "L1-L2"
    L2_L3 = "L2-L3"
    L3_L1 = "L3-L1"
    SEPARATE = "separate"


class Protector(StrEnum):
    """Where the motor's own protector acts."""

    NONE = "none"
    CONTROL_CHAIN = "control-chain"
    STAR_POINT = "star-point"
    BROUGHT_OUT = "brought-out"


class BrakeFeed(StrEnum):
    """How a brake is fed."""

    NONE = "none"
    TWO_LINES = "two-lines"
    SEPARATE = "separate"


class Reset(StrEnum):
    """How an overload comes back after a trip."""

    HAND = "hand"
    AUTOMATIC = "automatic"


class RootCause(StrEnum):
    """What lies behind a motor that has to be acted on."""

    HEAT = "heat"
    OVERLOAD = "overload"
    DAMP = "damp"
    DIRT = "dirt"
    VOLTAGE = "voltage"
    UNBALANCE = "unbalance"
    SINGLE_PHASING = "single-phasing"
    DRIVE_SURGES = "drive surges"
    VIBRATION = "vibration or rubbing"
    STARTS = "starts"
    BEARING = "bearing"
    AGE = "age"
    WRONG_PART = "wrong part or connection"
    UNKNOWN = "unknown"


class PhaseColour(StrEnum):
    """Colours that the cores of a line may have; which is which is the site's own, by its local code."""

    BROWN = "brown"
    BLACK = "black"
    GREY = "grey"
    RED = "red"
    BLUE = "blue"
    YELLOW = "yellow"
    ORANGE = "orange"
    WHITE = "white"
    GREEN = "green"
    VIOLET = "violet"


class LifeKind(StrEnum):
    """What can happen in a motor's life."""

    BUILT = "built"
    MOVED = "moved"
    REWOUND = "rewound"
    DRIED = "dried"
    CLEANED = "cleaned"
    REPAIRED = "repaired"
    CABLE_CHANGED = "cable changed"
    TRIPPED = "tripped"
    MARKED = "marked"
    WALKED = "walked"
    ORDERED = "ordered"
    AWAY = "away"
    BACK = "back"
