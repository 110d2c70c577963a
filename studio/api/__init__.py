"""What other programs read of a studio, by keys that its owner makes."""
