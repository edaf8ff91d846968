"""Asked of a lab book and changing nothing: the board, previews, what if, improvements. Imports up to presentation."""
