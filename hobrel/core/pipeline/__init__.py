"""From a lab book to its numbers: columns, series, points, fits, ingredients, findings, the computation. Imports up to linearising."""
