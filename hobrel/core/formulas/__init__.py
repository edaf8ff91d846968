"""Formulas: grammar, tree, evaluation with units and sources, typesetting, neighbours, the ways of carrying uncertainties.

Imports up to statistics.
"""
