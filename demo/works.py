"""The works as data: areas, positions, motors, instruments, people. Invented throughout."""

from __future__ import annotations

from dataclasses import dataclass

SITE = "Fenmark, campaign stop"
PEOPLE = ("I. Rohrdommel", "T. Schilf", "M. Binse", "A. Kolbenried")  # those who signed over the years
PASSWORD, PIN = "heron-in-the-sluice", "271828"  # of every demo sign-in; printed when the demo starts
SIGN_INS = (
    ("rohrdommel", "I. Rohrdommel", "electrician", ""),
    ("schilf", "T. Schilf", "electrician", ""),
    ("binse", "M. Binse", "electrician", ""),
    ("kolbenried", "A. Kolbenried", "electrician", ""),
    ("igelkolb", "L. Igelkolb", "apprentice", "rohrdommel"),
    ("segge", "W. Segge", "planner", ""),
    ("schwaden", "P. Schwaden", "reader", ""),
    ("wollgras", "K. Wollgras", "administrator", ""),
)


@dataclass(frozen=True)
class Made:
    """One motor: plate, place, age and what happens to it (`story`).

    years: of tests; every: months between them; r40: log10 MΩ at the start; fall: decades a year.
    """

    tag: str
    place: str
    area: str
    kw: float
    rpm: float
    built: int
    story: str = "plain"
    years: float = 5.0
    every: int = 12
    r40: float = 3.0
    fall: float = 0.015
    criticality: str = "routine"
    scheme: str = "three-lead"
    volts: float = 460.0
    winding: str = "random"
    tester: str = "T2"
    meter: str = "M1"
    late_days: int = 0


YARD, PRESS, LIME, HOUSE, BOILER, WATER = (
    "Beet yard and wash",
    "Pulp and presses",
    "Diffuser and lime",
    "Sugar house",
    "Boiler house",
    "Water and effluent",
)

MOTORS: tuple[Made, ...] = (
    Made("BW-114", "Beet wash drum", YARD, 15, 1765, 2014, "at-bench", 6, r40=3.15, scheme="three-lead-wye"),
    Made("BW-121", "Stone catcher", YARD, 4, 1740, 2018, "over-range", 6, r40=3.9, tester="T2"),
    Made("BW-133", "Weed catcher", YARD, 2.2, 1725, 2016, years=5, r40=2.85),
    Made("BY-031", "Beet slicer 1", YARD, 75, 1780, 2011, "half", 7, r40=3.1, criticality="critical", every=6, scheme="three-lead-delta"),
    Made("BY-032", "Beet slicer 2", YARD, 75, 1780, 2011, "plain", 7, r40=3.05, criticality="critical", every=6, scheme="three-lead-delta"),
    Made("BY-040", "Beet belt 1", YARD, 11, 1760, 2019, years=4, r40=3.0),
    Made("BY-041", "Beet belt 2", YARD, 11, 1760, 2019, "poor-joint", 4, r40=2.95),
    Made("PP-118", "Pulp press 1", PRESS, 37, 1775, 2009, "rewound", 8, r40=2.95, fall=0.09, scheme="three-lead-delta"),
    Made("PP-122", "Pulp press 2", PRESS, 37, 1775, 2009, "shorted", 8, r40=3.1, scheme="three-lead-wye"),
    Made("PP-140", "Pulp screw", PRESS, 7.5, 1755, 2015, "coarse", 5, r40=2.9, meter="M9"),
    Made("PP-151", "Pellet mill", PRESS, 90, 1785, 2013, years=6, r40=3.05, criticality="critical", every=6),
    Made("PP-160", "Pulp drier fan", PRESS, 55, 1780, 2008, "damp", 8, r40=2.6, fall=0.03),
    Made("DD-206", "Diffuser drive 1", LIME, 30, 1770, 2012, "over-range-then", 7, r40=3.35, criticality="critical", every=6),
    Made("DD-207", "Diffuser drive 2", LIME, 30, 1770, 2012, "falling", 7, r40=3.3, fall=0.31, criticality="critical", every=8),
    Made("DD-215", "Raw juice pump", LIME, 22, 1765, 2017, years=5, r40=3.0),
    Made("LK-301", "Lime kiln fan", LIME, 45, 1780, 2006, "discharging", 8, r40=2.75, fall=0.02, criticality="critical", every=6),
    Made("LK-305", "Milk of lime pump", LIME, 11, 1760, 2010, "no-temperature", 6, r40=2.3, tester="T1", late_days=9),
    Made("LK-312", "Kiln stone screen", LIME, 15, 1175, 2007, "volts", 7, r40=2.9),
    Made("LK-320", "Carbonation gas pump", LIME, 110, 1785, 2005, "rewound", 8, r40=2.9, fall=0.11, criticality="critical", every=8),
    Made("LK-331", "Filter press pump", LIME, 7.5, 1755, 2016, "wet", 5, r40=2.9),
    Made("SH-410", "Centrifugal 1", HOUSE, 90, 1180, 2015, years=6, r40=3.2, scheme="three-lead-delta"),
    Made("SH-411", "Centrifugal 2", HOUSE, 90, 1180, 2015, "over-range-then", 6, r40=3.4, fall=0.03, scheme="three-lead-delta"),
    Made("SH-412", "Centrifugal 3", HOUSE, 90, 1180, 2015, years=6, r40=3.15, scheme="three-lead-delta"),
    Made("SH-420", "Vacuum pump 1", HOUSE, 55, 1780, 2014, years=6, r40=3.0, criticality="critical", every=6),
    Made("SH-421", "Vacuum pump 2", HOUSE, 55, 1780, 2014, "dried", 6, r40=3.0),
    Made("SH-433", "Massecuite mixer", HOUSE, 5.5, 875, 2003, "old", 7, r40=1.9, fall=0.05),
    Made("SH-440", "Sugar drier drum", HOUSE, 15, 1765, 2018, years=4, r40=3.1),
    Made("SH-447", "Sugar elevator", HOUSE, 11, 1760, 2018, "single-line", 4, r40=3.1),
    Made("BH-510", "Feed water pump 1", BOILER, 132, 3565, 2010, years=7, r40=3.1, criticality="critical", every=6),
    Made("BH-511", "Feed water pump 2", BOILER, 132, 3565, 2010, "plain", 7, r40=3.05, criticality="critical", every=6),
    Made("BH-520", "Forced draught fan", BOILER, 75, 1185, 2008, years=7, r40=2.9, criticality="critical", every=6),
    Made("BH-533", "Ash screw", BOILER, 3, 1735, 2019, "over-range", 4, r40=3.8, tester="T1"),
    Made("WE-610", "Condenser pump", WATER, 45, 1180, 2011, years=6, r40=2.8, late_days=21),
    Made("WE-617", "Cooling tower fan", WATER, 18.5, 1180, 2012, "damp", 6, r40=2.5, fall=0.02),
    Made("WE-622", "Effluent aerator", WATER, 30, 1770, 2013, "low", 6, r40=2.3, fall=0.26),
    Made("WE-630", "Sludge pump", WATER, 5.5, 1750, 2017, years=4, r40=2.8, criticality="easy-spare", every=24),
    Made("ST-019", "Store, spare for pulp press", "Motor store", 37, 1775, 2022, "new", 0, scheme="three-lead-delta"),
)  # fmt: skip

