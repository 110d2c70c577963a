"""What is done with archives."""
