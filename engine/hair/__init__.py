"""Hair before colour: its canvas, its level and undertone, and how fibres reflect light."""
