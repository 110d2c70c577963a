"""What a studio's own results teach: records, the unknowns they bear on, and the fit that weighs them."""
