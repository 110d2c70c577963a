"""Simulated salons: hair, dye and eyes that follow laws of their own, with secrets that the engine must find out."""
