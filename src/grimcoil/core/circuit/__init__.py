"""From the starter to the motor box: `cable`, `contacts`, `fuses`, `coils` (and capacitor), `overload`."""
