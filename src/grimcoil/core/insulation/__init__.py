"""Insulation resistance: `correction` to 40 °C, `minimum`, `ratios` (PI, DAR), `hold` (discharge, voltage), `test`."""
