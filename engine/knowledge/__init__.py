"""What is known beyond the shelf: how a studio's hair, dye and eyes differ from the engine's, and how surely."""
