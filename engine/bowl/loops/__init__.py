"""Loops over many bowls, compiled: what a search asks a hundred thousand times."""
