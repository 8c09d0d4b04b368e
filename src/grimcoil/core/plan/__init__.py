"""A job as data: `steps` the words, `recipes` and `parts` build a plan, `entries` what was kept, `safety` what it did
to the circuit, `gates` which slot is closed and why, `progress` what is next, `record` entries to tests, `live` what a
reading does while typed, `scale` the limits along the reading
line.
"""
