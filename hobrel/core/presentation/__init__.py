"""Numbers written for people: values, figures, cards, workings, results side by side, the trail, an analysis. Imports up to checks."""
