"""Drying a winding by low-voltage direct current: it is its own heater and its own thermometer."""
