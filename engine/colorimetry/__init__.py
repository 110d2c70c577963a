"""Light and colour: the grid, lights, XYZ, L*a*b*, the screen, and differences."""
