"""How one quantity changes with another: slopes, rates, the steepest point, areas, stretches."""
