"""The uncertain number that knows its sources, and how sources combine. Imports units."""
