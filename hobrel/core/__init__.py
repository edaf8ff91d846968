"""The measurement science: readings, uncertainties, formulas, fits and pools, with no interface code.

Nothing in this package imports Django, reads files (``__main__`` excepted), asks the time or keeps global random state.
"""
