"""A simulated panel, motor and meters: to practise on, and to test the whole against."""
