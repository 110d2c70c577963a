"""The bowl: what is mixed, what it will look like, and which mix hits a target."""
