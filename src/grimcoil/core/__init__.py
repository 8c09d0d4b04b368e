"""The trade: numbers in, frozen dataclasses out. No I/O, clock, randomness, logging, web or database.

Where to look: `amount` and `readings` (what a meter shows), `instruments`, `plate`, `resistance`,
`insulation`, `supply`, `current`, `trend`, `decision`, `procedure` (order of work), `criteria`
(limits as data), `findings` (what a reading shows), `assessment` (all tests of one job together).
"""
