"""Side sheets: what belongs to the motor and isn't one of its main tests."""
