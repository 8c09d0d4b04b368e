"""Winding resistance: `balance` (figures and what the meter can show), `temperature`, `phases`, `patterns`, `test`."""
