"""Order of work: `steps` as data, `entries` (what was kept), `gates` and `progress` (what is open), `record`
(entries to tests), `judging` (what the last reading does), `scale` (limits along the reading line).
"""
