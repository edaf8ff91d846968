"""Simulated apparatus: pure functions of a truth, of what has been done, and of time. See decision 49."""
