"""How Rainshade is set up past one machine: configuration by size, and the drill that proves it on loopback."""
