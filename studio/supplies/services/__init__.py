"""What comes in, is counted and goes."""
