"""What to plot so that a relation becomes a line, and what gradient and intercept then stand for. Imports up to fitting."""
