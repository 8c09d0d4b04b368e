"""Evidence to action: `rules` as data, `decide` the weighing, `schedule` the next date."""
