"""The parts a plan is made of, each a function of the brief: `safe`, `dead`, `holds`, `live`."""
