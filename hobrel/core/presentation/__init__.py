"""Numbers written for people: values, figures, cards, workings, the trail, and the whole analysis. Imports up to checks."""
