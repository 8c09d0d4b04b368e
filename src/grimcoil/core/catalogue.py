"""Every finding code with the source of its rule and how that source is known."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Standing(StrEnum):
    """How a limit or rule is known."""

    STANDARD = "standard, from memory"
    TRADE = "common practice without source"
    COMPUTED = "computed"
    SITE = "set by the site"


@dataclass(frozen=True, slots=True)
class FindingKind:
    """Where a rule comes from and how that is known."""

    source: str
    standing: Standing

    @property
    def line(self) -> str:
        """Source and standing in one line."""
        if self.standing is Standing.TRADE and not self.source:
            return str(self.standing)
        return f"{self.source} ({self.standing})"


_STD, _TRADE, _CALC = Standing.STANDARD, Standing.TRADE, Standing.COMPUTED

# standing, source, the codes that rest on it
_TABLE: tuple[tuple[Standing, str, str], ...] = (
    # plate and position
    (_CALC, "dual-voltage currents go inversely with the voltages", "plate-currents-ratio"),
    (_CALC, "synchronous speed 120 f / p", "plate-speed"),
    (_STD, "NEMA MG-1 table 12-12", "money-beyond-table"),
    (_TRADE, "NEMA MG-1 table 12-12 for what isn't known; no change by a careful rewind", "money-default"),
    (_TRADE, "a spare beats both for getting going", "money-spare"),
    (_STD, "NEC Table 430.250", "plate-current-power"),
    (_TRADE, "usual pairs of motor and system voltage", "plate-system-voltage"),
    (_CALC, "the plate's own figures", "plate-connected-voltage"),
    (_TRADE, "two voltages of one frequency need leads that are joined otherwise", "plate-leads-contradict"),
    (_TRADE, "three leads and one voltage: more motors are a wye inside", "wye-likelier"),
    (_CALC, "the maker's plate beside the rewinder's", "plate-rewound-differs"),
    (_TRADE, "a label is read by its letters and digits", "tag-alike"),
    (_CALC, "the motor beside what its position calls for", "position-wrong-motor position-fits"),
    (_STD, "NEC 430.32, 115 and 125 % of plate amps", "overload-trips-high"),
    (
        _TRADE,
        "dial set to plate amps, x 0.58 inside the delta",
        "overload-dial-high overload-dial-low overload-dial-fits",
    ),
    (_TRADE, "trip class against run-up time", "overload-class-short"),
    (_TRADE, "no automatic reset on a machine that can be reached", "overload-automatic-reset"),
    (_TRADE, "the third motor in two years: look at the position", "repeat-failures"),
    (_TRADE, "prove it dead before what is dead is touched", "done-unproved found-live"),
    (_CALC, "the readings beside what the circuit gives with each fault", "walk-contradiction walk-nothing-fits"),
    (_TRADE, "no test volts into electronics, nor where the maker forbids them", "insulation-into-electronics"),
    (_CALC, "a lost line is fed back through the control transformer", "back-feed"),
    (_TRADE, "one reset at most; never twice", "reset-again"),
    (_TRADE, "what failed here before is looked at first", "walk-earlier walk-came-back"),
    (_TRADE, "after a short nothing is closed before the load side is shown clear", "load-not-clear"),
    # side sheets
    (
        _CALC,
        "start to run is the sum of the other two",
        "single-phase-leads single-phase-reversible single-phase-no-sum single-phase-open single-phase-unclear",
    ),
    (
        _TRADE,
        "a discharged capacitor rises to near infinite",
        "capacitor-alive capacitor-open capacitor-shorted capacitor-unclear",
    ),
    (_TRADE, "closed at rest, open by hand", "switch-closed switch-open switch-opens switch-stuck"),
    (_TRADE, "the same microfarads, volts at least as high", "capacitor-same capacitor-not-same capacitor-volts-low"),
    (
        _TRADE,
        "the widest gap its maker allows; it lifts by 85 % of its coil's volts",
        "brake-gap-fits brake-gap-near brake-gap-wide brake-lifts brake-lifts-late",
    ),
    (
        _TRADE,
        "an opened motor part by part; no solvent that softens varnish",
        "overhaul-done overhaul-open overhaul-bad overhaul-cleaned",
    ),
    (_TRADE, "holders square, firm, free, 1.5 to 3 mm off the commutator", "holder-fits holder-off holder-unsaid"),
    (_TRADE, "sizes that such a part never has", "size-absurd"),
    (_TRADE, "turned uncoupled first", "rotation-right rotation-wrong rotation-coupled"),
    (_TRADE, "at half of new the whole set goes", "brushes-worn brushes-near-half brushes-long"),
    (_STD, "bearing makers' rule, 0.005 D B grams", "grease-grams"),
    (
        _TRADE,
        "against the motor's own earlier rounds",
        "round-no-past round-usual round-shifted round-hotter round-cooler",
    ),
    (_TRADE, "the least that the brake's maker allows", "brake-disc-worn brake-disc-near brake-disc-thick"),
    (
        _CALC,
        "a third of line current in star; the timer about the run-up",
        "star-delta-early star-delta-late star-delta-timer star-delta-third star-delta-share",
    ),
    (_CALC, "at a tap k: motor k, line and torque k squared", "autotransformer-share tap-unclear"),
    (_TRADE, "a direct start draws 5 to 8 times full load", "starter-inrush starter-inrush-high starter-inrush-low"),
    (_STD, "IEC 60947-4-1, a coil works from 85 to 110 %", "starter-coil starter-coil-over starter-coil-under"),
    (_TRADE, "each start heats like minutes of running", "starts-many starts-some starts-few starts-class"),
    (_TRADE, "waves of two phases lie together", "surge-alike surge-apart surge-unclear"),
    (_TRADE, "heard and felt on a round", "vibration-sound vibration-watch vibration-act"),
    (_TRADE, "each observation suggests the next check", "observation-sound observation-watch observation-act"),
    # drying
    (_TRADE, "limits of heat, current and rise while a winding dries", "drying-too-hot drying-near-limit"),
    (_TRADE, "the reading falls first as the winding warms", "drying-dip"),
    (_TRADE, "steady within 10 % over two hours above the minimum, with its index", "drying-done drying-not-done"),
    (_CALC, "gain errors of two meters don't cancel", "cold-other-meter"),
    # instruments, safety
    (_TRADE, "calibration kept up to date", "calibration-overdue"),
    (_TRADE, "a tester that failed its check proves nothing", "tester-failed"),
    (_TRADE, "prove the tester live, test dead, prove it again", "dead-proved dead-not-proved dead-not-dead"),
    # winding resistance
    (
        _CALC,
        "the criteria's unbalance limit over the meter's intervals",
        "balanced unbalanced unbalance-watch unbalance-unproven",
    ),
    (
        _CALC,
        "series and parallel resistance of wye and delta",
        "open-phase open-coil-delta lead-open-delta all-open coil-open shorted-turns poor-joint parallel-path-open",
    ),
    (
        _CALC,
        "three resistances, and the ratios the lead scheme gives",
        "pattern-unclassified pairs-contradict sets-misfit",
    ),
    (_TRADE, "a short of a few turns hides below the meter's digits", "few-turns-hidden"),
    (_CALC, "the same pair read twice", "reading-twice repeat-differs"),
    (_TRADE, "two readings that agree prove a fault, one lost contact proves none", "open-once contact-lost"),
    (_CALC, "pairs the lead scheme doesn't join inside", "path-between-coils"),
    (_TRADE, "a kilo-ohm across a power winding is as good as open", "kilohm-open"),
    (_TRADE, "a beep sounds only below some tens of ohms", "beep-only"),
    (_CALC, "readings that were not taken", "resistance-missing insulation-missing test-voltage-missing"),
    (_CALC, "the meter's digits against the winding's ohms", "digits-fewer meter-coarse"),
    (_TRADE, "a proven pattern of shorted turns asks for currents or a surge test", "turns-unsettled"),
    (_CALC, "what the lead scheme joins inside", "joined-inside lead-unknown"),
    (
        _TRADE,
        "4 times the minimum at 20 °C or above, uncorrected: acceptance criteria of their own",
        "field-rule-passes",
    ),
    (_TRADE, "drift of more than 5 % from the first set", "resistance-drift"),
    (_CALC, "series or parallel, star or delta: 4, 3, 1/3 or 1/4 times the ohms", "connection-misfit"),
    (_STD, "IEEE 118 / IEEE 112 temperature correction", "temperature-missing winding-hot winding-rise"),
    (_CALC, "two separate windings: the higher ohms are the low speed", "speeds-swapped speeds-fit"),
    # insulation
    (
        _STD,
        "IEEE 43-2013 Table 3, ANSI/EASA AR100",
        "insulation-sound insulation-low insulation-failed insulation-unproven",
    ),
    (_TRADE, "near zero to frame is bad on any instrument", "insulation-near-zero"),
    (_TRADE, "an ordinary ohmmeter stresses nothing", "ohmmeter-suspect ohmmeter-unproven"),
    (_TRADE, "a short hold is a spot value, never a 1-minute value", "spot-only"),
    (
        _TRADE,
        "ten seconds and not falling: at least that at 1 minute, acceptance criteria of their own",
        "spot-counted",
    ),
    (_TRADE, "1 MΩ may run, but find out why it is so low", "insulation-may-run"),
    (_STD, "IEEE 43-2013 correction to 40 °C, 10 to 85 °C", "correction-out-of-range"),
    (_STD, "IEEE 43-2013 Table 1", "test-voltage-high test-voltage-low"),
    (_TRADE, "below 250 V on a winding rated above it nothing passes", "test-voltage-too-low"),
    (_STD, "IEEE 43: positive to frame, negative to winding", "polarity-turned"),
    (
        _STD,
        "IEEE 43-2013 polarization index",
        "pi-sound pi-low pi-below-one pi-unproven pi-not-meaningful",
    ),
    (_TRADE, "polarization index above about 8 on an old winding", "pi-brittle"),
    (_TRADE, "60 s over 30 s ratio", "dar-sound dar-doubtful dar-bad dar-unproven"),
    (_TRADE, "a falling curve is water or a breakdown path", "curve-falling"),
    (_TRADE, "a curve that rises, then drops or jumps: breakdown now and then", "curve-unsteady"),
    (_TRADE, "a flat, low curve is surface leakage or water", "curve-flat"),
    (_CALC, "V (1/R + A t^-n) fitted to the timed values", "absorption-fit"),
    (_CALC, "Magnus dew point (17.62, 243.12 °C)", "wet-surface"),
    (_CALC, "times in rising order", "series-out-of-order"),
    (_TRADE, "the maker forbids high-voltage tests", "insulation-forbidden insulation-forbidden-done"),
    (_CALC, "no over-range top is known for this tester", "range-unknown"),
    (
        _TRADE,
        "split where it fails: cable, motor, phase",
        "cable-or-motor located-cable located-motor located-phase located-all-low",
    ),
    (_TRADE, "good to frame, bad between phases: end turns or slot", "phase-to-phase-low"),
    (_TRADE, "any path between two separate windings is a fault", "path-between-windings windings-apart"),
    # supply
    (
        _STD,
        "NEMA MG-1 voltage unbalance and derating",
        "voltage-balanced voltage-unbalance-watch voltage-unbalance-act",
    ),
    (_TRADE, "spread lowest to highest, each line against the plate", "voltage-spread-sound voltage-spread-act"),
    (_STD, "NEMA MG-1 12.44, ±10 %", "voltage-level-act"),
    (_STD, "IEC 60034-1 zone A, ±5 %", "voltage-level-watch voltage-level-sound"),
    (_TRADE, "20 % low can stall an induction motor", "voltage-stalls"),
    (_CALC, "volts per hertz against the plate's", "volts-per-hertz-fits volts-per-hertz-off"),
    (_CALC, "three line voltages close a triangle", "voltages-no-triangle"),
    (
        _CALC,
        "line-to-earth values of the declared system",
        "line-to-earth-misfit line-to-earth-fits",
    ),
    (_TRADE, "a floating system holds each line off earth", "earth-fault"),
    (_TRADE, "a phase converter's leg drifts with the load; tens of volts off is mis-set", "converter-misset"),
    (_CALC, "readings that were not taken", "supply-missing current-missing reading-missing"),
    # current
    (
        _TRADE,
        "current unbalance 5 % and 10 %",
        "current-balanced current-unbalance-watch current-unbalance-act current-unbalance-from-volts",
    ),
    (_TRADE, "current spread lowest to highest", "current-spread-sound current-spread-act"),
    (
        _STD,
        "nameplate full-load current and service factor",
        "current-over-plate current-over-service-factor",
    ),
    (_TRADE, "5 to 8 times the plate is the starting current", "current-starting"),
    (_CALC, "a lost line raises the two others by about √3", "line-lost"),
    (_TRADE, "high alike in all lines: load, bearings or low volts", "overload-alike volts-low"),
    (_CALC, "a clamp round two or three lines shows their sum", "clamp-round-more"),
    (_TRADE, "all lines low: uncoupled or a broken belt", "current-all-low"),
    (_TRADE, "no-load current about 25 to 50 % of full load, more for slow motors", "no-load-usual no-load-high"),
    (_TRADE, "uncoupled it never takes more than full load", "no-load-over-plate"),
    (_TRADE, "uncoupled it runs close to its synchronous speed", "no-load-slow"),
    (_CALC, "a brake between two lines adds to these two", "brake-pair"),
    (
        _CALC,
        "mean, line, lead and roll effects of the rolled readings",
        "roll-supply roll-motor roll-both roll-neither roll-turns roll-missing",
    ),
    # contacts, circuit
    (
        _STD,
        "NETA practice: 50 % above the lowest pole",
        "contact-drop-sound contact-drop-high",
    ),
    (_TRADE, "1 V and more across a closed pole under load: burnt, though alike", "contact-drop-burnt contact-hot"),
    (_CALC, "line volts across a closed pole: it is open", "pole-open"),
    (_TRADE, "a fuse out reads near 0 or open; in circuit volts across prove it open", "fuse-sound fuse-blown"),
    (_TRADE, "0 V across proves nothing unless current flows", "fuse-unproven"),
    (_TRADE, "closed poles near 0 and alike", "poles-alike poles-differ pole-high-ohms"),
    (_TRADE, "a coil open or shorted doesn't pull in", "coil-sound coil-open-circuit coil-shorted"),
    (_TRADE, "no volts at the coil: control fuse, then the control chain", "coil-no-volts"),
    (_CALC, "C = I / (2 π f U)", "capacitor-fits capacitor-off capacitor-coarse"),
    (_STD, "IEC 60228 class 2, ASTM B258", "cable-fits cable-joint-high cable-odd"),
    (_TRADE, "a terminal block with everything off it, stud to stud and to earth", "terminal-block-bad"),
    (_TRADE, "a cable alone, far end open or joined", "cable-to-earth cable-between-cores cable-core-open cable-clear"),
    # leads and connections
    (_STD, "NEMA MG-1 part 2, IEC 60034-8 connections", "right"),
    (_CALC, "node potentials of the joined coils against their design", "over-voltage under-voltage open-coil"),
    (_CALC, "a coil's phasor against the others' axes", "reversed-coil"),
    (_CALC, "two lines on one node", "line-short"),
    (_CALC, "the field of the fed coils in the others", "closed-idle-winding"),
    (_CALC, "half-coil volts that each reading of the plate gives", "ambiguous-rating ratio-misfit"),
    # accessories, heat, shaft
    (
        _TRADE,
        "thermostats near 0 ohm, thermistors tens to hundreds cold",
        "accessory-sound accessory-off",
    ),
    (_STD, "IEC 60751: Pt100 is 100 ohm at 0 °C", "rtd-sound rtd-off"),
    (_TRADE, "an accessory must be clear of the frame", "accessory-to-frame accessory-low accessory-clear"),
    (
        _TRADE,
        "the brake's coil against its marking",
        "brake-coil-fits brake-coil-off brake-not-lifting brake-not-holding brake-works",
    ),
    (_TRADE, "life halves per 10 °C above the class temperature", "frame-cool frame-hot life-shortened"),
    (_TRADE, "turned by hand, uncoupled", "shaft-free shaft-stiff shaft-jammed shaft-locked-coupled"),
    # trend
    (
        _CALC,
        "right-censored maximum likelihood on log10 R₄₀",
        "trend-falling trend-no-fall trend-too-few",
    ),
    (_TRADE, "the newest value against the minimum", "trend-below-minimum"),
    (_CALC, "eight robust scatters and a decade off the line of the others", "trend-outlier"),
    (
        _TRADE,
        "last value against the median of the earlier ones",
        "trend-step-watch trend-step-act trend-halving",
    ),
    (
        _CALC,
        "like is compared with like",
        "series-changed series-restarted series-beside short-holds-left-out trend-as-read",
    ),
)

CATALOGUE: dict[str, FindingKind] = {
    code: FindingKind(source, standing) for standing, source, codes in _TABLE for code in codes.split()
}
