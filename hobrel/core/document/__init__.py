"""The lab book as a document: what a bench has written and chosen, and the open file format. Imports up to readings."""
