"""Measuring on pictures and films: what was pointed at, in pixels, and the lengths, positions and angles that follow. See decision 50."""
