"""The measurement science: readings, uncertainties, formulas, fits and pools, with no interface code.

Nothing in this package imports Django, reads files (``__main__`` excepted), asks the time or keeps global random state.

The way of a number from a reading to a finding:

1. `readings.parsing` makes of the text a value, its figures and perhaps its own ±; `readings.instruments` says what its instrument hides.
2. `pipeline.columns` averages each setting (`statistics.spread`: the ± that the class draws; `statistics.typical`: what judges)
   and makes of them a column: an `uncertainty.traced.Traced`, whose source is the act of measuring.
3. `formulas.evaluate` carries it through derived quantities by the chain rule, with its unit.
4. `pipeline.lines` and `pipeline.curves` fit points; parameters rest on the points, and so on their readings.
5. `pipeline.ingredients` takes means, read-offs, tangents, areas from them; nothing forgets what it rests on.
6. `pipeline.findings` evaluates the finding's formula twice: as it is said, and as verdicts take it, with degrees of freedom.
7. `statistics.comparison` sets it beside others: what both rest on is not counted twice, and Student's t judges.
8. `presentation` rounds it once, and writes it for people; `scripting` gives it out in full.
"""
