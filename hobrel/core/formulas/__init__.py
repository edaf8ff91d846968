"""Formulas as in a textbook: read by our own grammar, computed over whole columns, typeset; never run as code."""
