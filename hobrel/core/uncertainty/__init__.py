"""Uncertainties: spreads of repeats, propagation through formulas, and the budget of what contributed."""
