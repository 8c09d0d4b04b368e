"""Stand-ins for the outside: a motor that has a fault or none, and instruments on loopback that read it."""
