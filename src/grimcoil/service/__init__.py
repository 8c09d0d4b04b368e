"""Verbs: what web and command line share. Each owns its transaction."""
