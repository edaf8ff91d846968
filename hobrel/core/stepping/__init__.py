"""Models computed step by step: state quantities with their rates, from start values on (decision 43).

`conditions` reads when a stage of a rate holds; `loops` makes one loop of arithmetic of all rates; `solving` walks along it, or lets
SciPy's adaptive solver do so; `system` puts a model of a lab book together, units checked; `shape` lets it be fitted as any other shape.
May import formulas, fitting and document; nothing of pipeline.
"""
