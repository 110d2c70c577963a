"""Instruments beside the chair: one interface each, with simulated stand-ins that ship with the application."""
