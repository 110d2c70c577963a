"""Tubes read by photo, swatch and spectrum."""
