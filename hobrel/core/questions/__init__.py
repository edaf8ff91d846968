"""Asked of a lab book and changing nothing: the board, previews, what if, side by side, improvements. Imports up to presentation."""
