"""Verdicts measured by simulation: whether words are wrong as rarely as they seem."""
