"""Trend of insulation at 40 °C: `likelihood` (censored normal), `fit` (line, band, crossing), `steps`, `judge`."""
