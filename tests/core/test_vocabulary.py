"""Every quantity once, and the unit in its name where it isn't the bare one."""

from grimcoil.core.vocabulary import QUANTITIES

SUFFIX = {
    "v": "V", "a": "A", "hz": "Hz", "w": "W", "rpm": "r/min", "c": "°C", "percent": "%", "s": "s", "ohm": "Ω",
    "mohm": "MΩ",
}  # fmt: skip


def test_names_and_symbols_are_unique():
    assert len({quantity.name for quantity in QUANTITIES}) == len(QUANTITIES)
    assert all(quantity.meaning and quantity.unit and quantity.symbol for quantity in QUANTITIES)


def test_a_names_suffix_is_its_unit():
    for quantity in QUANTITIES:
        suffix = quantity.name.rpartition("_")[2]
        if suffix in SUFFIX:
            assert quantity.unit == SUFFIX[suffix], quantity.name
