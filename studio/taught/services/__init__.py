"""Ask for what results teach."""
