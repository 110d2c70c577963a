"""Learning, and what is set about it."""
