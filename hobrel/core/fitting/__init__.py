"""Straight lines and what is left of the points when the line is taken away."""