# Leads that are marked otherwise than by their numbers, with the colours of their cores.
MARKED = {
    "BW-114": (("U1", "brown"), ("V1", "black"), ("W1", "grey")),
    "SH-440": (("U1", "brown"), ("V1", "black"), ("W1", "grey")),
    "LK-331": (("one notch", ""), ("two notches", ""), ("three notches", "")),
}
# The spare stood in for the other while that was rewound.
REWOUND_AND_SPARE = ("PP-118", "ST-019")

# name, calibration due in days from today, ranges: (function, top, resolution, accuracy %, counts, test volts, lamps)
INSTRUMENTS = (
    (
        "M1 four-wire ohmmeter",
        190,
        (
            ("low-ohm", 0.2, 1e-5, 0.2, 2, None),
            ("low-ohm", 2.0, 1e-4, 0.2, 2, None),
            ("low-ohm", 20.0, 1e-3, 0.2, 2, None),
        ),
    ),
    ("M9 pocket multimeter", -40, (("ohm", 200.0, 0.1, 1.0, 1, None),)),
    ("T1 insulation tester, 550 top", 75, (("insulation", 550e6, 1e5, 5.0, 0, 500.0),)),
    ("T2 insulation tester, 2000 top", 230, (("insulation", 2000e6, 1e5, 3.0, 0, 500.0),)),
    ("T4 insulation tester with lamps", 150, (("insulation", None, None, 0.0, 0, 500.0, "5e+05 2e+06 1e+07 1e+08"),)),
)

# What is on record of a few positions' circuits, as the formats write it.
CIRCUITS = {
    "Feed water pump 1": {
        "starter": "direct",
        "disconnect": "panel",
        "protection": "fuses",
        "control_v": 110,
        "control_supply": "L1-L2",
        "overload": {"dial_a": 210, "trip_class": 10, "reset": "hand"},
        "starter_figures": {
            "coil_v": 110, "control_primary_v": 480, "control_va": 160, "fuse_a": 315, "run_up_s": 6,
            "start_a": 1250, "starts_per_hour": 1, "undervoltage_release": True,
        },
    },
    "Sugar elevator": {
        "starter": "reversing",
        "disconnect": "panel",
        "protection": "breaker",
        "control_v": 110,
        "control_supply": "L1-L2",
        "overload": {"dial_a": 21, "trip_class": 10, "reset": "hand"},
        "starter_figures": {"coil_v": 110, "starts_per_hour": 7, "undervoltage_release": True},
    },
}  # fmt: skip
