"""The work round the bowl: measures, developer, safety, lift and route; later amounts, timing and the plan."""
