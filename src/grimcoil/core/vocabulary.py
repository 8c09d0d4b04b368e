"""Every quantity once: name (as parameter, column, form field, JSON key, CSV header), symbol, unit, meaning."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Quantity:
    """A quantity of the trade. The name's suffix is its unit where that isn't the bare SI unit."""

    name: str
    symbol: str
    unit: str
    meaning: str


QUANTITIES: tuple[Quantity, ...] = (
    Quantity("rated_voltage_v", "Uₙ", "V", "line-to-line voltage on the nameplate"),
    Quantity("connected_voltage_v", "U", "V", "the rated voltage the leads are joined for"),
    Quantity(
        "full_load_current_a",
        "Iₙ",
        "A",
        "line current at full load, of the connected voltage",
    ),
    Quantity("frequency_hz", "f", "Hz", "supply frequency"),
    Quantity("power_w", "P", "W", "rated shaft power"),
    Quantity("speed_rpm", "n", "r/min", "rated speed"),
    Quantity("service_factor", "SF", "1", "overload the maker allows, times full load"),
    Quantity("winding_temperature_c", "t", "°C", "temperature of the winding when read"),
    Quantity("ambient_temperature_c", "tₐ", "°C", "temperature of the air round the motor"),
    Quantity("relative_humidity_percent", "RH", "%", "relative humidity of that air"),
    Quantity("test_voltage_v", "Uₜ", "V", "direct voltage of the insulation test"),
    Quantity("t_s", "t", "s", "time since the test voltage was applied"),
    Quantity("unbalance_percent", "u", "%", "100 x largest deviation from the mean / mean"),
    Quantity("spread_percent", "s", "%", "100 x (largest - smallest) / smallest"),
    Quantity("difference_ohm", "d", "Ω", "largest less smallest line reading"),
    Quantity("r_1min_mohm", "R₁", "MΩ", "insulation resistance after 1 minute, as read"),
    Quantity("r_1min_40c_mohm", "R₄₀", "MΩ", "the same corrected to 40 °C"),
    Quantity("correction_factor", "K", "1", "R₄₀ / R at the winding's temperature"),
    Quantity("minimum_mohm", "Rₘ", "MΩ", "least R₄₀ accepted"),
    Quantity("pi", "PI", "1", "polarization index: R at 10 min / R at 1 min"),
    Quantity("dar", "DAR", "1", "dielectric absorption ratio: R at 60 s / R at 30 s"),
    Quantity("discharge_s", "tₛ", "s", "least time shorted to frame after the test"),
    Quantity(
        "negative_sequence_percent",
        "VUF",
        "%",
        "negative over positive sequence voltage",
    ),
    Quantity("deviation_from_rated_percent", "ΔU", "%", "mean line voltage against the rated"),
    Quantity("derating", "k", "1", "fraction of rated power left at this voltage unbalance"),
    Quantity(
        "extra_temperature_rise_percent",
        "Δθ",
        "%",
        "added winding rise from voltage unbalance",
    ),
    Quantity("load_percent", "I/Iₙ", "%", "mean line current against full load"),
    Quantity("slope_decades_per_year", "b", "1/a", "trend of log10 R₄₀"),
    Quantity("sigma_decades", "σ", "1", "scatter of log10 R₄₀ round the fitted line"),
)
