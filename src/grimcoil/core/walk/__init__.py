"""From a symptom to the part and the cause of the cause."""
