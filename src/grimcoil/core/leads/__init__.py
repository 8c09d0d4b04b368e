"""Which unmarked lead is which: `layouts` (by ohms), `markings` (start, finish and phase), `coupling`, `ohms`,
`faults`, `next_reading`, and `identify`, which puts them together.
"""
