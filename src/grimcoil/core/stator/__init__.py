"""One model of the stator: `coils` (half-coils and schemes), `schemes` (each as data), `network` (ohms), `letters`."""
