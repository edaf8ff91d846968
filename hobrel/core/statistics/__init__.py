"""Repeats and their spread, coverage, two values beside each other, groups, outliers, the pool of a class. Imports uncertainty."""
