"""The work round the bowl: measures, and later amounts, timing and the plan."""
