"""Readings as they were written down, and the instruments they were read from."""
